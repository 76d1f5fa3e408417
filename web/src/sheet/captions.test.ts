import { describe, expect, it } from "vitest";
import { catalogue, edited, put, relay, row } from "../testing/circuits";
import { arranged, LEGIBLE_PX, scaleIn } from "./arrange";
import { boxOf } from "./captions";
import { Ground, overlap } from "./ground";
import { layOut } from "./layout";
import { widthOf } from "./letters";
import { SMALL } from "./type";

describe("words on a sheet", () => {
  it("take the width of their letters", () => {
    expect(widthOf("W1", 1)).toBeCloseTo(0.88 + 0.35);
    expect(widthOf("ili", 2)).toBeCloseTo(2 * 0.76);
    // Another script is taken for wide.
    expect(widthOf("水", 1)).toBe(1);
  });

  it("never stand on each other, also where names are long", () => {
    const long = edited(row, { type: "rename", device: row.devices[1]?.id ?? "", label: "S1234567890" });
    for (const page of layOut(long, catalogue).pages) {
      const boxes = page.captions.map(boxOf);
      boxes.forEach((box, at) => {
        for (const other of boxes.slice(at + 1)) expect(overlap(box, other)).toBeLessThan(0.02);
      });
    }
  });

  it("stay where they are while what they belong to stays, and give way to what comes", () => {
    const first = layOut(relay, catalogue);
    const again = layOut({ ...relay }, catalogue, first);
    again.pages.forEach((page, at) => {
      const before = new Set(first.pages[at]?.captions);
      expect(page.captions.filter(({ kind }) => kind === "designation").every((one) => before.has(one))).toBe(
        true,
      );
    });
    const name = first.pages[0]?.captions.find(({ key }) => key.startsWith("designation/"));
    if (!name) throw new Error("no name");
    const box = boxOf(name);
    const lamp = put("lamp", "lamp", Math.round(box.left), Math.round(box.top) - 1);
    const crowded = layOut(edited(relay, lamp), catalogue, first);
    const boxes = crowded.pages[0]?.captions.map(boxOf) ?? [];
    boxes.forEach((one, index) => {
      for (const other of boxes.slice(index + 1)) expect(overlap(one, other)).toBeLessThan(0.02);
    });
  });

  it("lie within the frame of their sheet", () => {
    for (const { captions, frame } of layOut(relay, catalogue).pages)
      for (const caption of captions) {
        const box = boxOf(caption);
        expect(box.left).toBeGreaterThanOrEqual(frame.left);
        expect(box.right).toBeLessThanOrEqual(frame.right);
        expect(box.bottom).toBeLessThanOrEqual(frame.bottom);
      }
  });

  it("find where nothing is", () => {
    const ground = new Ground();
    ground.takeLine(
      [
        [0, 0],
        [10, 10],
      ],
      1,
    );
    const at = (x: number, y: number) => ground.cost({ left: x, right: x + 1, top: y, bottom: y + 1 });
    const free = (x: number, y: number) => ground.isFree({ left: x, right: x + 1, top: y, bottom: y + 1 });
    expect([free(4, 4), free(6, 3), free(9.5, 9.5), free(10.2, 10.2)]).toEqual([false, true, false, true]);
    expect(at(4, 4)).toBeGreaterThan(0);
    expect(at(6, 3)).toBe(0);
    ground.take({ left: 6, right: 7, top: 3, bottom: 4 }, 4);
    expect(at(6, 3)).toBeGreaterThan(at(4, 4));
  });
});

describe("sheets in view", () => {
  const layout = layOut(relay, catalogue);
  it("are all there when they can be read, side by side or one below the other", () => {
    const wide = arranged(layout, undefined, { width: 2000, height: 800 });
    expect(wide.pages.length).toBe(layout.pages.length);
    expect(new Set(wide.pages.map(({ frame, shift }) => shift.y + frame.top)).size).toBe(1);
    const tall = arranged(layout, undefined, { width: 700, height: 2000 });
    expect(tall.pages.length).toBe(layout.pages.length);
    expect(new Set(tall.pages.map(({ frame, shift }) => shift.x + frame.left)).size).toBe(1);
  });

  it("are one at a time where they could not be read together", () => {
    const room = { width: 320, height: 320 };
    const small = arranged(layout, undefined, room);
    expect(small.pages.length).toBe(1);
    expect(scaleIn(room, arranged(layout, "all", room)) * SMALL).toBeLessThan(LEGIBLE_PX);
    const second = layout.pages[1]?.sheet.id;
    expect(arranged(layout, second, room).pages.map(({ sheet }) => sheet.id)).toEqual([second]);
  });
});
