import { describe, expect, it } from "vitest";
import { hasRungs, SETS, symbolOn } from ".";
import { type Shape, wrapped } from "./shapes";

const each = Object.entries(SETS).flatMap(([set, symbols]) =>
  Object.entries(symbols).map(([name, drawing]) => [`${set} ${name}`, drawing] as const),
);

const points = (shape: Shape): (readonly [number, number])[] => {
  switch (shape.kind) {
    case "line":
      return [...shape.points];
    case "circle":
      return [
        [shape.at[0] - shape.r, shape.at[1] - shape.r],
        [shape.at[0] + shape.r, shape.at[1] + shape.r],
      ];
    case "blade":
      return [shape.pivot, shape.rest, shape.moved];
    default:
      return [];
  }
};

describe.each(each)("the symbol %s", (_name, drawing) => {
  it("has its terminals on the grid, where wires can reach them", () => {
    for (const { at } of drawing.anchors) {
      expect(Number.isInteger(at[0])).toBe(true);
      expect(Number.isInteger(at[1])).toBe(true);
    }
    const places = drawing.anchors.map(({ at }) => at.join());
    expect(new Set(places).size).toBe(places.length);
  });

  it("leaves its body at every terminal", () => {
    const [left, top, right, bottom] = drawing.body;
    const steps = { up: [0, -1], down: [0, 1], left: [-1, 0], right: [1, 0] } as const;
    for (const { at, leaves } of drawing.anchors) {
      const [x, y] = [at[0] + steps[leaves][0], at[1] + steps[leaves][1]];
      expect(x >= left && x <= right && y >= top && y <= bottom).toBe(false);
    }
  });

  it("stays within its body, but for terminals and their leads", () => {
    const [left, top, right, bottom] = drawing.body;
    const xs = [left, right, ...drawing.anchors.map(({ at }) => at[0])];
    const ys = [top, bottom, ...drawing.anchors.map(({ at }) => at[1])];
    for (const [x, y] of drawing.shapes.flatMap(points)) {
      expect(x).toBeGreaterThanOrEqual(Math.min(...xs) - 0.5);
      expect(x).toBeLessThanOrEqual(Math.max(...xs) + 0.5);
      expect(y).toBeGreaterThanOrEqual(Math.min(...ys) - 0.01);
      expect(y).toBeLessThanOrEqual(Math.max(...ys) + 0.01);
    }
  });

  it("keeps its designation clear of its strokes", () => {
    const [left, top, right] = drawing.body;
    const { at, align } = drawing.label;
    const clear = align === "end" ? at[0] <= left : align === "start" ? at[0] >= right : at[1] < top;
    const inCorner = drawing.anchors.length > 3 && at[1] > 5;
    expect(clear || inCorner).toBe(true);
  });

  it("moves every blade somewhere else", () => {
    for (const shape of drawing.shapes)
      if (shape.kind === "blade") expect(shape.rest).not.toEqual(shape.moved);
  });
});

describe("the symbols of a convention", () => {
  const rung = { convention: "nema", kind: "control" } as const;

  it("lie in the rungs of a North American control sheet and stand everywhere else", () => {
    expect(hasRungs(rung)).toBe(true);
    expect(hasRungs({ convention: "nema", kind: "power" })).toBe(false);
    expect(hasRungs({ convention: "iec", kind: "control" })).toBe(false);
    expect(symbolOn(rung, "coil")?.anchors.map(({ at }) => at)).toEqual([
      [0, 0],
      [4, 0],
    ]);
    expect(symbolOn({ convention: "nema", kind: "power" }, "coil")?.anchors[1]?.at).toEqual([0, 4]);
  });

  it("have their terminals in the same places upright, so that a sheet can change its convention", () => {
    for (const [name, iec] of Object.entries(SETS.iec))
      expect(SETS.nema[name]?.anchors.map(({ at }) => at)).toEqual(iec.anchors.map(({ at }) => at));
  });

  it("mirror an arc with its sense", () => {
    const arcs = (name: string): string[] =>
      (symbolOn(rung, name)?.shapes ?? []).flatMap((shape) => (shape.kind === "arc" ? [shape.d] : []));
    expect(arcs("emergency_nc")).toEqual(["M 1.1 -1.7 A 0.95 0.95 0 0 1 2.9 -1.7 Z"]);
  });

  it("say what a device does in short lines, a figure with its unit", () => {
    expect(wrapped("Ridge vent 1.5 kW", 15)).toEqual(["Ridge vent", "1.5\u00a0kW"]);
    expect(wrapped("Contactor on a sensor of its own", 12)).toEqual([
      "Contactor on",
      "a sensor of",
      "its own",
    ]);
  });
});
