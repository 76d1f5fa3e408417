import { describe, expect, it } from "vitest";
import { edited, end, put, row } from "../testing/circuits";
import { findNets, netsByEnd } from "./nets";

describe("potentials", () => {
  it("join the terminals that conductors join, and are numbered in order", () => {
    const nets = findNets(row);
    expect(nets.map((net) => net.number)).toEqual(["1", "2", "3"]);
    expect(netsByEnd(nets).get("h-1:X1")?.ends).toEqual([end("s-1:14"), end("h-1:X1")]);
  });

  it("keep a number of their own, and the others go around it", () => {
    const numbered = edited(row, { type: "setConductor", conductor: "w2", values: { number: "1" } });
    expect(findNets(numbered).map((net) => net.number)).toEqual(["2", "1", "3"]);
  });

  it("become one when a wire joins them", () => {
    const joined = edited(row, put("lamp", "lamp", 20, 8), {
      type: "join",
      a: end("s-1:13"),
      b: end("s-1:14"),
    });
    expect(findNets(joined)).toHaveLength(2);
  });
});
