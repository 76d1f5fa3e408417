import { freeId } from "../circuit/catalogue";
import type { PartRef } from "../circuit/types";
import { type Circuit, type Sheet, shownSheets } from "../circuit/types";
import { EditRefused } from "./changes";

/** A further sheet, in the convention in which the circuit is shown. */
export function addSheet(circuit: Circuit, kind: Sheet["kind"]): Circuit {
  const word = kind === "power" ? "Power" : "Control";
  const count = shownSheets(circuit).filter((sheet) => sheet.kind === kind).length;
  const id = freeId(
    circuit.sheets.map((sheet) => sheet.id),
    `${kind}-`,
  );
  const title = count === 0 ? word : `${word} ${count + 1}`;
  const sheet: Sheet = { id, title, kind, convention: circuit.convention, symbols: [], routes: {} };
  return { ...circuit, sheets: [...circuit.sheets, sheet] };
}

export function renameSheet(circuit: Circuit, id: string, title: string): Circuit {
  const words = title.trim().slice(0, 200);
  if (words === "") throw new EditRefused("A sheet needs a title.");
  return changeSheet(circuit, id, (sheet) => ({ ...sheet, title: words }));
}

/** A sheet goes only when nothing stands on it. */
export function deleteSheet(circuit: Circuit, id: string): Circuit {
  const sheet = circuit.sheets.find((candidate) => candidate.id === id);
  if (sheet?.symbols.length)
    throw new EditRefused(
      `${sheet.symbols.length} parts stand on ${sheet.title}; move or delete them first.`,
    );
  if (shownSheets(circuit).length <= 1) throw new EditRefused("The last sheet stays.");
  return { ...circuit, sheets: circuit.sheets.filter((candidate) => candidate.id !== id) };
}

/** Move symbols to another sheet of the same convention, to the same place there. */
export function moveToSheet(circuit: Circuit, items: readonly PartRef[], id: string): Circuit {
  const goal = circuit.sheets.find((sheet) => sheet.id === id);
  if (!goal) throw new EditRefused("This sheet is no longer there.");
  const moving = (symbol: PartRef): boolean =>
    items.some(({ device, part }) => symbol.device === device && symbol.part === part);
  const come = circuit.sheets
    .filter((sheet) => sheet.convention === goal.convention && sheet.id !== id)
    .flatMap((sheet) => sheet.symbols.filter(moving));
  const sheets = circuit.sheets.map((sheet) => {
    if (sheet.id === id) return { ...sheet, symbols: [...sheet.symbols, ...come], routes: {} };
    if (sheet.convention !== goal.convention || !sheet.symbols.some(moving)) return sheet;
    return { ...sheet, symbols: sheet.symbols.filter((symbol) => !moving(symbol)), routes: {} };
  });
  return { ...circuit, sheets };
}

/** Wires whose way is chosen by hand; an empty way gives the choice back to the sheet. */
export function pull(circuit: Circuit, id: string, routes: Sheet["routes"]): Circuit {
  const wires = new Set(circuit.conductors.map((conductor) => conductor.id));
  return changeSheet(circuit, id, (sheet) => ({
    ...sheet,
    routes: Object.fromEntries(
      Object.entries({ ...sheet.routes, ...routes }).filter(
        ([wire, points]) => points.length > 1 && wires.has(wire),
      ),
    ),
  }));
}

function changeSheet(circuit: Circuit, id: string, change: (sheet: Sheet) => Sheet): Circuit {
  if (!circuit.sheets.some((sheet) => sheet.id === id))
    throw new EditRefused("This sheet is no longer there.");
  return { ...circuit, sheets: circuit.sheets.map((sheet) => (sheet.id === id ? change(sheet) : sheet)) };
}
