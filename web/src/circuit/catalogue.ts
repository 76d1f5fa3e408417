import type { Circuit, Convention, Device, End, Kind, Part } from "./types";

/** The catalogue by kind, and what a device has once its parameters are settled. */
export class Catalogue {
  readonly kinds: readonly Kind[];
  private readonly byName: ReadonlyMap<string, Kind>;

  constructor(kinds: readonly Kind[]) {
    this.kinds = kinds;
    this.byName = new Map(kinds.map((kind) => [kind.name, kind]));
  }

  kind(name: string): Kind | undefined {
    return this.byName.get(name);
  }

  params(device: Device): Record<string, boolean | number | string> {
    const kind = this.kind(device.kind);
    const defaults = Object.fromEntries((kind?.params ?? []).map((param) => [param.name, param.default]));
    return { ...defaults, ...device.params };
  }

  /** How people call a choice of a parameter. */
  titleOf(kind: string, name: string, choice: boolean | number | string): string {
    const param = this.kind(kind)?.params.find((one) => one.name === name);
    return param?.titles[String(choice)] ?? String(choice);
  }

  /** Is it worked by a hand or by what happens at the machine, not by a current? */
  isCommand(device: Device): boolean {
    return ["hand", "handle", "process"].includes(this.kind(device.kind)?.actuator ?? "");
  }

  /** Where a device sits: on the door, on the mounting plate, or in the field. */
  mounting(device: Device): string {
    return device.mounting ?? this.kind(device.kind)?.mounting ?? "plate";
  }

  parts(device: Device): readonly Part[] {
    return this.existing(device, this.kind(device.kind)?.parts ?? []);
  }

  part(device: Device, name: string): Part | undefined {
    return this.parts(device).find((part) => part.name === name);
  }

  terminals(device: Device): readonly string[] {
    return this.existing(device, this.kind(device.kind)?.terminals ?? []).map((terminal) => terminal.name);
  }

  /** What is written at a terminal. */
  marking(device: Device, terminal: string, convention: Convention): string {
    if (convention === "iec") return terminal;
    return this.kind(device.kind)?.terminals.find(({ name }) => name === terminal)?.nema || terminal;
  }

  /** Terminals as people write them in the circuit's convention: K1:13, or M1:T1. */
  designations(circuit: Circuit): (end: End) => string {
    const devices = new Map(circuit.devices.map((device) => [device.id, device]));
    return (end) => {
      const device = devices.get(end.device);
      return `${device?.label ?? "?"}:${device ? this.marking(device, end.terminal, circuit.convention) : end.terminal}`;
    };
  }

  private existing<T extends { when: Kind["parts"][number]["when"] }>(device: Device, things: readonly T[]) {
    const params = this.params(device);
    return things.filter(({ when }) => {
      const value = when ? params[when.param] : undefined;
      return !when || (value !== undefined && when.values.includes(value));
    });
  }
}

/** The letter of a kind in the circuit's convention. */
export const letterOf = (circuit: Circuit, kind: Kind): string =>
  circuit.convention === "nema" ? kind.letter_nema : kind.letter;

/** A device as it would be delivered, to look at its parts. */
export const sample = (kind: string, params: Device["params"] = {}): Device => ({
  id: "",
  kind,
  label: "",
  function: "",
  mounting: null,
  params,
});

/** First free designation for a kind: K1, K2 ... */
export function freeLabel(circuit: Circuit, letter: string): string {
  const taken = new Set(circuit.devices.map((device) => device.label));
  for (let number = 1; ; number += 1) {
    if (!taken.has(`${letter}${number}`)) return `${letter}${number}`;
  }
}

/** First free identifier that begins with `stem`. */
export function freeId(taken: Iterable<string>, stem: string): string {
  const known = new Set(taken);
  for (let number = 1; ; number += 1) {
    if (!known.has(`${stem}${number}`)) return `${stem}${number}`;
  }
}
