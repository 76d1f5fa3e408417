import type { Schemas } from "../../../api/types";
import type { BenchFault } from "../../../bench/faults";
import type { Catalogue } from "../../../circuit/catalogue";
import type { End } from "../../../circuit/types";

export type SheetBody = Schemas["SheetBody"];

/** The faults of a sheet as the bench has them. */
export const faultsOf = ({ sheet, faults }: SheetBody): readonly BenchFault[] =>
  sheet.faults.map((fault, at) => ({ id: at + 1, fault, words: faults[at] ?? "", on: true }));

/** The place at which it is written what one would measure next. */
export const NEXT = "NEXT";

/** Something that is asked about in a state. */
export interface Place {
  readonly place: string;
  readonly name: string;
  readonly where: string;
  /** What is written there. */
  readonly hint: string;
}

/** All that a sheet asks about in one of its states: meters, clamps, devices, and at the end what to measure next. */
export function placesOf(
  { sheet, circuit }: Pick<SheetBody, "sheet" | "circuit">,
  index: number,
  catalogue: Catalogue,
): readonly Place[] {
  const named = catalogue.designations(circuit);
  const wire = (id: string) => circuit.conductors.find((one) => one.id === id);
  const device = (id: string) => circuit.devices.find((one) => one.id === id);
  const across = (one: { a: End; b: End } | undefined): string =>
    one ? `${named(one.a)} to ${named(one.b)}` : "";
  const last = index === sheet.states.length - 1;
  return [
    ...sheet.meters.map(({ letter, red, black }) => ({
      ...{ place: letter, name: letter },
      ...{ where: across({ a: red, b: black }), hint: "volts" },
    })),
    ...sheet.clamps.map(({ letter, conductor }) => ({
      ...{ place: letter, name: letter },
      ...{ where: `current, ${across(wire(conductor))}`, hint: "amperes" },
    })),
    ...sheet.devices.map((id) => ({
      ...{ place: id, name: device(id)?.label ?? id },
      ...{ where: device(id)?.function ?? "", hint: "in, out" },
    })),
    ...(sheet.asks_next && last
      ? [{ place: NEXT, name: "Next", where: "What would you measure next, and why?", hint: "" }]
      : []),
  ];
}

/** What hands do between the state before and this one, in words. */
export function handsBefore(
  sheet: Pick<SheetBody, "sheet" | "circuit">,
  index: number,
  catalogue: Catalogue,
): string {
  const { hands, states } = sheet.sheet;
  const [from, to] = [states[index - 1]?.at_us ?? -1, states[index]?.at_us ?? 0];
  const words = hands
    .filter(({ at_us }) => at_us > from && at_us <= to)
    .map(({ device, operation, value }) => {
      const item = sheet.circuit.devices.find(({ id }) => id === device);
      const known = catalogue.kind(item?.kind ?? "")?.operations.find(({ name }) => name === operation);
      const done = known?.style === "pulse" ? "" : value ? (known?.style === "toggle" ? " on" : "") : " off";
      const let_go = known?.style === "momentary" && !value;
      return let_go
        ? `${item?.label} let go`
        : `${item?.label} ${(known?.title ?? operation).toLowerCase()}${done}`;
    });
  return words.length ? `Before: ${words.join(", ")}.` : "Nothing is touched before.";
}
