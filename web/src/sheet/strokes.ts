import { arcPoints } from "./arcs";
import type { PlacedPart } from "./placed";
import type { Shape, SymbolDrawing, XY } from "./symbols/shapes";

/** Sides of the polygon that stands for a circle. */
const SIDES = 16;
const known = new WeakMap<SymbolDrawing, XY[][]>();

/** The lines of a part on its sheet, contacts in both positions: what no word may cover. */
export function strokesOf({ drawing, placement: { x, y } }: PlacedPart): XY[][] {
  let strokes = known.get(drawing);
  if (!strokes) {
    strokes = [...drawing.shapes.flatMap(linesOf), ...drawing.anchors.map(({ at }) => dot(at))];
    known.set(drawing, strokes);
  }
  return strokes.map((line) => line.map(([px, py]): XY => [px + x, py + y]));
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
