import { type Catalogue, freeId } from "../circuit/catalogue";
import type { PartRef } from "../circuit/types";
import {
  type Circuit,
  type Conductor,
  type Device,
  endKey,
  type Placement,
  type Point,
  type Sheet,
  shownSheets,
} from "../circuit/types";
import { hasRungs } from "../sheet/symbols";
import { EditRefused, putOnSheet } from "./changes";
import { addSheet } from "./sheets";

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
  // Other potentials than those that were copied: they get numbers of their own.
  const { circuit: grown, ids } = take(circuit, clip, () => null, catalogue);
  return stand(grown, clip.symbols, ids, sheet, at, catalogue);
}

/**
 * A whole circuit beside what is drawn: on the sheets of its kinds, to the right of everything or, in a
 * ladder, below it. Its wires keep the numbers that are free.
 */
export function insert(circuit: Circuit, other: Circuit, catalogue: Catalogue): Circuit {
  const taken = new Set(circuit.conductors.map(({ number }) => number));
  const clip = { devices: other.devices, symbols: [], conductors: other.conductors };
  const { circuit: grown, ids } = take(
    circuit,
    clip,
    (number) => (taken.has(number) ? null : number),
    catalogue,
  );
  return shownSheets({ ...other, convention: circuit.convention }).reduce((now, from) => {
    const known = shownSheets(now).find(({ kind }) => kind === from.kind);
    const ready = known ? now : addSheet(now, from.kind);
    const goal = known ?? ready.sheets.at(-1);
    if (!goal) return now;
    return stand(ready, from.symbols, ids, goal.id, clearOf(goal, from), catalogue);
  }, grown);
}

/** How far the symbols of a sheet are moved to stand clear of those on another. */
function clearOf(goal: Sheet, from: Sheet): Point {
  if (goal.symbols.length === 0) return { x: 0, y: 0 };
  const most = (of: (symbol: Point) => number): number => Math.max(...goal.symbols.map(of));
  const least = (of: (symbol: Point) => number): number => Math.min(...from.symbols.map(of));
  return hasRungs(goal)
    ? { x: 0, y: most(({ y }) => y) + APART.rungs - least(({ y }) => y) }
    : { x: most(({ x }) => x) + APART.columns - least(({ x }) => x), y: 0 };
}

const APART = { rungs: 10, columns: 24 } as const;

/** The devices of a clip as new ones, and its wires between them. */
function take(
  circuit: Circuit,
  clip: Clip,
  numberOf: (number: string | null) => string | null,
  catalogue: Catalogue,
): { circuit: Circuit; ids: ReadonlyMap<string, string> } {
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
  const devices = [...circuit.devices, ...fresh.map((device) => renamed(device, labels, catalogue))];
  const taken = circuit.conductors.map(({ id }) => id);
  const there = (end: Conductor["a"]) => ({ ...end, device: ids.get(end.device) ?? end.device });
  const wires = clip.conductors.map((wire) => {
    const id = freeId(taken, "w");
    taken.push(id);
    return { ...wire, id, number: numberOf(wire.number), a: there(wire.a), b: there(wire.b) };
  });
  return { circuit: { ...circuit, devices, conductors: [...circuit.conductors, ...wires] }, ids };
}

/** Symbols of the new devices on a sheet. */
function stand(
  circuit: Circuit,
  symbols: readonly Placement[],
  ids: ReadonlyMap<string, string>,
  sheet: string,
  by: Point,
  catalogue: Catalogue,
): Circuit {
  return symbols.reduce(
    (now, { device, part, x, y }) =>
      putOnSheet(now, sheet, ids.get(device) ?? "", part, { x: by.x + x, y: by.y + y }, catalogue),
    circuit,
  );
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
