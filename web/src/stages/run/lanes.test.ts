import { describe, expect, it } from "vitest";
import type { Device, Frame } from "../../circuit/types";
import { csvOf, framesIn, type Lane, lineOf, wordsOf } from "./lanes";

const device = { id: "m", label: "M1", function: "Pump", kind: "", params: {} } as unknown as Device;
const onOff: Lane = { key: "m", device, figure: undefined };
const speed: Lane = { key: "m/Speed", device, figure: { title: "Speed", unit: "rpm" } };

const frame = (time_us: number, active: boolean, rpm: number): Frame =>
  ({
    time_us,
    devices: {
      m: {
        says: active ? "turns" : "still",
        active,
        attention: false,
        closed: {},
        on: {},
        figures: [{ title: "Speed", value: rpm, unit: "rpm" }],
      },
    },
  }) as unknown as Frame;

const frames = [frame(0, false, 0), frame(1_000_000, true, 700), frame(2_000_000, true, 1400)];

describe("the lines of a time chart", () => {
  it("step where something changes, on at the top", () => {
    expect(lineOf(onOff, frames, { fromUs: 0, toUs: 4_000_000 }, 400, 10)).toBe("M0.0 10.0H100.0V0.0H400");
  });

  it("scale a quantity to the largest there is in the window", () => {
    expect(lineOf(speed, frames, { fromUs: 0, toUs: 4_000_000 }, 400, 10)).toBe(
      "M0.0 10.0H100.0V5.0H200.0V0.0H400",
    );
  });

  it("begin with what held already when the window begins", () => {
    const window = { fromUs: 1_500_000, toUs: 1_900_000 };
    expect(framesIn(frames, window).map(({ time_us }) => time_us)).toEqual([1_000_000]);
    expect(lineOf(onOff, frames, window, 400, 10)).toBe("M0.0 0.0H400");
  });

  it("say what they are worth", () => {
    const last = frames[2] as Frame;
    expect([wordsOf(onOff, last), wordsOf(speed, last)]).toEqual(["turns", "1400 rpm"]);
  });

  it("leave as a table with units and seconds", () => {
    expect(csvOf([onOff, speed], frames).split("\n")).toEqual([
      "time (s),M1,M1 Speed (rpm)",
      "0.000000,0,0",
      "1.000000,1,700",
      "2.000000,1,1400",
      "",
    ]);
  });
});
