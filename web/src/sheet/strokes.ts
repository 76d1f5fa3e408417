import { arcPoints } from "./arcs";
import type { Shape, SymbolDrawing, XY } from "./symbols/shapes";

/** Sides of the polygon that stands for a circle. */
const SIDES = 16;
const known = new WeakMap<SymbolDrawing, XY[][]>();

/** The lines of a symbol, contacts in both positions: what no word may cover. */
export function strokesOf(drawing: SymbolDrawing): readonly XY[][] {
  const strokes = known.get(drawing) ?? [
    ...drawing.shapes.flatMap(linesOf),
    ...drawing.anchors.map(({ at }) => dot(at)),
  ];
  known.set(drawing, strokes);
  return strokes;
}

const dot = ([x, y]: XY): XY[] => [
  [x - 0.12, y],
  [x + 0.12, y],
];

function linesOf(shape: Shape): XY[][] {
  switch (shape.kind) {
    case "line":
    case "bridge":
      return [[...shape.points]];
    case "circle":
      return [circle(shape.at, shape.r)];
    case "arc":
      return [[...arcPoints(shape.d)]];
    case "blade":
      return [
        [shape.pivot, shape.rest],
        [shape.lifts ?? shape.pivot, shape.moved],
      ];
    case "text": {
      const half = shape.text.length * shape.size * 0.27;
      const rows = [-0.25, 0, 0.25].map((dy) => shape.at[1] + dy * shape.size);
      return rows.map((y): XY[] => [
        [shape.at[0] - half, y],
        [shape.at[0] + half, y],
      ]);
    }
  }
}

const circle = ([x, y]: XY, r: number): XY[] =>
  Array.from({ length: SIDES + 1 }, (_, side): XY => {
    const turn = (2 * Math.PI * side) / SIDES;
    return [x + r * Math.cos(turn), y + r * Math.sin(turn)];
  });
