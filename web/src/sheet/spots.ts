import type { Point } from "../circuit/types";
import type { FlagLine } from "./flags";
import { bodyOf, type PlacedPart } from "./placed";
import type { Anchor } from "./symbols/shapes";
import { LINE } from "./type";

export type Align = "start" | "middle" | "end";

/** A place for words: where their line begins, ends or has its middle. */
export interface Spot extends Point {
  readonly align: Align;
}

/** From the line of a name up to that of small words above it. */
const NAME = 1.7;

const at = (x: number, y: number, align: Align): Spot => ({ x, y, align });

/** Places for a terminal's marking, in the order in which they are liked. */
export function* markingSpots(
  { at: [ax, ay], leaves, marking, align }: Anchor,
  { x, y }: Point,
): Iterable<Spot> {
  yield at(x + marking[0], y + marking[1], align);
  const [tx, ty] = [x + ax, y + ay];
  if (leaves === "up" || leaves === "down") {
    const [inward, outward] = leaves === "up" ? [1.3, -0.35] : [-0.35, 1.3];
    for (const [away, dy] of [
      [0.42, inward],
      [0.84, inward],
      [0.42, outward],
    ] as const) {
      yield at(tx + away, ty + dy, "start");
      yield at(tx - away, ty + dy, "end");
    }
  } else {
    const [out, into]: [Align, Align] = leaves === "left" ? ["end", "start"] : ["start", "end"];
    const side = leaves === "left" ? -1 : 1;
    for (const [away, way] of [
      [side * 0.2, out],
      [side * -0.2, into],
    ] as const)
      for (const dy of [-0.4, 1.35]) yield at(tx + away, ty + dy, way);
    yield at(tx, ty - 0.55, "middle");
  }
  for (const spot of RING) yield at(tx + spot.x, ty + spot.y, spot.align);
}

/** Places around a point, the nearer ones first. */
const RING: readonly Spot[] = [0.42, 0.85, 1.3, 1.8, 2.4]
  .flatMap((dx) =>
    [0.5, -0.35, 1.35, -1.2, 2.2, -2, 3, -2.8].flatMap((dy) => [at(dx, dy, "start"), at(-dx, dy, "end")]),
  )
  .sort((a, b) => Math.hypot(a.x, a.y - 0.45) - Math.hypot(b.x, b.y - 0.45));

const ASIDE = [0, -1.2, 1.2, -0.6, 0.6, -1.8, 1.8, -2.4, 2.4];
/** Where nothing nearer is free; there a name may come as near to another part. */
const FAR_ASIDE = [-3.6, 3.6];

/** Places for the name of a part: where its symbol has it, nearby, on the other side, above and below. */
export function* designationSpots(part: PlacedPart): Iterable<Spot> {
  const { drawing, placement } = part;
  const { left, top, right, bottom } = bodyOf(part);
  const [x, y] = [placement.x + drawing.label.at[0], placement.y + drawing.label.at[1]];
  const middle = (left + right) / 2;
  if (drawing.label.align === "middle") {
    for (const dy of [0, -0.7, -1.4, -2.8]) yield at(x, y + dy, "middle");
    for (const dx of [-1.5, 1.5, -3, 3]) yield at(x + dx, y, "middle");
    for (const dy of [1.5, 2.4]) yield at(x, bottom + dy, "middle");
    return;
  }
  const columns = [
    [x, drawing.label.align],
    [x + 0.2, drawing.label.align],
    [right + 0.6, "start"],
    [left - 0.6, "end"],
    [left - 2.2, "end"],
  ] as const;
  for (const aside of [ASIDE, FAR_ASIDE])
    for (const [column, way] of columns) for (const dy of aside) yield at(column, y + dy, way);
  yield at(middle, top - 0.5, "middle");
  yield at(middle, bottom + 1.5, "middle");
}

type Block = (x: number, y: number, align: Align) => Spot[];

