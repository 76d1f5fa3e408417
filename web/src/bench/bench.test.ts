import { describe, expect, it, vi } from "vitest";
import type { Frame, Run } from "../circuit/types";
import { aBench, answer, frame, settle } from "../testing/aBench";
import { catalogue, end, row } from "../testing/circuits";
import { Bench } from "./bench";
import { chatteringNow, currentFrame } from "./state";

const here = aBench();

describe("playing back what the core foresaw", () => {
  it("asks once and then goes from frame to frame by the clock", async () => {
    await here.start(frame(0, "dark"), frame(20_000, "lit"), frame(50_000, "dark"));
    expect(here.asked).toHaveLength(1);
    expect(here.says()).toBe("dark");
    here.clockMs = 21;
    here.bench.tick();
    expect(here.says()).toBe("lit");
    here.clockMs = 60;
    here.bench.tick();
    expect(here.says()).toBe("dark");
    expect(here.asked).toHaveLength(1);
  });

  it("hands the state of the present moment over with an action, and its own time", async () => {
    await here.start(frame(0, "dark"), frame(20_000, "lit"), frame(900_000, "dark"));
    here.clockMs = 30;
    here.bench.tick();
    here.answers.push(answer(frame(20_000, "lit"), frame(30_000, "lit"), frame(35_000, "dark")));
    here.bench.operate("s-1", "press", true);
    await settle();
    expect(here.asked[1]?.body.state?.time_us).toBe(20_000);
    expect(here.asked[1]?.body.actions[0]?.at_us).toBe(30_000);
    expect(here.bench.use.getState().held.has("s-1/press")).toBe(true);
    // What was foreseen for later has been replaced; what has been stays.
    expect(here.bench.use.getState().frames.map((f) => f.time_us)).toEqual([0, 20_000, 30_000, 35_000]);
  });

  it("keeps two quick hands in order, the second building on the first", async () => {
    await here.start(frame(0, "dark"));
    here.clockMs = 10;
    here.answers.push(
      answer(frame(0, "dark"), frame(10_000, "lit")),
      answer(frame(10_000, "lit"), frame(12_000, "dark")),
    );
    here.bench.operate("s-1", "press", true);
    here.clockMs = 12;
    here.bench.operate("s-1", "press", false);
    await settle();
    expect(here.asked.map(({ body }) => body.actions[0]?.at_us)).toEqual([undefined, 10_000, 12_000]);
    expect(here.asked[2]?.body.state?.time_us).toBe(10_000);
    expect(here.bench.use.getState().held.size).toBe(0);
  });

  it("asks on before the foreseen stretch ends", async () => {
    await here.start(frame(0, "dark"));
    here.answers.push(answer(frame(60_000_000, "lit")));
    here.clockMs = 58_000;
    here.bench.tick();
    await settle();
    expect(here.asked[1]?.body.state?.time_us).toBe(60_000_000);
    here.clockMs = 60_001;
    here.bench.tick();
    expect(here.says()).toBe("lit");
  });

  it("tells when the core does not answer, and keeps what it has", async () => {
    await here.start(frame(0, "dark"));
    vi.stubGlobal("fetch", async () => {
      throw new TypeError("no network");
    });
    here.bench.operate("s-1", "press", true);
    await settle();
    expect(here.bench.use.getState().problem?.title).toBe("No connection");
    expect(here.says()).toBe("dark");
  });

  it("counts time from the start, by the speed that is chosen", async () => {
    await here.start(frame(0, "dark"));
    here.clockMs = 12.5;
    expect(here.bench.nowUs()).toBe(12_500);
    here.bench.setSpeed(10);
    here.clockMs = 13.5;
    expect(here.bench.nowUs()).toBe(22_500);
    here.bench.setSpeed(0.1);
    here.clockMs = 23.5;
    expect(here.bench.nowUs()).toBe(23_500);
    here.bench.setSpeed(1);
  });

  it("asks on until an action is reached when the core tells in pages", async () => {
    await here.start(frame(0, "dark"));
    here.clockMs = 30;
    const page = (endUs: number, ...frames: Frame[]): Run => ({
      ...answer(...frames),
      end: { time_us: endUs, devices: {} },
    });
    here.answers.push(
      page(10_000, frame(0, "dark"), frame(10_000, "lit")),
      page(20_000, frame(10_000, "lit"), frame(20_000, "dark")),
      answer(frame(20_000, "dark"), frame(30_000, "lit")),
    );
    here.bench.operate("s-1", "press", true);
    await settle();
    expect(here.asked.slice(1).map(({ body }) => body.state?.time_us)).toEqual([0, 10_000, 20_000]);
    expect(here.asked.slice(1).map(({ body }) => body.actions.length)).toEqual([1, 1, 1]);
    expect(here.bench.use.getState().frames.map((f) => f.time_us)).toEqual([0, 10_000, 20_000, 30_000]);
    here.bench.tick();
    expect(here.says()).toBe("lit");
  });

  it("sends the circuit once and names it from then on, and sends it again where the name is not known", async () => {
    await here.start(frame(0, "dark"));
    expect(here.asked[0]?.body).toHaveProperty("circuit");
    here.answers.push(answer(frame(0, "lit")));
    here.bench.operate("s-1", "press", true);
    await settle();
    expect(here.asked[1]?.body).toMatchObject({ ref: "a".repeat(64), circuit: null });
    here.answers.push(null, answer(frame(0, "dark")));
    here.bench.operate("s-1", "press", false);
    await settle();
    expect(here.asked[2]?.body).toMatchObject({ ref: "a".repeat(64) });
    expect(here.asked[3]?.body).toHaveProperty("circuit");
    expect(here.says()).toBe("dark");
  });

  it("puts together what frames leave out because it has not changed", async () => {
    const partial = { ...frame(20_000, "lit"), devices: {}, terminals: { "s-1": {} } };
    await here.start({ ...frame(0, "lit"), terminals: { "h-1": {} }, conductors_a: { w: 1, v: 2 } }, {
      ...partial,
      conductors_a: { v: 3 },
    } as Frame);
    here.clockMs = 21;
    here.bench.tick();
    expect(here.says()).toBe("lit");
    expect(currentFrame(here.bench.use.getState())?.terminals).toEqual({ "h-1": {}, "s-1": {} });
    expect(currentFrame(here.bench.use.getState())?.conductors_a).toEqual({ w: 1, v: 3 });
  });
});

describe("chatter", () => {
  it("holds from its beginning until what ended it", () => {
    const chatters = [{ devices: ["k-1"], since_us: 10, period_us: 5, until_us: 100 }];
    expect([...chatteringNow(chatters, 50)]).toEqual(["k-1"]);
    expect(chatteringNow(chatters, 5).size + chatteringNow(chatters, 100).size).toBe(0);
  });
});

describe("two benches on a page", () => {
  it("have their own circuit, clock and probes", async () => {
    const other = new Bench();
    here.answers = [answer(frame(0, "dark")), answer(frame(0, "lit"))];
    here.bench.start(row, catalogue);
    other.start(row, catalogue);
    other.setSpeed(0.1);
    await settle();
    here.tickTo(1000);
    other.meters.probe(end("s-1:13"));
    expect([here.bench.nowUs(), other.nowUs()]).toEqual([1_000_000, 100_000]);
    const says = (of: Bench) => currentFrame(of.use.getState())?.devices["h-1"]?.says;
    expect([says(here.bench), says(other)]).toEqual(["dark", "lit"]);
    expect([here.bench.use.getState().red, other.use.getState().red]).toEqual([null, end("s-1:13")]);
  });
});
