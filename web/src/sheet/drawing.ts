import type { Schemas } from "../circuit/types";
import { flagLine } from "./flags";
import type { Layout, Page } from "./layout";
import type { PlacedPart } from "./placed";
import { LINE } from "./references";
import { noteOf, type Shape, type XY } from "./symbols/shapes";
import { standsAlone } from "./wiring";

export type Stroke = Schemas["Stroke"];
export type DrawnPage = Schemas["DrawnPage"];

/** The sheets as plain lines, circles and texts, in modules from the upper left corner of each sheet. */
export function drawnPages(layout: Layout): DrawnPage[] {
  return layout.pages.map((page) => {
    const { left, top, right, bottom } = page.frame;
    const strokes = [
      ...wires(page),
      ...flags(page),
      ...page.parts.flatMap((part) => partOf(part, layout)),
      ...page.lists.flatMap((list) =>
        list.lines.map((words, index) => text(list.x, list.y + index * LINE, words, 0.92, "start")),
      ),
      ...page.scale.map(({ number, x, y }) => text(x, y, String(number), 0.92, "middle")),
    ];
    return {
      title: page.sheet.title,
      width: right - left,
      height: bottom - top,
      strokes: strokes.map((stroke) => moved(stroke, -left, -top)),
    };
  });
}

const line = (points: readonly XY[], layer: Stroke["layer"], dashed = false): Stroke => ({
  kind: "line",
  layer,
  points: points.map(([x, y]) => [x, y]),
  dashed,
  r: 0,
  text: "",
  size: 0,
  align: "start",
});

const circle = (x: number, y: number, r: number, layer: Stroke["layer"], kind: "circle" | "dot"): Stroke => ({
  ...line([[x, y]], layer),
  kind,
  r,
});

const text = (x: number, y: number, words: string, size: number, align: string): Stroke => ({
  ...line([[x, y]], "texts"),
  kind: "text",
  text: words.slice(0, 200),
  size,
  align: align as Stroke["align"],
});

const moved = (stroke: Stroke, dx: number, dy: number): Stroke => ({
  ...stroke,
  points: stroke.points.map(([x, y]): [number, number] => [x + dx, y + dy]),
});

function wires({ wiring }: Page): Stroke[] {
  return wiring.nets.flatMap(({ net, path, dots, number }) => [
    ...polylines(path).map((points) => line(points, "wires")),
    ...dots.map(({ x, y }) => circle(x, y, 0.3, "wires", "dot")),
    ...(number
      ? [
          number.upright
            ? text(number.x - 0.35, number.y + 0.3, net.number, 0.92, "end")
            : text(number.x, number.y - 0.35, net.number, 0.92, "middle"),
        ]
      : []),
  ]);
}

function flags({ wiring }: Page): Stroke[] {
  const stacked = new Map<string, number>();
  return wiring.flags.flatMap((flag) => {
    const { path, mark, dot, text: note } = flagLine(flag, standsAlone(wiring, flag));
    const at = `${note.x},${note.y}`;
    const index = stacked.get(at) ?? 0;
    stacked.set(at, index + 1);
    const told = `${flag.net.number} ${flag.note}`;
    return [
      ...[...polylines(path), ...polylines(mark)].map((points) => line(points, "wires")),
      ...(dot ? [circle(dot.x, dot.y, 0.3, "wires", "dot")] : []),
      text(note.x, note.y + index * note.step, told, 0.92, note.align),
    ];
  });
}

function partOf(part: PlacedPart, layout: Layout): Stroke[] {
  const { drawing, device, placement } = part;
  const [lx, ly] = drawing.label.at;
  const below = layout.coils.get(part.key) ?? device.function;
  const strokes = [
    ...drawing.shapes.flatMap(shapeOf),
    ...drawing.anchors.map(({ at }) => circle(at[0], at[1], 0.22, "symbols", "circle")),
    text(lx, ly, device.label, 1.3, drawing.label.align),
    ...(below ? noteOf(drawing, below).map((n) => text(n.at[0], n.at[1], n.text, 0.95, n.align)) : []),
    ...drawing.anchors.map((anchor, index) =>
      text(anchor.marking[0], anchor.marking[1], part.markings[index] ?? "", 0.92, anchor.align),
    ),
  ];
  return strokes.map((stroke) => moved(stroke, placement.x, placement.y));
}

/** A stroke of a symbol as on paper: its device at rest. */
function shapeOf(shape: Shape): Stroke[] {
  switch (shape.kind) {
    case "line":
      return [line(shape.points, "symbols", shape.dashed ?? false)];
    case "circle":
      return [circle(shape.at[0], shape.at[1], shape.r, "symbols", "circle")];
    case "arc":
      return [line(arcPoints(shape.d), "symbols")];
    case "blade":
      return [line([shape.pivot, shape.rest], "symbols")];
    case "bridge":
      return [];
    case "text":
      return [text(shape.at[0], shape.at[1] + shape.size * 0.36, shape.text, shape.size, "middle")];
  }
}

/** The chains of points of a path that is made of straight lines. */
export function polylines(path: string): XY[][] {
  return path
    .split("M")
    .filter(Boolean)
    .map((chain) => {
      const points: [number, number][] = [];
      for (const [, letter = "L", figures = ""] of `L${chain}`.matchAll(/([LHVZ])([^LHVZ]*)/g)) {
        const [a = 0, b = 0] = figures.trim().split(/[ ,]+/).map(Number);
        const [x, y] = points.at(-1) ?? [0, 0];
        if (letter === "Z") points.push(points[0] ?? [0, 0]);
        else points.push(letter === "H" ? [a, y] : letter === "V" ? [x, a] : [a, b]);
      }
      return points;
    });
}

const STEPS = 12;

/** Points along arcs of a circle that are written as a path, "M x y A r r 0 large sweep x y ...". */
export function arcPoints(d: string): XY[] {
  const [start = "", ...arcs] = d.replace(/^M/, "").split("A");
  const points: XY[] = [pair(start)];
  for (const arc of arcs) {
    const figures = arc.trim().split(/[ ,]+/).map(Number);
    const [r = 0, , , large = 0, sweep = 0, x = 0, y = 0] = figures;
    points.push(...alongArc(points.at(-1) ?? [0, 0], [x, y], r, large === sweep ? -1 : 1, sweep === 1));
  }
  return points;
}

const pair = (words: string): XY => {
  const [x = 0, y = 0] = words.trim().split(/[ ,]+/).map(Number);
  return [x, y];
};

/** From one point to another about the centre on the given side of the chord. */
function alongArc([ax, ay]: XY, [bx, by]: XY, radius: number, side: number, clockwise: boolean): XY[] {
  const [mx, my, chord] = [(ax + bx) / 2, (ay + by) / 2, Math.hypot(bx - ax, by - ay)];
  const r = Math.max(radius, chord / 2);
  const height = side * Math.sqrt(Math.max(0, r * r - (chord * chord) / 4));
  const [cx, cy] = [mx - (height * (by - ay)) / chord, my + (height * (bx - ax)) / chord];
  const from = Math.atan2(ay - cy, ax - cx);
  let turn = Math.atan2(by - cy, bx - cx) - from;
  if (clockwise && turn < 0) turn += 2 * Math.PI;
  if (!clockwise && turn > 0) turn -= 2 * Math.PI;
  return Array.from({ length: STEPS }, (_, step): XY => {
    const angle = from + (turn * (step + 1)) / STEPS;
    return [cx + r * Math.cos(angle), cy + r * Math.sin(angle)];
  });
}