/** Places for some lines of small words that belong to a name. */
export function* besideBelow(part: PlacedPart, name: Spot, lines: number): Iterable<Spot[]> {
  const { left, right, bottom, top } = bodyOf(part);
  const block: Block = (x, y, align) =>
    Array.from({ length: lines }, (_, line) => at(x, y + LINE * line, align));
  const above = name.y - NAME - LINE * (lines - 1);
  if (name.align === "middle") {
    for (const dx of [0, -1, 1, -2, 2]) yield block(name.x + dx, above, "middle");
    for (const dy of [1.4, 2.1]) yield block(name.x, bottom + dy, "middle");
    for (const dx of [-2, 2]) yield block(name.x + dx, bottom + 1.4, "middle");
    yield block(right + 0.5, name.y, "start");
  } else {
    yield block(name.x, name.y + LINE, name.align);
    yield block(name.x, above, name.align);
    yield block(left - 0.6, name.y + LINE, "end");
    for (const dy of [-0.7, 0.7, 1.4, 2.1, -1.4, -2.1]) yield block(name.x, name.y + LINE + dy, name.align);
    for (const dy of [0, 0.8, -0.8, 1.6, -1.6, 2.4, -2.4])
      yield block(right + 0.6, (top + bottom) / 2 + 0.5 + dy, "start");
    yield block(left, bottom + 1.4, "start");
    yield block(right, bottom + 1.4, "end");
  }
  yield* around(part, lines, block);
}

/** The last places to be tried, around the whole body of a part. */
function* around(part: PlacedPart, lines: number, block: Block): Iterable<Spot[]> {
  const { left, right, bottom, top } = bodyOf(part);
  for (const [x, align] of [
    [right + 0.5, "start"],
    [left - 0.5, "end"],
    [right + 1.5, "start"],
    [left - 1.5, "end"],
    [right + 2.5, "start"],
    [left - 2.5, "end"],
    [(left + right) / 2, "middle"],
  ] as const)
    for (let y = top - LINE * lines; y <= bottom + 2 * LINE; y += 0.8) yield block(x, y, align);
}

/** Places for some lines at the mark of a flag: where it points to, then to its sides. */
export function* flagSpots({ text, mark }: FlagLine, lines: number): Iterable<Spot[]> {
  const [tx, ty] = mark[1] ?? [text.x, text.y];
  const upward = text.step < 0;
  const block: Block = (x, y, align) =>
    Array.from({ length: lines }, (_, line) =>
      at(x, y - (upward ? LINE * (lines - 1 - line) : -LINE * line), align),
    );
  const middle = ty + 0.45 - (LINE * (lines - 1)) / 2;
  const level: Block = (x, dy, align) =>
    Array.from({ length: lines }, (_, line) => at(x, middle + dy + LINE * line, align));
  for (const dy of [0, 0.6, -0.6, 1.2, -1.2]) yield block(text.x, text.y + dy, text.align);
  for (const dy of [0, 0.8, -0.8, 1.6, -1.6]) {
    yield level(tx + 0.4, dy, "start");
    yield level(tx - 0.4, dy, "end");
  }
  for (const dx of [1, -1, 2, -2]) yield block(text.x + dx, text.y, text.align);
  for (const dx of [0, 1, -1, 2, -2]) {
    yield block(tx + dx, ty + 1.6, "middle");
    yield block(tx + dx, ty - 0.7 - LINE * (lines - 1), "middle");
  }
}

const ALONG = [0.5, 0.3, 0.7, 0.15, 0.85] as const;
/** A stretch that is shorter carries no number. */
const LEAST = 1;
/** So many stretches are tried. */
const MOST = 8;

/** Places for the number of a potential: beside its stretches, long and upright ones first. */
export function* numberSpots(lines: readonly (readonly Point[])[]): Iterable<Spot> {
  const stretches: { a: Point; b: Point; worth: number }[] = [];
  for (const points of lines)
    for (let index = 1; index < points.length; index += 1) {
      const [a, b] = [points[index - 1], points[index]];
      if (!a || !b || (a.x !== b.x && a.y !== b.y)) continue;
      const length = Math.abs(a.x - b.x) + Math.abs(a.y - b.y);
      if (length >= LEAST) stretches.push({ a, b, worth: a.x === b.x ? length + 2 : length });
    }
  stretches.sort((p, q) => q.worth - p.worth);
  for (const { a, b } of stretches.slice(0, MOST))
    for (const share of ALONG) {
      const [x, y] = [a.x + (b.x - a.x) * share, a.y + (b.y - a.y) * share];
      if (a.x === b.x) {
        yield at(x - 0.4, y + 0.45, "end");
        yield at(x + 0.4, y + 0.45, "start");
      } else {
        yield at(x, y - 0.4, "middle");
        yield at(x, y + 1.4, "middle");
      }
    }
}
