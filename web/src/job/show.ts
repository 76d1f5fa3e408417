import type { PartRef } from "../circuit/types";
import { type Circuit, type Placement, shownSheets } from "../circuit/types";
import { partKey, whereIs } from "../sheet/placed";
import { choosePart, goTo } from "../sheet/view";
import { useDocument } from "./document";

/** The first symbol of a device on the sheets that are shown. */
export const symbolOfDevice = (circuit: Circuit, device: string | null): Placement | undefined =>
  shownSheets(circuit)
    .flatMap(({ symbols }) => symbols)
    .find((symbol) => symbol.device === device);

/** Select a part, alone or besides others, and bring it into view, with the cursor on its middle. */
export function showPart(part: PartRef, add = false): void {
  const { circuit, catalogue } = useDocument.getState();
  const where = whereIs(circuit, catalogue, partKey(part));
  if (!where) return;
  choosePart(part, add);
  goTo(where.sheet, where.at);
}
