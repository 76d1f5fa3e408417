import { describe, expect, it } from "vitest";
import { catalogue, empty, relay, row } from "../testing/circuits";
import { arcPoints } from "./arcs";
import { drawnPages, polylines } from "./drawing";
import { layOut } from "./layout";
import { miniatureOf } from "./miniature";

const drawn = (circuit: typeof row) => drawnPages(layOut(circuit, catalogue));

describe("a drawing as plain strokes", () => {
  it("has every designation, marking and wire number as text", () => {
    const texts =
      drawn(row)[0]
        ?.strokes.filter(({ kind }) => kind === "text")
        .map((s) => s.text) ?? [];
    expect(texts).toEqual(expect.arrayContaining(["G1", "S1", "H1", "13", "X2", "1", "2"]));
  });

  it("lies within its sheet, from the upper left corner", () => {
    for (const page of [...drawn(row), ...drawn(relay)])
      for (const { points } of page.strokes)
        for (const [x, y] of points) {
          expect(x).toBeGreaterThanOrEqual(-1);
          expect(y).toBeGreaterThanOrEqual(-1);
          expect(x).toBeLessThanOrEqual(page.width + 1);
          expect(y).toBeLessThanOrEqual(page.height + 1);
        }
  });

  it("draws wires at right angles on a layer of their own", () => {
    const wires =
      drawn(row)[0]?.strokes.filter(({ layer, kind }) => layer === "wires" && kind === "line") ?? [];
    expect(wires.length).toBeGreaterThanOrEqual(3);
  });

  it("has the list of contacts of a coil", () => {
    const texts = drawn(relay)[0]?.strokes.map((stroke) => stroke.text);
    expect(texts).toContain("21-22 Two/1");
  });
});

describe("paths as points", () => {
  it("follow lines to a place, across, up and down, and back to the start", () => {
    expect(polylines("M1 2L3 4H5V6Z")).toEqual([
      [
        [1, 2],
        [3, 4],
        [5, 4],
        [5, 6],
        [1, 2],
      ],
    ]);
    expect(polylines("M0 0L1 0M2 2L2 3")).toHaveLength(2);
  });

  it("keep to the radius of an arc, on the side to which it bends", () => {
    const up = arcPoints("M 0 0 A 1 1 0 0 1 2 0");
    expect(up.at(-1)?.[0]).toBeCloseTo(2, 9);
    expect(up.at(-1)?.[1]).toBeCloseTo(0, 9);
    for (const [x, y] of up) expect(Math.hypot(x - 1, y)).toBeCloseTo(1, 9);
    expect(Math.min(...up.map(([, y]) => y))).toBeCloseTo(-1, 9);
    const down = arcPoints("M 0 0 A 1 1 0 0 0 2 0");
    expect(Math.max(...down.map(([, y]) => y))).toBeCloseTo(1, 9);
  });

  it("bulge little where the radius is large, much where the large arc is asked for", () => {
    const flat = arcPoints("M 0 0 A 5 5 0 0 1 2 0");
    const round = arcPoints("M 0 0 A 5 5 0 1 1 2 0");
    expect(Math.min(...flat.map(([, y]) => y))).toBeCloseTo(Math.sqrt(24) - 5, 6);
    expect(Math.min(...round.map(([, y]) => y))).toBeCloseTo(-Math.sqrt(24) - 5, 6);
  });
});

describe("a miniature", () => {
  it("shows the lines of the control sheet and no words, close to its edges", () => {
    const { width, height, path } = miniatureOf(row, catalogue);
    const figures = [...path.matchAll(/[ML](-?[\d.]+) (-?[\d.]+)/g)].map(([, x, y]) => [
      Number(x),
      Number(y),
    ]);
    expect(figures.length).toBeGreaterThan(10);
    for (const [x, y] of figures) {
      expect(x).toBeGreaterThanOrEqual(0);
      expect(x).toBeLessThanOrEqual(width);
      expect(y).toBeGreaterThanOrEqual(0);
      expect(y).toBeLessThanOrEqual(height);
    }
    expect(Math.min(...figures.map(([x]) => x ?? 0))).toBeLessThan(4);
  });

  it("of an empty circuit is empty paper", () => {
    expect(miniatureOf(empty, catalogue).path).toBe("");
  });
});
