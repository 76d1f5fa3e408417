import type { Schemas } from "../../../api/types";
import type { BenchFault } from "../../../bench/faults";
import type { Catalogue } from "../../../circuit/catalogue";

export type SheetBody = Schemas["SheetBody"];

/** The faults of a sheet as the bench has them. */
export const faultsOf = ({ sheet, faults }: SheetBody): readonly BenchFault[] =>
  sheet.faults.map((fault, at) => ({ id: at + 1, fault, words: faults[at] ?? "", on: true }));

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
