import { describe, expect, it } from "vitest";
import type { Circuit } from "../circuit/types";
import { catalogue, edited, empty, end, put, row, wires } from "../testing/circuits";
import { blockWith, contactsLeft, spareParts } from "./commands";
import { applyEdit, EditRefused } from "./edits";

const at = (circuit: Circuit, device: string, part: string) =>
  circuit.sheets.flatMap((sheet) => sheet.symbols).find((s) => s.device === device && s.part === part);

/** Two contactors, coils side by side on one sheet, poles on the other, each coil fed by a button. */
const pair: Circuit = edited(
  empty,
  put("supply", "supply", 4, 2, "two"),
  put("contactor", "coil", 10, 20),
  put("contactor", "coil", 20, 20),
  { type: "placePart", device: "c-1", part: "poles", sheet: "two", at: { x: 4, y: 10 } },
  { type: "placePart", device: "c-2", part: "poles", sheet: "two", at: { x: 24, y: 10 } },
  put("button", "13-14", 10, 6),
  put("button", "13-14", 20, 6),
  put("motor", "motor", 4, 20, "two"),
  { type: "join", a: end("s-1:14"), b: end("c-1:A1") },
  { type: "join", a: end("s-2:14"), b: end("c-2:A1") },
);
const poles = (device: string) => ({ device, part: "poles" });

describe("feeding one part from another", () => {
  it("joins poles in their order, as many as both have", () => {
    const fed = edited(
      pair,
      { type: "feed", from: { device: "g-1", part: "supply" }, to: poles("c-1") },
      { type: "feed", from: poles("c-1"), to: { device: "m-1", part: "motor" } },
    );
    expect(wires(fed).slice(2)).toEqual([
      "g-1:L1 c-1:1",
      "g-1:L2 c-1:3",
      "g-1:L3 c-1:5",
      "c-1:2 m-1:U1",
      "c-1:4 m-1:V1",
      "c-1:6 m-1:W1",
    ]);
  });

  it("leaves what is joined already and refuses what has no poles to give", () => {
    const once = edited(pair, { type: "feed", from: poles("c-1"), to: { device: "m-1", part: "motor" } });
    expect(edited(once, { type: "feed", from: poles("c-1"), to: { device: "m-1", part: "motor" } })).toEqual(
      once,
    );
    expect(() =>
      applyEdit(pair, { type: "feed", from: { device: "m-1", part: "motor" }, to: poles("c-1") }, catalogue),
    ).toThrow(EditRefused);
  });
});

describe("exchanging phases", () => {
  it("puts the second beside the first, the outer two phases exchanged below", () => {
    const reversing = edited(pair, { type: "reverse", first: poles("c-1"), second: poles("c-2") });
    expect(wires(reversing).slice(2)).toEqual([
      "c-1:1 c-2:1",
      "c-1:3 c-2:3",
      "c-1:5 c-2:5",
      "c-1:2 c-2:6",
      "c-1:4 c-2:4",
      "c-1:6 c-2:2",
    ]);
  });

  it("takes straight wires below off first", () => {
    const straight = edited(pair, { type: "join", a: end("c-1:2"), b: end("c-2:2") });
    const reversing = edited(straight, { type: "reverse", first: poles("c-1"), second: poles("c-2") });
    expect(wires(reversing)).not.toContain("c-1:2 c-2:2");
  });
});

