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
export function markingSpots({ at: [ax, ay], leaves, marking, align }: Anchor, { x, y }: Point): Spot[] {
  const liked = at(x + marking[0], y + marking[1], align);
  const [tx, ty] = [x + ax, y + ay];
  const [right, left] = [0.42, -0.42];
  const inward = leaves === "up" ? 1.3 : -0.35;
  const outward = leaves === "up" ? -0.35 : 1.3;
  if (leaves === "up" || leaves === "down")
    return [
      liked,
      at(tx + right, ty + inward, "start"),
      at(tx + left, ty + inward, "end"),
      at(tx + 2 * right, ty + inward, "start"),
      at(tx + 2 * left, ty + inward, "end"),
      at(tx + right, ty + outward, "start"),
      at(tx + left, ty + outward, "end"),
      ...ring(tx, ty),
    ];
  const [out, into]: [Align, Align] = leaves === "left" ? ["end", "start"] : ["start", "end"];
  const side = leaves === "left" ? -1 : 1;
  return [
    liked,
    at(tx + side * 0.2, ty - 0.4, out),
    at(tx + side * 0.2, ty + 1.35, out),
    at(tx - side * 0.2, ty - 0.4, into),
    at(tx - side * 0.2, ty + 1.35, into),
    at(tx, ty - 0.55, "middle"),
    ...ring(tx, ty),
  ];
}

/** Places around a point, the nearer ones first. */
function ring(x: number, y: number): Spot[] {
  const spots = [0.42, 0.85, 1.3, 1.8, 2.4].flatMap((dx) =>
    [0.5, -0.35, 1.35, -1.2, 2.2, -2, 3, -2.8].flatMap((dy) => [
      at(x + dx, y + dy, "start"),
      at(x - dx, y + dy, "end"),
    ]),
  );
  const away = (spot: Spot): number => Math.hypot(spot.x - x, spot.y - 0.45 - y);
  return spots.sort((a, b) => away(a) - away(b));
}

const ASIDE = [0, -1.2, 1.2, -2.4, 2.4, -3.6, 3.6];

/** Places for the name of a part: where its symbol has it, nearby, on the other side, above and below. */
export function designationSpots(part: PlacedPart): Spot[] {
  const { drawing, placement } = part;
  const { left, top, right, bottom } = bodyOf(part);
  const [x, y] = [placement.x + drawing.label.at[0], placement.y + drawing.label.at[1]];
  const middle = (left + right) / 2;
  if (drawing.label.align === "middle")
    return [
      ...[0, -0.7, -1.4, -2.8].map((dy) => at(x, y + dy, "middle")),
      ...[-1.5, 1.5, -3, 3].map((dx) => at(x + dx, y, "middle")),
      at(x, bottom + 1.5, "middle"),
      at(x, bottom + 2.4, "middle"),
    ];
  return [
    ...ASIDE.map((dy) => at(x, y + dy, drawing.label.align)),
    ...ASIDE.map((dy) => at(x + 0.2, y + dy, drawing.label.align)),
    ...ASIDE.map((dy) => at(right + 0.6, y + dy, "start")),
    ...ASIDE.map((dy) => at(left - 0.6, y + dy, "end")),
    ...ASIDE.map((dy) => at(left - 2.2, y + dy, "end")),
    at(middle, top - 0.5, "middle"),
    at(middle, bottom + 1.5, "middle"),
  ];
}

/** Places for some lines of small words that belong to a name. */
export function besideBelow(part: PlacedPart, name: Spot, lines: number): Spot[][] {
  const { left, right, bottom, top } = bodyOf(part);
  const block = (x: number, y: number, align: Align): Spot[] =>
    Array.from({ length: lines }, (_, line) => at(x, y + LINE * line, align));
  const above = name.y - NAME - LINE * (lines - 1);
  if (name.align === "middle")
    return [
      block(name.x, above, "middle"),
      ...[-1, 1, -2, 2].map((dx) => block(name.x + dx, above, "middle")),
      block(name.x, bottom + 1.4, "middle"),
      block(name.x, bottom + 2.1, "middle"),
      ...[-2, 2].map((dx) => block(name.x + dx, bottom + 1.4, "middle")),
      block(right + 0.5, name.y, "start"),
      ...around(part, lines, block),
    ];
  return [
    block(name.x, name.y + LINE, name.align),
    block(name.x, above, name.align),
    block(left - 0.6, name.y + LINE, "end"),
    ...[-0.7, 0.7, 1.4, 2.1, -1.4, -2.1].map((dy) => block(name.x, name.y + LINE + dy, name.align)),
    ...[0, 0.8, -0.8, 1.6, -1.6, 2.4, -2.4].map((dy) =>
      block(right + 0.6, (top + bottom) / 2 + 0.5 + dy, "start"),
    ),
    block(left, bottom + 1.4, "start"),
    block(right, bottom + 1.4, "end"),
    ...around(part, lines, block),
  ];
}

