import type { Anchor, Direction, Shape, SymbolDrawing, XY } from "./shapes";

const TURNED: Readonly<Record<Direction, Direction>> = {
  up: "left",
  left: "up",
  down: "right",
  right: "down",
};

const over = ([x, y]: XY): XY => [y, x];

/** A symbol laid over on its diagonal, as it stands in a rung: what was above is left, what was left is above. */
export function lying(drawing: SymbolDrawing): SymbolDrawing {
  const [left, top, right, bottom] = drawing.body;
  const middle = drawing.anchors.length > 2 ? (top + bottom) / 2 : 2;
  return {
    anchors: drawing.anchors.map(lyingAnchor),
    body: [top, left, bottom, right],
    shapes: drawing.shapes.map(lyingShape),
    label: { at: [middle, left - 0.45], align: "middle" },
  };
}

/** Markings stand outside, above the wires. */
function lyingAnchor(anchor: Anchor): Anchor {
  const at = over(anchor.at);
  const leaves = TURNED[anchor.leaves];
  const sideways = leaves === "left" || leaves === "right";
  const [x, y] = at;
  if (!sideways)
    return { at, leaves, marking: [x + 0.3, y + (leaves === "up" ? 0.9 : -0.2)], align: "start" };
  return leaves === "left"
    ? { at, leaves, marking: [x - 0.1, y - 0.35], align: "end" }
    : { at, leaves, marking: [x + 0.1, y - 0.35], align: "start" };
}

function lyingShape(shape: Shape): Shape {
  switch (shape.kind) {
    case "line":
    case "bridge":
      return { ...shape, points: shape.points.map(over) };
    case "circle":
    case "text":
      return { ...shape, at: over(shape.at) };
    case "blade":
      return {
        ...shape,
        pivot: over(shape.pivot),
        rest: over(shape.rest),
        moved: over(shape.moved),
        ...(shape.lifts ? { lifts: over(shape.lifts) } : {}),
      };
    case "arc":
      return { ...shape, d: lyingArc(shape.d) };
  }
}

/** A path of arcs and lines with its coordinates exchanged; a mirrored arc turns the other way round. */
function lyingArc(d: string): string {
  return d.replace(/([MLA])([^MLAZ]*)/g, (_, letter: string, words: string) => {
    const figures = words.trim().split(/[ ,]+/).map(Number);
    const turned: number[] = [];
    const size = letter === "A" ? 7 : 2;
    for (let at = 0; at + size <= figures.length; at += size) {
      const group = figures.slice(at, at + size);
      const [x = 0, y = 0] = group.slice(-2);
      const [rx = 0, ry = 0, , large = 0, sweep = 0] = group;
      turned.push(...(letter === "A" ? [ry, rx, 0, large, 1 - sweep] : []), y, x);
    }
    return `${letter} ${turned.join(" ")} `;
  });
}
