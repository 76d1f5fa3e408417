import { type Catalogue, freeId } from "./catalogue";
import { EditRefused, type PartRef, putOnSheet } from "./changes";
import {
  type Circuit,
  type Conductor,
  type Device,
  endKey,
  type Placement,
  type Point,
  type Sheet,
} from "./types";

/** Parts that were copied, with the wires between them; places count from the upper left one. */
export interface Clip {
  readonly devices: readonly Device[];
  readonly symbols: readonly Placement[];
  readonly conductors: readonly Conductor[];
}

/** What stands on a sheet of these parts, to be pasted elsewhere. */
export function copyParts(
  circuit: Circuit,
  sheet: Sheet,
  parts: readonly PartRef[],
  catalogue: Catalogue,
): Clip {
  const symbols = sheet.symbols.filter((symbol) =>
    parts.some(({ device, part }) => symbol.device === device && symbol.part === part),
  );
  const [left, top] = [Math.min(...symbols.map(({ x }) => x)), Math.min(...symbols.map(({ y }) => y))];
  const devices = circuit.devices.filter(({ id }) => symbols.some(({ device }) => device === id));
  const ends = new Set(
    symbols.flatMap(({ device, part }) => {
      const found = devices.find(({ id }) => id === device);
      const terminals = found ? (catalogue.part(found, part)?.terminals ?? []) : [];
      return terminals.map((terminal) => endKey({ device, terminal }));
    }),
  );
  return {
    devices,
    symbols: symbols.map((symbol) => ({ ...symbol, x: symbol.x - left, y: symbol.y - top })),
    conductors: circuit.conductors.filter(({ a, b }) => ends.has(endKey(a)) && ends.has(endKey(b))),
  };
}

/** New devices like those of the clip, with free designations, wired among each other as they were. */
export function paste(circuit: Circuit, clip: Clip, sheet: string, at: Point, catalogue: Catalogue): Circuit {
  if (clip.devices.length === 0) throw new EditRefused("Nothing was copied yet.");
  const unknown = clip.devices.find(({ kind }) => !catalogue.kind(kind));
  if (unknown) throw new EditRefused(`The catalogue has no ${unknown.kind}.`);
  const ids = new Map<string, string>();
  const labels = new Map<string, string>();
  const fresh: Device[] = [];
  for (const device of clip.devices) {
    const all = [...circuit.devices, ...fresh];
    const id = freeId(
      all.map((known) => known.id),
      `${device.id.replace(/\d+$/, "").slice(0, 40)}`,
    );
    const label = freeLike(
      device.label,
      all.map((known) => known.label),
    );
    ids.set(device.id, id);
    labels.set(device.label, label);
    fresh.push({ ...device, id, label });
  }
  const grown = {
    ...circuit,
    devices: [...circuit.devices, ...fresh.map((d) => renamed(d, labels, catalogue))],
  };
  const placed = clip.symbols.reduce(
    (now, { device, part, x, y }) =>
      putOnSheet(now, sheet, ids.get(device) ?? "", part, { x: at.x + x, y: at.y + y }, catalogue),
    grown,
  );
  return { ...placed, conductors: [...placed.conductors, ...wiresOf(placed, clip, ids)] };
}

function wiresOf(circuit: Circuit, clip: Clip, ids: ReadonlyMap<string, string>): Conductor[] {
  const taken = circuit.conductors.map(({ id }) => id);
  return clip.conductors.map((wire) => {
    const id = freeId(taken, "w");
    taken.push(id);
    const there = (end: Conductor["a"]) => ({ ...end, device: ids.get(end.device) ?? end.device });
    // Another potential than the one that was copied: it gets a number of its own.
    return { ...wire, id, number: null, a: there(wire.a), b: there(wire.b) };
  });
}

/** What names another device of the clip names its copy. */
function renamed(device: Device, labels: ReadonlyMap<string, string>, catalogue: Catalogue): Device {
  const naming = (catalogue.kind(device.kind)?.params ?? []).filter((param) => param.designation);
  const named = naming.flatMap((param) => {
    const label = labels.get(String(device.params[param.name] ?? param.default));
    return label === undefined ? [] : [[param.name, label] as const];
  });
  return named.length ? { ...device, params: { ...device.params, ...Object.fromEntries(named) } } : device;
}

/** The next free designation with the same letters: K1, K2 ... */
function freeLike(label: string, taken: readonly string[]): string {
  if (!taken.includes(label)) return label;
  const stem = label.replace(/\d+$/, "");
  for (let number = 1; ; number += 1) {
    const next = `${stem}${number}`.slice(-24);
    if (!taken.includes(next)) return next;
  }
}
