import { describe, expect, it } from "vitest";
import type { Point } from "../circuit/types";
import { catalogue, edited, end, put, row } from "../testing/circuits";
import { hitOnPage, layOut } from "./layout";
import { type Box, bodyOf, frameOf, placedParts } from "./placed";
import { layWires, type Wish } from "./router";
import { drawNet } from "./wiring";

const FRAME: Box = { left: 0, top: 0, right: 40, bottom: 40 };

const wish = (id: string, net: number, from: [number, number], to: [number, number]): Wish => ({
  id,
  net,
  from: { x: from[0], y: from[1], leaves: "down" },
  to: { x: to[0], y: to[1], leaves: "up" },
});

const cells = (points: readonly Point[]): string[] => {
  const found: string[] = [];
  for (let at = 1; at < points.length; at += 1) {
    const [a, b] = [points[at - 1] as Point, points[at] as Point];
    expect(a.x === b.x || a.y === b.y).toBe(true);
    const steps = Math.max(Math.abs(a.x - b.x), Math.abs(a.y - b.y));
    for (let s = 0; s <= steps; s += 1)
      found.push(`${a.x + ((b.x - a.x) * s) / steps},${a.y + ((b.y - a.y) * s) / steps}`);
  }
  return found;
};

describe("laying wires", () => {
  it("goes straight where nothing is in the way", () => {
    const laid = layWires([wish("w", 0, [5, 5], [5, 20])], [], FRAME);
    expect(laid.get("w")).toEqual([
      { x: 5, y: 5 },
      { x: 5, y: 20 },
    ]);
  });

  it("goes around bodies", () => {
    const body = { left: 2, top: 8, right: 9, bottom: 12 };
    const way = layWires([wish("w", 0, [5, 5], [5, 20])], [body], FRAME).get("w") ?? [];
    for (const cell of cells(way)) {
      const [x = 0, y = 0] = cell.split(",").map(Number);
      expect(x >= body.left && x <= body.right && y >= body.top && y <= body.bottom).toBe(false);
    }
  });

  it("crosses another potential only straight and never runs along it", () => {
    const laid = layWires([wish("a", 0, [10, 2], [10, 30]), wish("b", 1, [4, 2], [20, 30])], [], FRAME);
    const shared = cells(laid.get("a") ?? []).filter((cell) => cells(laid.get("b") ?? []).includes(cell));
    expect(shared).toHaveLength(1);
  });

  it("shares the way with its own potential", () => {
    const laid = layWires([wish("a", 0, [10, 2], [10, 30]), wish("b", 0, [10, 2], [18, 30])], [], FRAME);
    const shared = cells(laid.get("b") ?? []).filter((cell) => cells(laid.get("a") ?? []).includes(cell));
    expect(shared.length).toBeGreaterThan(1);
  });

  it("draws a straight line rather than nothing where there is no way", () => {
    const wall = { left: 0, top: 10, right: 40, bottom: 11 };
    const laid = layWires([wish("w", 0, [5, 5], [5, 20])], [wall], FRAME);
    expect(laid.get("w")).toHaveLength(2);
  });
});

describe("potentials on the sheet", () => {
  it("sets a dot where three stretches meet and nowhere else", () => {
    const drawn = drawNet([
      [
        { x: 0, y: 0 },
        { x: 0, y: 6 },
      ],
      [
        { x: 0, y: 3 },
        { x: 4, y: 3 },
        { x: 4, y: 6 },
      ],
    ]);
    expect(drawn.dots).toEqual([{ x: 0, y: 3 }]);
  });

  it("draws a stretch that two wires share once", () => {
    const shared: Point[] = [
      { x: 0, y: 0 },
      { x: 0, y: 6 },
    ];
    expect(drawNet([shared, shared]).path).toBe("M0 0L0 6");
  });
});

