import { describe, expect, it } from "vitest";
import { edited, end, put, row, wires } from "../testing/circuits";

const without = (circuit: typeof row, device: string): string[] =>
  wires(edited(circuit, { type: "deleteDevice", device })).sort();

/** The row with a second button across the first. */
const parallel = edited(
  row,
  put("button", "13-14", 20, 8),
  { type: "join", a: end("s-1:13"), b: end("s-2:13") },
  { type: "join", a: end("s-1:14"), b: end("s-2:14") },
);

describe("what closes after a device is gone", () => {
  it("joins the row in which a contact stood, never across a load", () => {
    expect(without(row, "s-1")).toEqual(["g-1:L1 h-1:X1", "h-1:X2 g-1:N"]);
    expect(without(row, "h-1")).toEqual(["g-1:L1 s-1:13"]);
  });

  it("does not short a contact that lay across the one that is gone", () => {
    const left = without(parallel, "s-1");
    expect(left).not.toContain("s-2:13 s-2:14");
    expect(left).toEqual(["g-1:L1 s-2:13", "h-1:X1 s-2:14", "h-1:X2 g-1:N"]);
  });

  it("keeps a potential whole that ran on over a clamp of the device", () => {
    const chain = edited(
      row,
      put("lamp", "lamp", 20, 18),
      { type: "join", a: end("h-1:X2"), b: end("h-2:X2") },
      { type: "join", a: end("h-1:X1"), b: end("h-2:X1") },
    );
    expect(without(chain, "h-1")).toEqual(["g-1:L1 s-1:13", "g-1:N h-2:X2", "s-1:14 h-2:X1"]);
  });

  it("gives every new wire an id of its own", () => {
    const ids = edited(parallel, { type: "deleteDevice", device: "s-1" }).conductors.map(({ id }) => id);
    expect(new Set(ids).size).toBe(ids.length);
  });
});
