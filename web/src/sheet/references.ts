import { isCoil } from "../circuit/purpose";
import type { Sheet } from "../circuit/types";
import type { Caption, ContactList, Page } from "./page";
import { type Box, bodyOf, type PlacedPart } from "./placed";
import { hasRungs } from "./symbols";
import { LINE } from "./type";

/** Width of a column of the sheet, in modules; columns are numbered from the left edge. */
export const COLUMN = 10;

export interface References {
  /** Lists of contacts by sheet. */
  readonly lists: ReadonlyMap<string, readonly ContactList[]>;
  /** For each contact of a device with a coil where that coil stands, by the key of the part. */
  readonly coils: ReadonlyMap<string, string>;
}

/** A number at the edge of a sheet. */
export interface Mark {
  readonly number: number;
  readonly x: number;
  readonly y: number;
}

/** The lines of a ladder: every height at which something stands in a rung, from above. */
const linesOf = (parts: readonly PlacedPart[]): number[] =>
  [...new Set(parts.map((part) => part.placement.y))].sort((a, b) => a - b);

/** Columns of even width along the top; on a ladder a number for each line, along the left edge. */
export function scaleOf(sheet: Sheet, parts: readonly PlacedPart[], frame: Box): Mark[] {
  if (hasRungs(sheet))
    return linesOf(parts).map((y, index) => ({ number: index + 1, x: frame.left + 1.4, y: y + 0.35 }));
  return Array.from({ length: Math.floor((frame.right - frame.left) / COLUMN) }, (_, index) => ({
    number: index + 1,
    x: frame.left + (index + 0.5) * COLUMN,
    y: frame.top + 0.2,
  }));
}

type Drawn = Pick<Page, "sheet" | "parts" | "frame">;

export const columnOf = (frame: Box, x: number): number => Math.floor((x - frame.left) / COLUMN) + 1;

/** Where the coil of each contact is, and where the contacts of each coil are. */
export function crossReferences(pages: readonly Drawn[]): References {
  const all = pages.flatMap((page) => page.parts.map((part) => ({ page, part })));
  const place = (from: Drawn, { page, part }: { page: Drawn; part: PlacedPart }): string => {
    const column = hasRungs(page.sheet)
      ? linesOf(page.parts).indexOf(part.placement.y) + 1
      : columnOf(page.frame, part.placement.x);
    return page.sheet.id === from.sheet.id ? `/${column}` : `${page.sheet.title}/${column}`;
  };
  const lists = new Map<string, ContactList[]>();
  const coils = new Map<string, string>();
  for (const coil of all.filter(({ part }) => isCoil(part.part))) {
    const others = all.filter(({ part }) => part.device.id === coil.part.device.id && !isCoil(part.part));
    for (const other of others) coils.set(other.part.key, place(other.page, coil));
    const lines = others.map((other) => `${other.part.part.name} ${place(coil.page, other)}`);
    const list = (hasRungs(coil.page.sheet) ? behind : under)(coil.page, coil.part, lines);
    if (list) lists.set(coil.page.sheet.id, [...(lists.get(coil.page.sheet.id) ?? []), list]);
  }
  return { lists, coils };
}

/** A list under a coil, below the wire that leads away from it; none where another part stands. */
function under(page: Drawn, coil: PlacedPart, lines: readonly string[]): ContactList | undefined {
  if (lines.length === 0) return undefined;
  const { x, y } = coil.placement;
  const list = { key: coil.key, x: x - 1.3, y: y + 7.6, lines };
  const bottom = list.y + lines.length * LINE;
  const inTheWay = page.parts.some((other) => {
    const box = bodyOf(other);
    return (
      other.key !== coil.key &&
      box.left < x + 6 &&
      box.right > x - 2 &&
      box.top < bottom &&
      box.bottom > y + 4
    );
  });
  return inTheWay ? undefined : list;
}

/** A list behind a coil at the end of its rung, to the right of everything on the sheet. */
function behind(page: Drawn, coil: PlacedPart, lines: readonly string[]): ContactList | undefined {
  if (lines.length === 0) return undefined;
  const right = Math.max(...page.parts.map((part) => bodyOf(part).right));
  return { key: coil.key, x: right + 4, y: coil.placement.y + 0.35 - LINE * ((lines.length - 1) / 2), lines };
}

/** The numbers at the edge as captions that stand where they stand. */
export const scaleCaptions = (scale: readonly Mark[]): Caption[] =>
  scale.map(({ number, x, y }) => ({
    kind: "column",
    key: `column/${number}`,
    x,
    y,
    text: String(number),
    align: "middle",
  }));
