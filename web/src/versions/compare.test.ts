import { describe, expect, it } from "vitest";
import { edited, end, put, relay, row } from "../testing/circuits";
import { compare, isSame } from "./compare";

describe("comparing two versions", () => {
  it("finds nothing between a circuit and itself, nor when a part only moved", () => {
    const moved = edited(row, {
      type: "move",
      sheet: "one",
      items: [{ device: "h-1", part: "lamp" }],
      by: { x: 4, y: 0 },
    });
    expect(isSame(compare(row, row))).toBe(true);
    expect(isSame(compare(row, moved))).toBe(true);
  });

  it("tells devices and wires that came and went", () => {
    const more = edited(row, put("lamp", "lamp", 20, 18), {
      type: "join",
      a: end("h-2:X1"),
      b: end("s-1:14"),
    });
    expect(compare(row, more)).toEqual({
      added: ["H2", "wire H2:X1 to S1:14"],
      removed: [],
      rewired: [],
      changed: [],
    });
    expect(compare(more, row).removed).toEqual(["H2", "wire H2:X1 to S1:14"]);
  });

  it("tells a wire that goes elsewhere", () => {
    const conductors = row.conductors.map((wire, index) =>
      index === 1 ? { ...wire, b: end("g-1:N") } : wire,
    );
    expect(compare(row, { ...row, conductors }).rewired).toEqual(["S1:14 to H1:X1, now S1:14 to G1:N"]);
  });

  it("tells names, functions and values that changed", () => {
    const other = edited(
      row,
      { type: "rename", device: "s-1", label: "S7" },
      { type: "describe", device: "h-1", text: "Running" },
      { type: "setParam", device: "s-1", name: "force_n", value: 9 },
    );
    expect(compare(row, other).changed).toEqual([
      "S1 is called S7",
      "S7: force_n as delivered, now 9",
      "H1: Running",
    ]);
  });

  it("speaks of each circuit in its own designations", () => {
    expect(compare(row, relay).removed).toContain("wire S1:14 to H1:X1");
  });
});
