import { describe, expect, it } from "vitest";
import type { Circuit, Sheet } from "../circuit/types";
import { catalogue, edited, empty, end, put, relay, row, wires } from "../testing/circuits";
import { fits } from "./another";
import { copyParts } from "./clip";
import { applyEdit, EditRefused } from "./edits";
import { takesDevice } from "./remove";

const sheet = (circuit: Circuit, id: string): Sheet => {
  const found = circuit.sheets.find((candidate) => candidate.id === id);
  if (!found) throw new Error(`no sheet ${id}`);
  return found;
};
const labels = (circuit: Circuit): string[] => circuit.devices.map(({ label }) => label);
const refused = (circuit: Circuit, edit: Parameters<typeof applyEdit>[1]) => () =>
  applyEdit(circuit, edit, catalogue);

describe("copy and paste", () => {
  const both = [
    { device: "s-1", part: "13-14" },
    { device: "h-1", part: "lamp" },
  ];
  const clip = copyParts(row, sheet(row, "one"), both, catalogue);

  it("takes the parts with the wires between them, from their corner", () => {
    expect(clip.devices.map(({ label }) => label)).toEqual(["S1", "H1"]);
    expect(clip.symbols.map(({ x, y }) => [x, y])).toEqual([
      [0, 0],
      [0, 10],
    ]);
    expect(clip.conductors).toHaveLength(1);
  });

  it("makes new devices with free designations, wired among each other", () => {
    const pasted = edited(row, { type: "paste", clip, sheet: "two", at: { x: 5, y: 6 } });
    expect(labels(pasted)).toEqual(["G1", "S1", "H1", "S2", "H2"]);
    expect(wires(pasted).at(-1)).toBe("s-2:14 h-2:X1");
    expect(sheet(pasted, "two").symbols.map(({ x, y }) => [x, y])).toEqual([
      [5, 6],
      [5, 16],
    ]);
    expect(new Set(pasted.devices.map(({ id }) => id)).size).toBe(5);
  });

  it("lets the copy of a lock name the copy of its contactor", () => {
    const locked = edited(empty, put("contactor", "coil", 10, 10), put("lock", "lock", 20, 10));
    const all = sheet(locked, "one").symbols;
    const copied = copyParts(locked, sheet(locked, "one"), all, catalogue);
    const pasted = edited(locked, { type: "paste", clip: copied, sheet: "one", at: { x: 30, y: 10 } });
    expect(pasted.devices.at(-1)).toMatchObject({ label: "L2", params: { first: "C2" } });
  });

  it("is refused with nothing copied, and for what the catalogue does not know", () => {
    const none = { devices: [], symbols: [], conductors: [] };
    expect(refused(row, { type: "paste", clip: none, sheet: "one", at: { x: 0, y: 0 } })).toThrow(
      EditRefused,
    );
    const strange = { ...clip, devices: clip.devices.map((device) => ({ ...device, kind: "flux" })) };
    expect(refused(row, { type: "paste", clip: strange, sheet: "one", at: { x: 0, y: 0 } })).toThrow("flux");
  });
});

describe("putting a circuit beside another", () => {
  const numbered = edited(
    row,
    { type: "setConductor", conductor: "w1", values: { number: "L1" } },
    { type: "setConductor", conductor: "w2", values: { number: "7" } },
  );
  const both = edited(numbered, { type: "insert", circuit: row });

  it("makes new devices, wired as they were, to the right of everything", () => {
    expect(labels(both)).toEqual(["G1", "S1", "H1", "G2", "S2", "H2"]);
    expect(wires(both).slice(3)).toEqual(["g-2:L1 s-2:13", "s-2:14 h-2:X1", "h-2:X2 g-2:N"]);
    const symbols = sheet(both, "one").symbols;
    const [old, fresh] = [symbols.slice(0, 3), symbols.slice(3)];
    expect(Math.min(...fresh.map(({ x }) => x))).toBeGreaterThan(Math.max(...old.map(({ x }) => x)) + 20);
    expect(fresh.map(({ y }) => y)).toEqual(old.map(({ y }) => y));
  });

  it("keeps the numbers that are free", () => {
    const other = edited(row, { type: "setConductor", conductor: "w1", values: { number: "L1" } });
    const more = edited(other, { type: "setConductor", conductor: "w2", values: { number: "9" } });
    const done = edited(numbered, { type: "insert", circuit: more });
    expect(done.conductors.map(({ number }) => number)).toEqual(["L1", "7", null, null, "9", null]);
  });

  it("adds a sheet of a kind that is missing", () => {
    const bare = { ...numbered, sheets: numbered.sheets.filter(({ id }) => id === "two") };
    const done = edited(bare, { type: "insert", circuit: row });
    expect(done.sheets.map(({ title, symbols }) => [title, symbols.length])).toEqual([
      ["Two", 0],
      ["Control", 3],
    ]);
  });
});

