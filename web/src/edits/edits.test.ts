import { describe, expect, it } from "vitest";
import { findNets } from "../circuit/nets";
import { catalogue, edited, empty, end, put, row, wires } from "../testing/circuits";
import { applyEdit, type Edit, EditRefused } from "./edits";

const refused = (edit: Edit): string => {
  try {
    applyEdit(row, edit, catalogue);
  } catch (error) {
    expect(error).toBeInstanceOf(EditRefused);
    return (error as Error).message;
  }
  throw new Error("the edit was made");
};

describe("placing", () => {
  it("gives each device the next free designation of its kind", () => {
    const two = edited(
      empty,
      put("lamp", "lamp", 0, 0),
      put("lamp", "lamp", 8, 0),
      put("button", "13-14", 16, 0),
    );
    expect(two.devices.map((device) => device.label)).toEqual(["H1", "H2", "S1"]);
    expect(two.sheets[0]?.symbols).toHaveLength(3);
  });

  it("puts a part in series by splitting the wire, which keeps its number on the first side only", () => {
    const numbered = edited(row, { type: "setConductor", conductor: "w1", values: { number: "7" } });
    const split = edited(numbered, {
      type: "inSeries",
      kind: "button",
      part: "11-12",
      params: { contacts: "NC" },
      sheet: "one",
      at: { x: 10, y: 4 },
      conductor: "w1",
    });
    expect(wires(split)).toEqual(["g-1:L1 s-2:11", "s-2:12 s-1:13", "s-1:14 h-1:X1", "h-1:X2 g-1:N"]);
    const numbers = findNets(split).map((net) => net.number);
    expect(numbers[0]).toBe("7");
    expect(new Set(numbers).size).toBe(4);
  });

  it("takes the old number off everything beyond the split", () => {
    const branched = edited(
      row,
      put("lamp", "lamp", 20, 18),
      { type: "join", a: end("s-1:13"), b: end("h-2:X1") },
      { type: "setConductor", conductor: "w1", values: { number: "7" } },
      { type: "setConductor", conductor: "w4", values: { number: "7" } },
    );
    const split = edited(branched, {
      type: "inSeries",
      kind: "button",
      part: "13-14",
      sheet: "one",
      at: { x: 10, y: 4 },
      conductor: "w1",
    });
    expect(split.conductors.filter((conductor) => conductor.number === "7").map((c) => c.id)).toEqual(["w1"]);
  });

  it("puts a part in parallel by joining both ends to those of the other", () => {
    const sealed = edited(row, {
      type: "inParallel",
      kind: "button",
      part: "13-14",
      sheet: "one",
      at: { x: 18, y: 8 },
      to: [{ device: "s-1", part: "13-14" }],
    });
    expect(wires(sealed).slice(3)).toEqual(["s-1:13 s-2:13", "s-1:14 s-2:14"]);
  });

  it("refuses a second place for one part, and series for a part of five terminals", () => {
    expect(
      refused({ type: "placePart", device: "h-1", part: "lamp", sheet: "two", at: { x: 0, y: 0 } }),
    ).toMatch(/on a sheet already/);
    expect(
      refused({
        type: "inSeries",
        kind: "supply",
        part: "supply",
        sheet: "one",
        at: { x: 0, y: 0 },
        conductor: "w1",
      }),
    ).toMatch(/two terminals/);
  });
});

