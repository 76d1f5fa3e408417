/**
 * Symbols are data: a few strokes in modules of the drawing grid, measured from the first terminal.
 * Forms follow IEC 60617; the strokes are ours.
 */
export type XY = readonly [number, number];

export type Shape =
  | { readonly kind: "line"; readonly points: readonly XY[]; readonly light?: true; readonly dashed?: true }
  | { readonly kind: "circle"; readonly at: XY; readonly r: number; readonly fills?: true }
  | { readonly kind: "arc"; readonly d: string }
  /** A moving contact: from its pivot to `rest`, or to `moved` once the device has operated it. */
  | {
      readonly kind: "blade";
      readonly pivot: XY;
      readonly rest: XY;
      readonly moved: XY;
      readonly branch: number;
      readonly nc: boolean;
      /** Where the pivot goes, of a bar that moves as a whole. */
      readonly lifts?: XY;
    }
  /** Drawn only while the branch conducts, never on paper. */
  | { readonly kind: "bridge"; readonly points: readonly XY[]; readonly branch: number }
  | { readonly kind: "text"; readonly at: XY; readonly text: string; readonly size: number };

export type Direction = "up" | "down" | "left" | "right";

export interface Anchor {
  readonly at: XY;
  /** Where a wire leaves the terminal. */
  readonly leaves: Direction;
  /** Where the terminal's marking stands. */
  readonly marking: XY;
  readonly align: "start" | "middle" | "end";
}

interface Place {
  readonly at: XY;
  readonly align: "start" | "middle" | "end";
}

export interface SymbolDrawing {
  /** In the order of the part's terminals. */
  readonly anchors: readonly Anchor[];
  /** What wires keep clear of: left, top, right, bottom. */
  readonly body: readonly [number, number, number, number];
  readonly shapes: readonly Shape[];
  /** Where the designation ends (right-aligned), begins or has its middle. */
  readonly label: Place;
  /** What stands for it in a list, where the symbol itself is too wide for that. */
  readonly icon?: { readonly body: SymbolDrawing["body"]; readonly shapes: readonly Shape[] };
}

/** A symbol in both conventions; where they do not differ it says so. */
export interface Drawn {
  readonly iec: SymbolDrawing;
  readonly nema: SymbolDrawing;
}
export type SymbolSet = Readonly<Record<string, Drawn>>;
export const alike = (drawing: SymbolDrawing): Drawn => ({ iec: drawing, nema: drawing });

export const line = (...points: XY[]): Shape => ({ kind: "line", points });
export const light = (...points: XY[]): Shape => ({ kind: "line", points, light: true });
export const link = (...points: XY[]): Shape => ({ kind: "line", points, light: true, dashed: true });

export const top = (x: number, y = 0): Anchor => ({
  at: [x, y],
  leaves: "up",
  marking: [x + 0.35, y + 0.75],
  align: "start",
});
export const bottom = (x: number, y: number): Anchor => ({
  at: [x, y],
  leaves: "down",
  marking: [x + 0.35, y - 0.15],
  align: "start",
});

/** Height of all upright two-terminal symbols. */
export const TALL = 4;
/** Distance of the poles of a multi-pole device. */
export const POLE = 4;

export const noBlade = (x: number, branch: number): Shape => ({
  kind: "blade",
  pivot: [x, 2.8],
  rest: [x - 1, 1.3],
  moved: [x, 1.2],
  branch,
  nc: false,
});

export const ncBlade = (x: number, branch: number): Shape => ({
  kind: "blade",
  pivot: [x, 2.8],
  rest: [x + 0.62, 1.05],
  moved: [x + 1.35, 1.5],
  branch,
  nc: true,
});

export const leads = (x: number): Shape[] => [line([x, 0], [x, 1.2]), line([x, 2.8], [x, TALL])];
export const ncTick = (x: number): Shape => line([x, 1.2], [x + 0.75, 1.2]);

/** Letters in a line of what a device does. */
export const LETTERS = 15;

/** Words in lines of about so many letters. */
export function wrapped(words: string, letters: number): string[] {
  const lines: string[] = [];
  // A figure stays with its unit.
  for (const word of words.replace(/(\d) (?=[A-Za-z]{1,3}\b)/g, "$1\u00a0").split(" ")) {
    const last = lines.at(-1);
    if (last !== undefined && last.length + word.length < letters)
      lines[lines.length - 1] = `${last} ${word}`;
    else lines.push(word);
  }
  return lines;
}
