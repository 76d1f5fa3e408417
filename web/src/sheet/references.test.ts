import { describe, expect, it } from "vitest";
import { catalogue, edited, put, relay } from "../testing/circuits";
import { layOut } from "./layout";
import { columnOf, withLists } from "./references";

describe("cross-references", () => {
  it("number columns from the left edge of the sheet", () => {
    const frame = { left: -4, top: 0, right: 40, bottom: 40 };
    expect([-4, 5, 6, 16].map((x) => columnOf(frame, x))).toEqual([1, 1, 2, 3]);
  });

  it("list the contacts of a coil with sheet and column", () => {
    const { pages } = layOut(relay, catalogue);
    const [one, two] = pages;
    expect(one?.lists.map(({ key, lines }) => [key, lines])).toEqual([
      ["k-1/coil", ["13-14 /3", "21-22 Two/1"]],
    ]);
    expect(two?.lists).toEqual([]);
  });

  it("name the place of the coil at each contact", () => {
    const { coils } = layOut(relay, catalogue);
    expect(Object.fromEntries(coils)).toEqual({ "k-1/13-14": "/2", "k-1/21-22": "One/2" });
  });

  it("follow when a part is moved", () => {
    const moved = edited(relay, {
      type: "move",
      sheet: "one",
      items: [{ device: "k-1", part: "13-14" }],
      by: { x: 12, y: 0 },
    });
    expect(layOut(moved, catalogue).pages[0]?.lists[0]?.lines[0]).toBe("13-14 /4");
  });

  it("leave out the list where a part stands below the coil", () => {
    const crowded = edited(relay, put("lamp", "lamp", 10, 27));
    expect(layOut(crowded, catalogue).pages[0]?.lists).toEqual([]);
  });

  it("make room for the lists at the foot of the sheet", () => {
    const frame = { left: 0, top: 0, right: 40, bottom: 40 };
    const list = { key: "k", x: 0, y: 41, lines: ["13-14 /2", "poles Power/1"] };
    expect(withLists(frame, [list]).bottom).toBe(44);
    expect(withLists(frame, []).bottom).toBe(40);
  });
});
