import type { Circuit, Conductor, Device, End } from "../circuit/types";

/** What is different between two versions of a circuit, in words, by what happened to it. */
export interface Difference {
  readonly added: readonly string[];
  readonly removed: readonly string[];
  readonly rewired: readonly string[];
  readonly changed: readonly string[];
}

/** From one version to another. Where parts stand on a sheet is no difference. */
export function compare(before: Circuit, after: Circuit): Difference {
  const [old, now] = [byId(before.devices), byId(after.devices)];
  const [oldWires, nowWires] = [byId(before.conductors), byId(after.conductors)];
  return {
    added: [
      ...after.devices.filter(({ id }) => !old.has(id)).map(({ label }) => label),
      ...after.conductors.filter(({ id }) => !oldWires.has(id)).map((wire) => `wire ${ends(wire, after)}`),
    ],
    removed: [
      ...before.devices.filter(({ id }) => !now.has(id)).map(({ label }) => label),
      ...before.conductors.filter(({ id }) => !nowWires.has(id)).map((wire) => `wire ${ends(wire, before)}`),
    ],
    rewired: after.conductors.flatMap((wire) => {
      const was = oldWires.get(wire.id);
      const [from, to] = [was && ends(was, before), ends(wire, after)];
      return from && from !== to ? [`${from}, now ${to}`] : [];
    }),
    changed: after.devices.flatMap((device) => {
      const was = old.get(device.id);
      return was ? changes(was, device) : [];
    }),
  };
}

export const isSame = ({ added, removed, rewired, changed }: Difference): boolean =>
  added.length + removed.length + rewired.length + changed.length === 0;

const byId = <T extends { id: string }>(items: readonly T[]): Map<string, T> =>
  new Map(items.map((item) => [item.id, item]));

function ends(wire: Conductor, circuit: Circuit): string {
  const name = ({ device, terminal }: End): string =>
    `${circuit.devices.find(({ id }) => id === device)?.label ?? "?"}:${terminal}`;
  return `${name(wire.a)} to ${name(wire.b)}`;
}

const MOUNTED = { door: "on the door", plate: "on the mounting plate", field: "outside the panel" } as const;

function changes(was: Device, now: Device): string[] {
  const found: string[] = [];
  if (was.label !== now.label) found.push(`${was.label} is called ${now.label}`);
  if (was.kind !== now.kind) found.push(`${now.label} is another kind of device`);
  if ((was.mounting ?? null) !== (now.mounting ?? null))
    found.push(`${now.label} sits ${now.mounting ? MOUNTED[now.mounting] : "where it usually does"}`);
  if (was.function !== now.function) found.push(`${now.label}: ${now.function || "no function given"}`);
  const names = new Set([...Object.keys(was.params), ...Object.keys(now.params)]);
  for (const name of names)
    if (was.params[name] !== now.params[name])
      found.push(
        `${now.label}: ${name} ${was.params[name] ?? "as delivered"}, now ${now.params[name] ?? "as delivered"}`,
      );
  return found;
}
