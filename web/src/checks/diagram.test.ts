import { describe, expect, it } from "vitest";
import type { Diagram } from "../api/types";
import { BOX, picture } from "./diagram";

const state = (
  number: number,
  column: number,
  row: number,
  lines = ["K1 in"],
): Diagram["states"][number] => ({
  number,
  column,
  row,
  lines,
  active: number > 0,
  tripped: false,
  trap: false,
  moves: [],
  seen_us: 0,
});

const arrow = (of: number, to: number): Diagram["arrows"][number] => ({
  of,
  to,
  words: [`${of} to ${to}`],
  by_itself: false,
});

const made: Diagram = {
  states: [state(0, 0, 0, ["at rest"]), state(1, 1, 0), state(2, 1, 1, ["K2 in", "M1 turns", "H1 lit"])],
  arrows: [arrow(0, 1), arrow(1, 0), arrow(0, 2), arrow(1, 2), arrow(2, 1)],
  left_out: false,
  over: "",
};

describe("a state diagram", () => {
  const { boxes, arrows, width, height } = picture(made);

  it("has a box for each state, and none over another", () => {
    expect(boxes).toHaveLength(3);
    for (const [at, one] of boxes.entries())
      for (const other of boxes.slice(at + 1)) {
        const apart =
          one.x + BOX.width <= other.x ||
          other.x + BOX.width <= one.x ||
          one.y + one.height <= other.y ||
          other.y + other.height <= one.y;
        expect(apart).toBe(true);
      }
  });

  it("keeps everything within its edges", () => {
    for (const { x, y, height: tall } of boxes) {
      expect(x + BOX.width).toBeLessThan(width);
      expect(y + tall).toBeLessThan(height);
    }
  });

  it("leaves a box on the right for a later column, and below for an earlier one", () => {
    const [first] = boxes;
    const from = (index: number) =>
      (arrows[index]?.path ?? "")
        .match(/^M([\d.]+) ([\d.]+)/)
        ?.slice(1)
        .map(Number);
    expect(from(0)?.[0]).toBe((first?.x ?? 0) + BOX.width);
    const second = boxes[1];
    expect(from(1)?.[1]).toBe((second?.y ?? 0) + (second?.height ?? 0));
  });

  it("goes from one box of a column to the next, and not through it", () => {
    const [, upper, lower] = boxes;
    const down = arrows[3]?.path ?? "";
    expect(Number(down.split(" ").at(-1))).toBe(lower?.y);
    const up = arrows[4]?.path ?? "";
    expect(Number(up.match(/^M([\d.]+)/)?.[1])).toBe((upper?.x ?? 0) + BOX.width);
  });

  it("leaves out an arrow whose state is not there", () => {
    expect(picture({ ...made, arrows: [arrow(0, 9)] }).arrows).toEqual([]);
  });
});