/** The last places to be tried, around the whole body of a part. */
function around(
  part: PlacedPart,
  lines: number,
  block: (x: number, y: number, align: Align) => Spot[],
): Spot[][] {
  const { left, right, bottom, top } = bodyOf(part);
  const rows: number[] = [];
  for (let y = top - LINE * lines; y <= bottom + 2 * LINE; y += 0.8) rows.push(y);
  const sides = [0.5, 1.5, 2.5].flatMap((away): [number, Align][] => [
    [right + away, "start"],
    [left - away, "end"],
  ]);
  return [...sides, [(left + right) / 2, "middle"] as const].flatMap(([x, align]) =>
    rows.map((y) => block(x, y, align)),
  );
}

/** Places for some lines at the mark of a flag: where it points to, then to its sides. */
export function flagSpots({ text, mark }: FlagLine, lines: number): Spot[][] {
  const [tx, ty] = mark[1] ?? [text.x, text.y];
  const upward = text.step < 0;
  const block = (x: number, y: number, align: Align): Spot[] =>
    Array.from({ length: lines }, (_, line) =>
      at(x, y - (upward ? LINE * (lines - 1 - line) : -LINE * line), align),
    );
  const middle = ty + 0.45 - (LINE * (lines - 1)) / 2;
  const level = (x: number, dy: number, align: Align): Spot[] =>
    Array.from({ length: lines }, (_, line) => at(x, middle + dy + LINE * line, align));
  return [
    block(text.x, text.y, text.align),
    ...[0.6, -0.6, 1.2, -1.2].map((dy) => block(text.x, text.y + dy, text.align)),
    ...[0, 0.8, -0.8, 1.6, -1.6].flatMap((dy) => [level(tx + 0.4, dy, "start"), level(tx - 0.4, dy, "end")]),
    ...[1, -1, 2, -2].map((dx) => block(text.x + dx, text.y, text.align)),
    ...[0, 1, -1, 2, -2].flatMap((dx) => [
      block(tx + dx, ty + 1.6, "middle"),
      block(tx + dx, ty - 0.7 - LINE * (lines - 1), "middle"),
    ]),
  ];
}

const ALONG = [0.5, 0.3, 0.7, 0.15, 0.85] as const;
/** A stretch that is shorter carries no number. */
const LEAST = 1;

/** Places for the number of a potential: beside its stretches, long and upright ones first. */
export function numberSpots(lines: readonly (readonly Point[])[]): Spot[] {
  const stretches = lines.flatMap((points) =>
    points.slice(1).flatMap((b, index) => {
      const a = points[index];
      return a && (a.x === b.x || a.y === b.y)
        ? [{ a, b, length: Math.abs(a.x - b.x) + Math.abs(a.y - b.y) }]
        : [];
    }),
  );
  const worth = ({ a, b, length }: (typeof stretches)[number]): number => (a.x === b.x ? length + 2 : length);
  return stretches
    .filter(({ length }) => length >= LEAST)
    .sort((p, q) => worth(q) - worth(p))
    .slice(0, 8)
    .flatMap(({ a, b }) =>
      ALONG.flatMap((share): Spot[] => {
        const [x, y] = [a.x + (b.x - a.x) * share, a.y + (b.y - a.y) * share];
        return a.x === b.x
          ? [at(x - 0.4, y + 0.45, "end"), at(x + 0.4, y + 0.45, "start")]
          : [at(x, y - 0.4, "middle"), at(x, y + 1.4, "middle")];
      }),
    );
}
