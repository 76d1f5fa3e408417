import { expect, test } from "vitest";
import { named, wordsOf } from "./named";

const FAULTS = [
  "K1 21-22 is open",
  "K1 21-22: the wrong kind of contact",
  "The coil K1 is open",
  "300 ohm in K1 21-22",
].map((words) => ({ words }));
const found = (text: string): string[] => named(FAULTS, wordsOf(text)).map(({ words }) => words);

test("what has all of the words", () => {
  expect(found("k1 21-22 OPEN")).toEqual(["K1 21-22 is open"]);
  expect(found("coil")).toEqual(["The coil K1 is open"]);
  expect(found("K1")).toHaveLength(4);
});

test("a word that nothing is called by is passed over, but not two", () => {
  expect(found("K1 contact 21-22 open")).toEqual(["K1 21-22 is open", "K1 21-22: the wrong kind of contact"]);
  expect(found("K1 winding open")).toEqual(["K1 21-22 is open", "The coil K1 is open"]);
  expect(found("winding burnt open")).toEqual([]);
  expect(found("nonsense")).toEqual([]);
});

test("nothing typed asks for everything", () => {
  expect(found("  ")).toHaveLength(4);
});
