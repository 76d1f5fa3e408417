import { describe, expect, it } from "vitest";
import { layOut } from "../../sheet/layout";
import type { Hit } from "../../sheet/page";
import { catalogue, edited, empty, put, relay, row } from "../../testing/circuits";
import { finds } from "./finds";
import { offersFor } from "./offers";
import { pulled } from "./pull";
import { entriesOf } from "./tools";

describe("what can be said about two parts", () => {
  const pair = edited(
    empty,
    put("contactor", "coil", 10, 20),
    put("contactor", "coil", 20, 20),
    put("button", "13-14", 10, 6),
  );
  const titles = (a: [string, string], b: [string, string]): string[] =>
    offersFor(pair, catalogue, { device: a[0], part: a[1] }, { device: b[0], part: b[1] }).map(
      ({ title }) => title,
    );

  it("depends on what they are", () => {
    expect(titles(["c-1", "poles"], ["c-2", "poles"])).toEqual([
      "Feed C2 from C1, 3 poles",
      "Feed C1 from C2, 3 poles",
      "C2 beside C1, two phases exchanged",
      "Interlock C1 and C2",
    ]);
    expect(titles(["s-1", "13-14"], ["c-1", "coil"])).toEqual([
      "Feed C1 from S1",
      "Seal S1 with C1",
      "C1 in parallel to S1",
    ]);
  });

  it("is nothing between parts of one device", () => {
    expect(titles(["c-1", "coil"], ["c-1", "poles"])).toEqual([]);
  });
});

describe("entries of the palette", () => {
  const poled = (values: (number | string)[]) => {
    const kind = catalogue.kind("contactor");
    if (!kind?.parts[0]) throw new Error("no contactor");
    const [first] = kind.parts;
    return {
      ...kind,
      parts: values.map((value) => ({ ...first, when: { param: "size", values: [value] } })),
    };
  };

  it("are one for all numbers of poles, and one for each other choice", () => {
    const [breaker, ...others] = entriesOf(poled([1, 3]));
    expect(others).toEqual([]);
    expect(breaker?.choices).toEqual(["1", "3"]);
    expect(breaker?.tools.map(({ params }) => params)).toEqual([{ size: 1 }, { size: 3 }]);
    expect(entriesOf(poled(["NO", "NC"])).map(({ title }) => title)).toEqual([
      "contactor, NO",
      "contactor, NC",
    ]);
  });
});

describe("finding", () => {
  const titles = (words: string): string[] => finds(row, catalogue, words).map(({ title }) => title);

  it("looks through parts, wires and the catalogue", () => {
    expect(titles("s1")).toEqual(["S1 13-14"]);
    expect(titles("lamp")).toEqual(["lamp", "H1 lamp"]);
    expect(titles("wire 2")).toEqual(["Wire 2"]);
    expect(titles("")).toEqual([]);
    expect(titles("no such thing")).toEqual([]);
  });

  it("looks through terminals when a colon is asked for", () => {
    expect(titles("h1:")).toEqual(["H1:X1", "H1:X2"]);
    expect(titles("G1:L2")).toEqual(["G1:L2"]);
  });

  it("puts first what can be done with two selected parts", () => {
    const selected = [
      { device: "s-1", part: "13-14" },
      { device: "h-1", part: "lamp" },
    ];
    expect(finds(row, catalogue, "parallel", selected)[0]).toMatchObject({ what: "do" });
  });
});

describe("pulling a wire", () => {
  const layout = layOut(row, catalogue);
  const page = layout.pages[0];
  const run = page?.wiring.runs.find(({ conductor }) => conductor.id === "w2");
  if (!page || !run) throw new Error("no wire");
  const hit = (x: number, y: number): Hit & { kind: "wire" } => ({ kind: "wire", page, at: { x, y }, run });

  it("moves a straight stretch aside and keeps a module of it at each terminal", () => {
    expect(run.points).toEqual([
      { x: 10, y: 12 },
      { x: 10, y: 18 },
    ]);
    expect(pulled(hit(10, 15), { x: 3, y: 1 })).toEqual({
      w2: [
        [10, 12],
        [10, 13],
        [13, 13],
        [13, 17],
        [10, 17],
        [10, 18],
      ],
    });
  });

  it("does nothing along the wire", () => {
    expect(pulled(hit(10, 15), { x: 0, y: 4 })).toEqual({});
  });
});

describe("relays", () => {
  it("are found by each of their parts on its sheet", () => {
    expect(finds(relay, catalogue, "k1").map(({ what, title }) => `${what}: ${title}`)).toEqual([
      "One: K1 coil",
      "One: K1 13-14",
      "Two: K1 21-22",
    ]);
  });
});
