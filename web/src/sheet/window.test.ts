import { beforeEach, describe, expect, it } from "vitest";
import { goTo, resetView, useView } from "./view";
import { around, following, wheelFactor, zoomed } from "./window";

const whole = { x: 0, y: 0, width: 200, height: 100 };

describe("the window on the board", () => {
  it("shows less when the wheel turns away from oneself, more when it turns back, and never leaps", () => {
    expect(wheelFactor(-100)).toBeLessThan(1);
    expect(wheelFactor(100)).toBeGreaterThan(1);
    expect(wheelFactor(-100) * wheelFactor(100)).toBeCloseTo(1);
    expect([wheelFactor(-9e9), wheelFactor(9e9)]).toEqual([0.8, 1.25]);
  });

  it("keeps the place under the pointer where it is", () => {
    const near = zoomed(whole, { x: 150, y: 25 }, 0.5, whole);
    expect(near).toEqual({ x: 75, y: 12.5, width: 100, height: 50 });
    expect((150 - near.x) / near.width).toBeCloseTo(150 / 200);
    expect(zoomed(near, { x: 150, y: 25 }, 2, whole)).toEqual(whole);
    expect(zoomed(whole, { x: 0, y: 0 }, 100, whole).width).toBe(400);
    expect(zoomed(whole, { x: 0, y: 0 }, 1e-9, whole).width).toBe(14);
  });

  it("goes to a place and follows one", () => {
    expect(around(whole, { x: 30, y: 40 }, 60)).toEqual({ x: 0, y: 25, width: 60, height: 30 });
    expect(following(whole, { x: 30, y: 40 })).toBe(whole);
    expect(following(whole, { x: 300, y: 40 })).toEqual({ x: 200, y: -10, width: 200, height: 100 });
  });
});

describe("going to a part", () => {
  beforeEach(resetView);

  it("moves the cursor and asks the board to come along, each time anew", () => {
    goTo("control", { x: 3, y: 4 });
    expect(useView.getState().cursor).toEqual({ sheet: "control", at: { x: 3, y: 4 } });
    expect(useView.getState().goTo).toEqual({ sheet: "control", at: { x: 3, y: 4 }, count: 1 });
    goTo("control", { x: 3, y: 4 });
    expect(useView.getState().goTo?.count).toBe(2);
  });
});