describe("another kind behind a symbol", () => {
  it("takes over wires and places in the order of the terminals", () => {
    const closed = edited(row, {
      type: "changeKind",
      device: "s-1",
      kind: "button",
      params: { contacts: "NC" },
    });
    expect(wires(closed)).toContain("g-1:L1 s-1:11");
    expect(wires(closed)).toContain("s-1:12 h-1:X1");
    expect(sheet(closed, "one").symbols[1]).toMatchObject({ device: "s-1", part: "11-12", x: 10, y: 8 });
    const lamp = edited(row, { type: "changeKind", device: "s-1", kind: "lamp", params: {} });
    expect(wires(lamp)).toContain("s-1:X2 h-1:X1");
    expect(lamp.devices[1]).toMatchObject({ label: "S1", kind: "lamp", params: {} });
  });

  it("puts another part of the same kind behind the symbol", () => {
    const asked = { device: "k-1", kind: "relay", params: {}, of: "13-14", part: "21-22" };
    const swapped = edited(relay, { type: "changeKind", ...asked });
    expect(sheet(swapped, "one").symbols.map(({ part }) => part)).toEqual(["coil", "21-22"]);
    expect(sheet(swapped, "two").symbols.map(({ part }) => part)).toEqual(["13-14"]);
  });

  it("is refused where a wire would hang in the air", () => {
    const asked = { device: "g-1", kind: "lamp", params: {} };
    expect(fits(row, asked, catalogue)).toBe(false);
    expect(refused(row, { type: "changeKind", ...asked })).toThrow("no terminal for the wire on G1:");
    expect(fits(row, { device: "s-1", kind: "lamp", params: {} }, catalogue)).toBe(true);
  });
});

describe("deleting parts", () => {
  it("takes a contact alone and its device with the coil", () => {
    expect(takesDevice(relay, { device: "k-1", part: "13-14" }, catalogue)).toBe(false);
    expect(takesDevice(relay, { device: "k-1", part: "coil" }, catalogue)).toBe(true);
    const fewer = edited(relay, { type: "deleteParts", parts: [{ device: "k-1", part: "13-14" }] });
    expect(sheet(fewer, "one").symbols.map(({ part }) => part)).toEqual(["coil"]);
    expect(labels(fewer)).toEqual(["K1"]);
    expect(edited(fewer, { type: "deleteParts", parts: [{ device: "k-1", part: "coil" }] }).devices).toEqual(
      [],
    );
  });

  it("heals the row that a contact stood in", () => {
    const wired = edited(
      relay,
      put("lamp", "lamp", 30, 20),
      put("button", "13-14", 30, 2),
      { type: "join", a: end("s-1:14"), b: end("k-1:13") },
      { type: "join", a: end("k-1:14"), b: end("h-1:X1") },
    );
    const fewer = edited(wired, { type: "deleteParts", parts: [{ device: "k-1", part: "13-14" }] });
    expect(wires(fewer)).toEqual(["s-1:14 h-1:X1"]);
  });
});

describe("sheets", () => {
  it("are added with a title of their own, renamed, and deleted when they are empty", () => {
    const added = edited(row, { type: "addSheet", kind: "control" });
    expect(added.sheets.map(({ title }) => title)).toEqual(["One", "Two", "Control 2"]);
    const named = edited(added, { type: "renameSheet", sheet: "control-1", title: " Lamps " });
    expect(sheet(named, "control-1").title).toBe("Lamps");
    expect(edited(named, { type: "deleteSheet", sheet: "control-1" }).sheets).toHaveLength(2);
    expect(refused(named, { type: "deleteSheet", sheet: "one" })).toThrow("3 parts stand on One");
    expect(refused(named, { type: "renameSheet", sheet: "one", title: " " })).toThrow("needs a title");
  });

  it("pass parts to each other", () => {
    const moved = edited(row, {
      type: "moveToSheet",
      items: [{ device: "h-1", part: "lamp" }],
      sheet: "two",
    });
    expect(sheet(moved, "two").symbols).toEqual([{ device: "h-1", part: "lamp", x: 10, y: 18 }]);
    expect(sheet(moved, "one").symbols).toHaveLength(2);
  });

  it("of one convention are not those of the other", () => {
    const nema = edited(row, { type: "show", convention: "nema" }, { type: "addSheet", kind: "control" });
    const placed = edited(nema, {
      type: "placePart",
      device: "h-1",
      part: "lamp",
      sheet: "control-1",
      at: { x: 4, y: 4 },
    });
    expect(
      placed.sheets.filter(({ symbols }) => symbols.some(({ device }) => device === "h-1")),
    ).toHaveLength(2);
  });
});

describe("ways chosen by hand", () => {
  const way: [number, number][] = [
    [10, 12],
    [14, 12],
    [14, 18],
  ];
  const pulled = edited(row, { type: "pull", sheet: "one", routes: { w2: way } });

  it("are kept, given back, and given up where an end moves", () => {
    expect(sheet(pulled, "one").routes).toEqual({ w2: way });
    expect(sheet(edited(pulled, { type: "pull", sheet: "one", routes: { w2: [] } }), "one").routes).toEqual(
      {},
    );
    const items = [{ device: "h-1", part: "lamp" }];
    const moved = edited(pulled, { type: "move", sheet: "one", items, by: { x: 2, y: 0 } });
    expect(sheet(moved, "one").routes).toEqual({});
    expect(sheet(edited(pulled, { type: "rename", device: "h-1", label: "H9" }), "one").routes).toEqual({
      w2: way,
    });
  });
});

describe("renaming", () => {
  it("follows wherever another device names it, by default or in words", () => {
    const locked = edited(empty, put("contactor", "coil", 10, 10), put("lock", "lock", 20, 10));
    const renamed = edited(locked, { type: "rename", device: "c-1", label: "C7" });
    expect(renamed.devices[1]?.params).toEqual({ first: "C7" });
    expect(edited(renamed, { type: "rename", device: "c-1", label: "C8" }).devices[1]?.params).toEqual({
      first: "C8",
    });
  });
});
