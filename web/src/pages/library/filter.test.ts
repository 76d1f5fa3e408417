import { describe, expect, it } from "vitest";
import { fitting, kindsOf, NOTHING_ASKED, suppliesOf } from "./filter";

const line = (name: string, supply: "three-phase" | "single-phase", kinds: string[], shows = "") => ({
  name,
  title: name,
  shows,
  tries: "Try it.",
  supply,
  kinds,
  content: name,
});
const FAMILIES = [
  { title: "Start-stop", circuits: [line("Sump pump", "three-phase", ["coil", "lamp"], "Seals in.")] },
  {
    title: "Reversing",
    circuits: [line("Shade", "single-phase", ["coil"]), line("Vent", "three-phase", ["fuse"])],
  },
];
const TITLES = new Map([["fuse", "Fuse links"]]);
const names = (asked: Partial<typeof NOTHING_ASKED>): string[] =>
  fitting(FAMILIES, { ...NOTHING_ASKED, ...asked }, TITLES).flatMap(({ circuits }) =>
    circuits.map(({ name }) => name),
  );

describe("the library", () => {
  it("is all there while nothing is asked", () => {
    expect(names({})).toEqual(["Sump pump", "Shade", "Vent"]);
    expect(kindsOf(FAMILIES)).toEqual(["coil", "fuse", "lamp"]);
    expect(suppliesOf(FAMILIES)).toEqual(["single-phase", "three-phase"]);
  });

  it("is searched by all words at once, in families, titles, what is shown and devices", () => {
    expect(names({ words: "REVERSING vent" })).toEqual(["Vent"]);
    expect(names({ words: "seals" })).toEqual(["Sump pump"]);
    expect(names({ words: "links" })).toEqual(["Vent"]);
    expect(names({ words: "seals links" })).toEqual([]);
  });

  it("is narrowed by device and by supply; families without any are left out", () => {
    expect(names({ kind: "lamp" })).toEqual(["Sump pump"]);
    expect(names({ supply: "single-phase" })).toEqual(["Shade"]);
    expect(fitting(FAMILIES, { ...NOTHING_ASKED, kind: "lamp" }, TITLES).map(({ title }) => title)).toEqual([
      "Start-stop",
    ]);
  });
});