describe("wiring", () => {
  it("refuses a wire from a terminal to itself and a second one between the same two", () => {
    expect(refused({ type: "join", a: end("s-1:13"), b: end("s-1:13") })).toMatch(/two different/);
    expect(refused({ type: "join", a: end("s-1:13"), b: end("g-1:L1") })).toMatch(/joined already/);
  });

  it("deletes a device with its symbols, and joins the row in which its contact stood", () => {
    const less = edited(row, { type: "deleteDevice", device: "s-1" });
    expect(wires(less)).toEqual(["h-1:X2 g-1:N", "g-1:L1 h-1:X1"]);
    expect(less.sheets[0]?.symbols.map((symbol) => symbol.device)).toEqual(["g-1", "h-1"]);
    expect(less.sheets[1]).toBe(row.sheets[1]);
  });

  it("forgets the hand-laid way of a wire that is gone", () => {
    const laid = {
      ...row,
      sheets: row.sheets.map((s) => ({ ...s, routes: { w1: [[0, 0] as [number, number]] } })),
    };
    expect(edited(laid, { type: "deleteConductor", conductor: "w1" }).sheets[0]?.routes).toEqual({});
  });
});

describe("changing", () => {
  it("moves parts and leaves the circuit itself untouched", () => {
    const moved = edited(row, {
      type: "move",
      sheet: "one",
      items: [{ device: "h-1", part: "lamp" }],
      by: { x: 2, y: -1 },
    });
    expect(moved.sheets[0]?.symbols.at(-1)).toEqual({ device: "h-1", part: "lamp", x: 12, y: 17 });
    expect(moved.devices).toBe(row.devices);
    expect(moved.conductors).toBe(row.conductors);
  });

  it("renames, but neither to nonsense nor to a name that is taken", () => {
    expect(edited(row, { type: "rename", device: "s-1", label: "-S10" }).devices[1]?.label).toBe("-S10");
    expect(refused({ type: "rename", device: "s-1", label: "two words" })).toMatch(/without spaces/);
    expect(refused({ type: "rename", device: "s-1", label: "H1" })).toBe("There is a H1 already.");
  });

  it.each([0, 51, Number.NaN, "5", true])("refuses %s for a number from 1 to 50", (value) => {
    expect(refused({ type: "setParam", device: "s-1", name: "force_n", value })).toBe(
      "Force must lie from 1 to 50 N",
    );
  });

  it("takes contacts away only when no wire is left on them, and then with their symbols", () => {
    expect(refused({ type: "setParam", device: "s-1", name: "contacts", value: "NC" })).toMatch(
      /S1:13 still has a wire/,
    );
    const bare = edited(
      row,
      { type: "deleteConductor", conductor: "w1" },
      { type: "deleteConductor", conductor: "w2" },
    );
    const changed = edited(bare, { type: "setParam", device: "s-1", name: "contacts", value: "NC" });
    expect(changed.sheets[0]?.symbols.map((symbol) => symbol.device)).toEqual(["g-1", "h-1"]);
  });

  it("refuses a wire without a cross-section", () => {
    expect(refused({ type: "setConductor", conductor: "w1", values: { cross_section_mm2: 0 } })).toMatch(
      /0.05 to 1000/,
    );
    expect(refused({ type: "setConductor", conductor: "w1", values: { length_m: Number.NaN } })).toMatch(
      /0.001/,
    );
  });
});

describe("in parallel to a stretch", () => {
  const series = edited(row, {
    type: "inSeries",
    kind: "button",
    part: "11-12",
    sheet: "one",
    at: { x: 10, y: 13 },
    conductor: "w2",
    params: { contacts: "NC" },
  });
  const lamp = { kind: "lamp", part: "lamp", sheet: "one", at: { x: 30, y: 10 } };
  const upper = { device: "s-1", part: "13-14" };
  const lower = { device: "s-2", part: "11-12" };

  it.each([
    ["from above", [upper, lower]],
    ["from below", [lower, upper]],
  ])("joins the outer ends of parts chosen %s", (_, to) => {
    const done = edited(series, { type: "inParallel", ...lamp, to });
    expect(wires(done).slice(-2)).toEqual(["s-1:13 h-2:X1", "s-2:12 h-2:X2"]);
  });

  it("is refused where the parts are not one after the other", () => {
    const apart = [upper, { device: "h-1", part: "lamp" }];
    expect(() => applyEdit(series, { type: "inParallel", ...lamp, to: apart }, catalogue)).toThrow(
      "one after the other",
    );
  });
});
