import { describe, expect, it } from "vitest";
import type { Circuit } from "../circuit/types";
import { catalogue, edited, put, relay } from "../testing/circuits";
import { layOut } from "./layout";
import { columnOf } from "./references";

/** What the lists of a sheet say. */
const listed = (circuit: Circuit, sheet = 0): string[][] =>
  (layOut(circuit, catalogue).pages[sheet]?.captions ?? [])
    .filter(({ kind }) => kind === "contacts")
    .map(({ key, text }) => [key, text]);

describe("cross-references", () => {
  it("number columns from the left edge of the sheet", () => {
    const frame = { left: -4, top: 0, right: 40, bottom: 40 };
    expect([-4, 5, 6, 16].map((x) => columnOf(frame, x))).toEqual([1, 1, 2, 3]);
  });

  it("list the contacts of a coil with sheet and column", () => {
    expect(listed(relay)).toEqual([
      ["contacts/k-1/coil/0", "13-14 /3"],
      ["contacts/k-1/coil/1", "21-22 Two/1"],
    ]);
    expect(listed(relay, 1)).toEqual([]);
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
    expect(listed(moved)[0]?.[1]).toBe("13-14 /4");
  });

  it("leave out the list where a part stands below the coil", () => {
    const crowded = edited(relay, put("lamp", "lamp", 10, 27));
    expect(listed(crowded)).toEqual([]);
  });
});