describe("interlocking two contactors", () => {
  const locked = edited(pair, { type: "interlock", first: "c-1", second: "c-2" });

  it("puts a normally closed contact of each between the coil of the other and what feeds it", () => {
    expect(wires(locked)).toEqual(["s-1:14 c-2:21", "s-2:14 c-1:21", "c-1:22 c-2:A1", "c-2:22 c-1:A1"]);
    expect(at(locked, "c-1", "21-22")).toMatchObject({ x: 20, y: 13 });
    expect(at(locked, "c-2", "21-22")).toMatchObject({ x: 10, y: 13 });
  });

  it("moves the coils on where there is no room before them", () => {
    const tight = edited(pair, {
      type: "move",
      sheet: "one",
      items: [
        { device: "s-1", part: "13-14" },
        { device: "s-2", part: "13-14" },
      ],
      by: { x: 0, y: 8 },
    });
    const done = edited(tight, { type: "interlock", first: "c-1", second: "c-2" });
    expect(at(done, "c-1", "coil")?.y).toBe(27);
    expect(at(done, "c-2", "21-22")?.y).toBe(20);
  });

  it("is refused a second time, and without a coil", () => {
    const again = { type: "interlock", first: "c-1", second: "c-2" } as const;
    expect(() => applyEdit(locked, again, catalogue)).toThrow("interlocked already");
    expect(() => applyEdit(pair, { ...again, second: "m-1" }, catalogue)).toThrow(EditRefused);
  });

  it("takes an add-on block when the contact is in use, and says when there is none", () => {
    const used = edited(pair, {
      type: "placePart",
      device: "c-1",
      part: "21-22",
      sheet: "one",
      at: { x: 40, y: 6 },
    });
    const done = edited(used, { type: "interlock", first: "c-1", second: "c-2" });
    expect(done.devices.find(({ id }) => id === "c-1")?.params["block"]).toBe("large");
    expect(at(done, "c-1", "61-62")).toBeDefined();
    const bare = edited(used, put("relay", "coil", 30, 20), {
      type: "placePart",
      device: "k-1",
      part: "21-22",
      sheet: "one",
      at: { x: 50, y: 6 },
    });
    expect(() => applyEdit(bare, { type: "interlock", first: "k-1", second: "c-2" }, catalogue)).toThrow(
      "K1 has no normally closed contact left",
    );
  });
});

describe("sealing a button", () => {
  it("puts a normally open contact of the contactor beside it, joined at both ends", () => {
    const sealed = edited(pair, {
      type: "sealIn",
      button: { device: "s-1", part: "13-14" },
      contactor: "c-1",
    });
    expect(wires(sealed).slice(2)).toEqual(["s-1:13 c-1:13", "s-1:14 c-1:14"]);
    // The other button stands ten to the right: the contact goes past it.
    expect(at(sealed, "c-1", "13-14")).toMatchObject({ x: 27, y: 6 });
  });

  it("puts it below the button on a ladder", () => {
    const ladder: Circuit = {
      ...empty,
      convention: "nema",
      sheets: [{ id: "rungs", title: "Rungs", kind: "control", convention: "nema", symbols: [], routes: {} }],
    };
    const sealed = edited(
      ladder,
      put("button", "13-14", 10, 6, "rungs"),
      put("contactor", "coil", 30, 6, "rungs"),
      { type: "sealIn", button: { device: "s-1", part: "13-14" }, contactor: "c-1" },
    );
    expect(at(sealed, "c-1", "13-14")).toMatchObject({ x: 10, y: 11 });
  });
});

describe("contacts that are left", () => {
  it("are those that neither stand on a sheet nor have a wire", () => {
    const device = pair.devices.find(({ id }) => id === "c-1");
    if (!device) throw new Error("no contactor");
    expect(spareParts(pair, device, catalogue).map(({ name }) => name)).toEqual(["13-14", "21-22"]);
    const wired = edited(pair, { type: "join", a: end("c-1:13"), b: end("s-1:13") });
    expect(spareParts(wired, device, catalogue).map(({ name }) => name)).toEqual(["21-22"]);
  });

  it("can be added by the smallest block that takes none away in use", () => {
    const device = pair.devices.find(({ id }) => id === "c-1");
    if (!device) throw new Error("no contactor");
    expect(blockWith(pair, device, false, catalogue)).toMatchObject({
      param: "block",
      value: "small",
    });
    expect(blockWith(pair, device, true, catalogue)).toMatchObject({
      param: "block",
      value: "large",
    });
    const lamp = row.devices.find(({ kind }) => kind === "lamp");
    if (!lamp) throw new Error("no lamp");
    expect(blockWith(row, lamp, false, catalogue)).toBeUndefined();
  });

  it("are found in a free changeover, closed at rest or open", () => {
    const changer = edited(empty, put("changer", "coil", 10, 20), put("button", "13-14", 10, 6));
    const [device] = changer.devices;
    if (!device) throw new Error("no relay");
    const left = (circuit: Circuit, closed: boolean): string[] =>
      contactsLeft(circuit, device, closed, catalogue).map(({ ends }) =>
        ends.map(({ terminal }) => terminal).join("-"),
      );
    expect([left(changer, true), left(changer, false)]).toEqual([["11-12"], ["11-14"]]);
    const sealed = edited(changer, {
      type: "sealIn",
      button: { device: "s-1", part: "13-14" },
      contactor: "x-1",
    });
    expect(wires(sealed)).toEqual(["s-1:13 x-1:11", "s-1:14 x-1:14"]);
    expect([left(sealed, true), left(sealed, false)]).toEqual([[], []]);
  });
});
