import type { Point, Sheet } from "../circuit/types";
import type { Box, PlacedPart, PlacedTerminal } from "./placed";
import type { Align } from "./spots";
import type { Run, Wiring } from "./wiring";

/** What a caption says. Names, markings and flags always stand; the others give way where there is no place. */
export type CaptionKind =
  | "designation"
  | "number"
  | "marking"
  | "reference"
  | "flag"
  | "function"
  | "contacts"
  | "column";

/** Words on a sheet, with the place where their line begins, ends or has its middle. */
export interface Caption {
  readonly kind: CaptionKind;
  readonly key: string;
  readonly x: number;
  readonly y: number;
  readonly align: Align;
  readonly text: string;
}

/** The contacts of a coil, listed under it. */
export interface ContactList {
  readonly key: string;
  readonly x: number;
  readonly y: number;
  readonly lines: readonly string[];
}

/** A sheet as it is drawn: what stands on it, how it is wired, and where it lies on the board. */
export interface Page {
  readonly sheet: Sheet;
  readonly parts: readonly PlacedPart[];
  readonly terminals: ReadonlyMap<string, PlacedTerminal>;
  readonly wiring: Wiring;
  readonly frame: Box;
  readonly captions: readonly Caption[];
  /** What to add to a place on the sheet to get its place on the board. */
  readonly shift: Point;
}

export interface Layout {
  readonly pages: readonly Page[];
  readonly width: number;
  readonly height: number;
  /** Where the coil of each contact stands, by the key of the contact's part. */
  readonly coils: ReadonlyMap<string, string>;
}

/** What lies under a place on a sheet. */
export type Hit = { readonly page: Page; readonly at: Point } & (
  | { readonly kind: "terminal"; readonly terminal: PlacedTerminal }
  | { readonly kind: "part"; readonly part: PlacedPart }
  | { readonly kind: "wire"; readonly run: Run }
  | { readonly kind: "paper" }
);
