import { describe, expect, it } from "vitest";
import type { Circuit } from "../../../circuit/types";
import { handsOfSteps, stepsOf } from "./recording";

const named = ({ device, value }: { device: string; value?: boolean }) => ({
  label: device.toUpperCase(),
  words: `${device.toUpperCase()} ${value ? "press" : "let go"}`,
});
const hand = (at_us: number, device: string, value: boolean) => ({
  at_us,
  device,
  operation: "press",
  value,
});

describe("what hands did as steps", () => {
  it("puts hands of one moment together and waits until the next", () => {
    const hands = [hand(500_000, "s1", true), hand(520_000, "s2", true), hand(2_000_000, "s1", false)];
    const steps = stepsOf(hands, 0, 3_000_000, named);
    expect(steps.map(({ text, wait_s }) => [text, wait_s])).toEqual([
      ["Nothing is touched", 0.5],
      ["S1 press, S2 press", 1.5],
      ["S1 let go", 1],
    ]);
    expect(steps[1]?.do).toEqual([
      ["S1", "press", true],
      ["S2", "press", true],
    ]);
  });

  it("leaves out what was done before and after the recording", () => {
    const hands = [hand(100, "s1", true), hand(2_000_000, "s1", false), hand(9_000_000, "s1", true)];
    expect(stepsOf(hands, 1_000_000, 3_000_000, named).map(({ text }) => text)).toEqual([
      "Nothing is touched",
      "S1 let go",
    ]);
  });

  it("comes back to the same hands, but for those on devices that are gone", () => {
    const circuit = { devices: [{ id: "s1", label: "S1" }] } as unknown as Circuit;
    const steps = stepsOf([hand(500_000, "s1", true), hand(900_000, "s9", true)], 0, 1_500_000, named);
    expect(handsOfSteps(steps, circuit)).toEqual({ hands: [hand(500_000, "s1", true)], endUs: 1_500_000 });
  });
});
