import type { Sheet } from "../../circuit/types";
import { lying } from "./lying";
import type { SymbolDrawing, SymbolSet } from "./shapes";

/** A file here that exports `symbols` is part of the set: nothing else has to be told of it. */
const files = import.meta.glob<{ symbols?: SymbolSet }>(["./*.ts", "!./*.test.ts", "!./index.ts"], {
  eager: true,
});
const drawn: SymbolSet = Object.assign({}, ...Object.values(files).map(({ symbols }) => symbols ?? {}));
const upright = (convention: Sheet["convention"]): Readonly<Record<string, SymbolDrawing>> =>
  Object.fromEntries(Object.entries(drawn).map(([name, symbol]) => [name, symbol[convention]]));

/** Every symbol that a part of the catalogue can name. */
export const SYMBOLS = upright("iec");
const UPRIGHT = { iec: SYMBOLS, nema: upright("nema") } as const;
/** As they stand in a rung. */
const LYING: typeof SYMBOLS = Object.fromEntries(
  Object.entries(UPRIGHT.nema).map(([name, drawing]) => [name, lying(drawing)]),
);

/** Does a sheet have rungs from left to right? Control sheets of the North American convention do. */
export const hasRungs = (sheet: Pick<Sheet, "convention" | "kind">): boolean =>
  sheet.convention === "nema" && sheet.kind === "control";

/** How a symbol is drawn on a sheet. */
export const symbolOn = (
  sheet: Pick<Sheet, "convention" | "kind">,
  symbol: string,
): SymbolDrawing | undefined => (hasRungs(sheet) ? LYING : UPRIGHT[sheet.convention])[symbol];

/** All sets of symbols, for those who look at every one of them. */
export const SETS = { iec: SYMBOLS, nema: UPRIGHT.nema, rung: LYING } as const;
