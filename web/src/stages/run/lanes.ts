import type { Catalogue } from "../../circuit/catalogue";
import type { Circuit, Device, Frame } from "../../circuit/types";

/** One line of the time chart: a device that is on or off, or a quantity of it. */
export interface Lane {
  readonly key: string;
  readonly device: Device;
  /** The quantity, undefined for on and off. */
  readonly figure: { readonly title: string; readonly unit: string } | undefined;
}

const ORDER = ["command", "switching", "load", "signal"];

/** What is charted of a circuit: first what is on or off, then the quantities that devices tell of. */
export function lanesOf(circuit: Circuit, catalogue: Catalogue, frame: Frame | undefined): Lane[] {
  const group = (device: Device): number => ORDER.indexOf(catalogue.kind(device.kind)?.group ?? "");
  const devices = circuit.devices.filter((device) => group(device) >= 0).sort((p, q) => group(p) - group(q));
  const figures = circuit.devices.flatMap((device) =>
    (frame?.devices[device.id]?.figures ?? []).map(
      ({ title, unit }): Lane => ({ key: `${device.id}/${title}`, device, figure: { title, unit } }),
    ),
  );
  return [...devices.map((device): Lane => ({ key: device.id, device, figure: undefined })), ...figures];
}

/** What a lane is worth in a frame: 1 and 0 for on and off. */
export function worthOf(lane: Lane, frame: Frame): number {
  const seen = frame.devices[lane.device.id];
  if (!lane.figure) return seen?.active ? 1 : 0;
  return seen?.figures.find(({ title }) => title === lane.figure?.title)?.value ?? 0;
}

/** What a lane says at a moment, for a person. */
export function wordsOf(lane: Lane, frame: Frame): string {
  const seen = frame.devices[lane.device.id];
  if (!lane.figure) return seen?.says || (seen?.active ? "on" : "off");
  return `${Number(worthOf(lane, frame).toPrecision(4))} ${lane.figure.unit}`;
}

/** The window of time that the chart shows: so long, and up to the latest moment there was. */
export interface Span {
  readonly fromUs: number;
  readonly toUs: number;
}

/** Frames that hold at some moment of a window. */
export function framesIn(frames: readonly Frame[], { fromUs, toUs }: Span): readonly Frame[] {
  const first = Math.max(
    0,
    frames.findLastIndex((frame) => frame.time_us <= fromUs),
  );
  const beyond = frames.findIndex((frame) => frame.time_us > toUs);
  return frames.slice(first, beyond < 0 ? undefined : beyond);
}

/** The line of a lane over a window: steps, scaled to its largest value there; empty where nothing is known. */
export function lineOf(
  lane: Lane,
  frames: readonly Frame[],
  span: Span,
  width: number,
  height: number,
): string {
  const seen = framesIn(frames, span);
  const values = seen.map((frame) => worthOf(lane, frame));
  const most = lane.figure ? Math.max(1e-9, ...values.map(Math.abs)) : 1;
  const x = (timeUs: number): number =>
    (Math.max(0, timeUs - span.fromUs) / Math.max(1, span.toUs - span.fromUs)) * width;
  let path = "";
  let last: number | undefined;
  seen.forEach((frame, index) => {
    const value = values[index] ?? 0;
    if (value === last) return;
    const [at, y] = [x(frame.time_us).toFixed(1), (height - (Math.abs(value) / most) * height).toFixed(1)];
    path += last === undefined ? `M${at} ${y}` : `H${at}V${y}`;
    last = value;
  });
  return last === undefined ? "" : `${path}H${width}`;
}

/** The chart as a table: a row a frame, a column a lane. */
export function csvOf(lanes: readonly Lane[], frames: readonly Frame[]): string {
  const cell = (text: string): string => (/[",\n]/.test(text) ? `"${text.replaceAll('"', '""')}"` : text);
  const title = ({ device, figure }: Lane): string =>
    cell(figure ? `${device.label} ${figure.title} (${figure.unit})` : device.label);
  const rows = frames.map((frame) =>
    [(frame.time_us / 1e6).toFixed(6), ...lanes.map((lane) => String(worthOf(lane, frame)))].join(","),
  );
  return [["time (s)", ...lanes.map(title)].join(","), ...rows, ""].join("\n");
}
