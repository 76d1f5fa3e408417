import type { Schemas } from "../circuit/types";
import { arcPoints } from "./arcs";
import { sizeOf } from "./captions";
import { flagLine } from "./flags";
import type { Layout, Page } from "./page";

import type { PlacedPart } from "./placed";
import type { Shape, XY } from "./symbols/shapes";
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
      ...page.parts.flatMap(partOf),
      ...page.captions.map((caption) =>
        text(caption.x, caption.y, caption.text, sizeOf(caption.kind), caption.align),
      ),
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
  return wiring.nets.flatMap(({ path, dots }) => [
    ...polylines(path).map((points) => line(points, "wires")),
    ...dots.map(({ x, y }) => circle(x, y, 0.3, "wires", "dot")),
  ]);
}

function flags({ wiring }: Page): Stroke[] {
  return wiring.flags.flatMap((flag) => {
    const { stub, mark, dot } = flagLine(flag, standsAlone(wiring, flag));
    return [
      line(stub, "wires"),
      line(mark, "wires"),
      ...(dot ? [circle(dot.x, dot.y, 0.3, "wires", "dot")] : []),
    ];
  });
}

function partOf({ drawing, placement }: PlacedPart): Stroke[] {
  const strokes = [
    ...drawing.shapes.flatMap(shapeOf),
    ...drawing.anchors.map(({ at }) => circle(at[0], at[1], 0.22, "symbols", "circle")),
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
