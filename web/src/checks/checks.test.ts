import { describe, expect, it } from "vitest";
import type { CheckResult } from "../circuit/types";
import { foundIn, markedDevices, reasons, summary } from "./checks";

const finding = (key: string, device: string) => ({
  key,
  message: `${device} is wrong.`,
  why: "It burns.",
  device,
  terminal: null,
  conductor: null,
  moves: [],
  seen_us: 0,
  drawing: false,
});

const results: CheckResult[] = [
  { rule: "dial", title: "Dials", outcome: "found", findings: [finding("f2", "f-2")], reason: "", over: "" },
  {
    rule: "clamps",
    title: "Clamps",
    outcome: "found",
    findings: [finding("k:1", "k-1"), finding("k:2", "k-2")],
    reason: "",
    over: "",
  },
  { rule: "earth", title: "Earth", outcome: "clear", findings: [], reason: "", over: "" },
  { rule: "delta", title: "Delta", outcome: "cannot tell", findings: [], reason: "no voltage", over: "" },
];

describe("findings", () => {
  it("come with the note that set them aside, the open ones first", () => {
    const found = foundIn(results, [{ rule: "dial", key: "f2", note: "test bench" }]);
    expect(found.map((f) => [f.finding.key, f.note])).toEqual([
      ["k:1", undefined],
      ["k:2", undefined],
      ["f2", "test bench"],
    ]);
  });

  it("are not taken for those of another rule with the same key", () => {
    expect(foundIn(results, [{ rule: "clamps", key: "f2", note: "" }])[0]?.note).toBeUndefined();
  });

  it("are counted in one line", () => {
    expect(summary(results, [{ rule: "clamps", key: "k:1", note: "" }])).toBe(
      "2 found, 1 clear, 1 set aside, 1 that cannot be told",
    );
  });

  it("mark the devices that they are about, but for those set aside", () => {
    const found = foundIn(results, [{ rule: "clamps", key: "k:2", note: "" }]);
    expect([...markedDevices(found)].sort()).toEqual(["f-2", "k-1"]);
  });

  it("tell once why several rules cannot judge", () => {
    const same: CheckResult = {
      rule: "earth",
      title: "Earth",
      outcome: "cannot tell",
      findings: [],
      over: "",
      reason: "",
    };
    const told = reasons([
      ...results,
      { ...same, reason: "no voltage" },
      { ...same, rule: "dial", reason: "" },
    ]);
    expect(told.map(({ reason, rules }) => [reason, rules.map(({ rule }) => rule)])).toEqual([
      ["no voltage", ["delta", "earth"]],
    ]);
  });
});
