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

  it("joins a row again where other branches leave it before and behind the contact", () => {
    // L1 - S1 - relay contact - H1, with a lamp of its own at each end of the relay contact.
    const busy = edited(
      row,
      { type: "deleteConductor", conductor: "w2" },
      put("relay", "coil", 40, 20),
      { type: "placePart", device: "k-1", part: "21-22", sheet: "one", at: { x: 10, y: 13 } },
      put("lamp", "lamp", 20, 18),
      put("lamp", "lamp", 30, 18),
      { type: "join", a: end("s-1:14"), b: end("k-1:21") },
      { type: "join", a: end("k-1:22"), b: end("h-1:X1") },
      { type: "join", a: end("s-1:14"), b: end("h-2:X1") },
      { type: "join", a: end("h-1:X1"), b: end("h-3:X1") },
    );
    const healed = edited(busy, { type: "deleteParts", parts: [{ device: "k-1", part: "21-22" }] });
    expect(wires(healed)).toContain("s-1:14 h-1:X1");
    // A button across the contact is another way: then nothing is joined.
    const across = edited(
      busy,
      put("button", "13-14", 50, 13),
      { type: "join", a: end("k-1:21"), b: end("s-2:13") },
      { type: "join", a: end("k-1:22"), b: end("s-2:14") },
    );
    const left = wires(edited(across, { type: "deleteParts", parts: [{ device: "k-1", part: "21-22" }] }));
    expect(left).not.toContain("s-1:14 h-1:X1");
    expect(left).toContain("s-1:14 s-2:13");
  });

  it("keeps a potential whole that ran on over a terminal of the device", () => {
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