describe("the layout of a circuit", () => {
  const layout = layOut(row, catalogue);
  const page = layout.pages[0];
  if (!page) throw new Error("no page");

  it("keeps every wire on the sheet and off the symbols", () => {
    const parts = placedParts(row, page.sheet, catalogue);
    const frame = frameOf(parts, page.sheet);
    for (const run of page.wiring.runs)
      for (const cell of cells(run.points).slice(1, -1)) {
        const [x = 0, y = 0] = cell.split(",").map(Number);
        expect(x).toBeGreaterThanOrEqual(frame.left - 2);
        expect(y).toBeLessThanOrEqual(frame.bottom + 2);
        const inside = parts.some((part) => {
          const box = bodyOf(part);
          return x > box.left && x < box.right && y > box.top && y < box.bottom;
        });
        expect(inside).toBe(false);
      }
  });

  it("tells terminal, part, wire and paper apart", () => {
    expect(hitOnPage(page, { x: 10.3, y: 8.2 }).kind).toBe("terminal");
    expect(hitOnPage(page, { x: 9.5, y: 10 }).kind).toBe("part");
    expect(hitOnPage(page, { x: 10.2, y: 15 }).kind).toBe("wire");
    expect(hitOnPage(page, { x: 1, y: 30 }).kind).toBe("paper");
  });

  it("flags a wire that goes on to another sheet on both", () => {
    const across = edited(row, put("lamp", "lamp", 8, 8, "two"), {
      type: "join",
      a: end("s-1:14"),
      b: end("h-2:X1"),
    });
    const [one, two] = layOut(across, catalogue).pages;
    expect(one?.wiring.flags.map((flag) => [flag.at.end.terminal, flag.toSheet])).toEqual([["14", "Two"]]);
    expect(two?.wiring.flags.map((flag) => [flag.at.end.terminal, flag.toSheet])).toEqual([["X1", "One"]]);
  });

  it("lays a hundred parts in good time", () => {
    let big = row;
    for (let at = 0; at < 50; at += 1)
      big = edited(
        big,
        put("button", "13-14", 20 + (at % 10) * 9, 8 + Math.floor(at / 10) * 16),
        put("lamp", "lamp", 20 + (at % 10) * 9, 15 + Math.floor(at / 10) * 16),
        { type: "join", a: end(`s-${at + 2}:14`), b: end(`h-${at + 2}:X1`) },
      );
    const start = performance.now();
    layOut(big, catalogue);
    expect(performance.now() - start).toBeLessThan(2000);
  });
});

describe("the layout after an edit", () => {
  const before = layOut(row, catalogue);
  const items = [{ device: "h-1", part: "lamp" }];
  const after = layOut(
    edited(row, { type: "move", sheet: "one", items, by: { x: 6, y: 0 } }),
    catalogue,
    before,
  );
  const way = (layout: typeof before, id: string) =>
    layout.pages[0]?.wiring.runs.find(({ conductor }) => conductor.id === id)?.points;

  it("leaves wires, parts and terminals that the edit does not touch as they are, the same objects", () => {
    expect(way(after, "w1")).toBe(way(before, "w1"));
    expect(way(after, "w2")).not.toEqual(way(before, "w2"));
    const part = (layout: typeof before, key: string) => layout.pages[0]?.parts.find((p) => p.key === key);
    expect(part(after, "s-1/13-14")).toBe(part(before, "s-1/13-14"));
    expect(part(after, "h-1/lamp")).not.toBe(part(before, "h-1/lamp"));
    expect(after.pages[0]?.terminals.get("s-1:13")).toBe(before.pages[0]?.terminals.get("s-1:13"));
  });

  it("leads a wire round a part that was put in its way", () => {
    const crowded = edited(
      row,
      { type: "move", sheet: "one", items, by: { x: 0, y: 12 } },
      put("lamp", "lamp", 10, 18),
    );
    const laid = layOut(crowded, catalogue, layOut(row, catalogue));
    const body = laid.pages[0]?.parts.find(({ key }) => key === "h-2/lamp");
    if (!body) throw new Error("no lamp");
    const box = bodyOf(body);
    const inside = (way(laid, "w2") ?? []).some(
      ({ x, y }) => x > box.left && x < box.right && y > box.top && y < box.bottom,
    );
    expect(inside).toBe(false);
    expect(way(laid, "w2")?.length).toBeGreaterThan(2);
  });

  it("never lets two potentials share a way that one potential had", () => {
    const joined = edited(row, {
      type: "join",
      a: { device: "s-1", terminal: "13" },
      b: { device: "h-1", terminal: "X1" },
    });
    const first = layOut(joined, catalogue);
    const cut = edited(joined, { type: "deleteConductor", conductor: "w2" });
    for (const layout of [first, layOut(cut, catalogue, first)]) {
      const owner = new Map<string, unknown>();
      for (const { points, net } of layout.pages[0]?.wiring.runs ?? [])
        for (const [at, { x, y }] of points.entries()) {
          if (at === 0 || at === points.length - 1) continue;
          expect(owner.get(`${x},${y}`) ?? net).toBe(net);
          owner.set(`${x},${y}`, net);
        }
    }
  });
});
