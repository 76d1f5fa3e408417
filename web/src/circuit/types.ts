import type { Circuit, End, Sheet } from "../api/types";

export type * from "../api/types";

/** A part of a device, wherever it stands. */
export interface PartRef {
  readonly device: string;
  readonly part: string;
}

/** A place on a sheet, in modules of the drawing grid. */
export interface Point {
  readonly x: number;
  readonly y: number;
  /** Never there: keeps places of a sheet, of the board and of the screen apart for the compiler. */
  readonly of?: "sheet";
}

/** The sheets of the convention in which the circuit is shown. */
export const shownSheets = (circuit: Circuit): readonly Sheet[] =>
  circuit.sheets.filter((sheet) => sheet.convention === circuit.convention);

export const endKey = (end: End): string => `${end.device}:${end.terminal}`;
export const sameEnd = (a: End, b: End): boolean => a.device === b.device && a.terminal === b.terminal;
