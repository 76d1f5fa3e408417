import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Frame, Run } from "../circuit/types";
import { catalogue, end, row } from "../testing/circuits";
import { Bench } from "./bench";
import { chatteringNow, currentFrame, currentReading } from "./state";

const frame = (timeUs: number, says: string): Frame => ({
  time_us: timeUs,
  state: { time_us: timeUs, devices: {} },
  devices: { "h-1": { says, active: says === "lit", attention: false, closed: {}, on: {}, figures: [] } },
  terminals: {},
  conductors_a: {},
  readings: [],
});

const answer = (...frames: Frame[]): Run => ({
  ref: "a".repeat(64),
  frames,
  end: { time_us: 60_000_000, devices: {} },
  chatters: [],
  warnings: [],
});

interface Asked {
  path: string;
  body: {
    state: { time_us: number } | null;
    actions: { at_us: number }[];
    until_us: number;
    probes: unknown[];
    faults: unknown[];
  };
}

let bench = new Bench();
let asked: Asked[] = [];
let answers: unknown[] = [];
let clockMs = 0;

beforeEach(() => {
  bench = new Bench();
  asked = [];
  answers = [];
  clockMs = 0;
  vi.spyOn(performance, "now").mockImplementation(() => clockMs);
  vi.stubGlobal("fetch", async (path: string, init: { body: string }) => {
    asked.push({ path, body: JSON.parse(init.body) });
    const next = answers.length ? answers.shift() : { readings: [] };
    // Null stands for a name that the server does not know.
    if (next === null) return new Response(null, { status: 204 });
    return new Response(JSON.stringify(next), { status: 200 });
  });
});

afterEach(() => {
  vi.restoreAllMocks();
  vi.unstubAllGlobals();
});

const settle = (): Promise<void> => new Promise((resolve) => setTimeout(resolve, 5));
const tickTo = (ms: number): void => {
  clockMs = ms;
  bench.tick();
};
const says = (): string | undefined => currentFrame(bench.use.getState())?.devices["h-1"]?.says;

async function start(...frames: Frame[]): Promise<void> {
  answers.push(answer(...frames));
  bench.start({ ...row }, catalogue);
  await settle();
}

describe("playing back what the core foresaw", () => {
  it("asks once and then goes from frame to frame by the clock", async () => {
    await start(frame(0, "dark"), frame(20_000, "lit"), frame(50_000, "dark"));
    expect(asked).toHaveLength(1);
    expect(says()).toBe("dark");
    clockMs = 21;
    bench.tick();
    expect(says()).toBe("lit");
    clockMs = 60;
    bench.tick();
    expect(says()).toBe("dark");
    expect(asked).toHaveLength(1);
  });

  it("hands the state of the present moment over with an action, and its own time", async () => {
    await start(frame(0, "dark"), frame(20_000, "lit"), frame(900_000, "dark"));
    clockMs = 30;
    bench.tick();
    answers.push(answer(frame(20_000, "lit"), frame(30_000, "lit"), frame(35_000, "dark")));
    bench.operate("s-1", "press", true);
    await settle();
    expect(asked[1]?.body.state?.time_us).toBe(20_000);
    expect(asked[1]?.body.actions[0]?.at_us).toBe(30_000);
    expect(bench.use.getState().held.has("s-1/press")).toBe(true);
    // What was foreseen for later has been replaced; what has been stays.
    expect(bench.use.getState().frames.map((f) => f.time_us)).toEqual([0, 20_000, 30_000, 35_000]);
  });

  it("keeps two quick hands in order, the second building on the first", async () => {
    await start(frame(0, "dark"));
    clockMs = 10;
    answers.push(
      answer(frame(0, "dark"), frame(10_000, "lit")),
      answer(frame(10_000, "lit"), frame(12_000, "dark")),
    );
    bench.operate("s-1", "press", true);
    clockMs = 12;
    bench.operate("s-1", "press", false);
    await settle();
    expect(asked.map(({ body }) => body.actions[0]?.at_us)).toEqual([undefined, 10_000, 12_000]);
    expect(asked[2]?.body.state?.time_us).toBe(10_000);
    expect(bench.use.getState().held.size).toBe(0);
  });

  it("asks on before the foreseen stretch ends", async () => {
    await start(frame(0, "dark"));
    answers.push(answer(frame(60_000_000, "lit")));
    clockMs = 58_000;
    bench.tick();
    await settle();
    expect(asked[1]?.body.state?.time_us).toBe(60_000_000);
    clockMs = 60_001;
    bench.tick();
    expect(says()).toBe("lit");
  });

  it("tells when the core does not answer, and keeps what it has", async () => {
    await start(frame(0, "dark"));
    vi.stubGlobal("fetch", async () => {
      throw new TypeError("no network");
    });
    bench.operate("s-1", "press", true);
    await settle();
    expect(bench.use.getState().problem?.title).toBe("No connection");
    expect(says()).toBe("dark");
  });

  it("counts time from the start, by the speed that is chosen", async () => {
    await start(frame(0, "dark"));
    clockMs = 12.5;
    expect(bench.nowUs()).toBe(12_500);
    bench.setSpeed(10);
    clockMs = 13.5;
    expect(bench.nowUs()).toBe(22_500);
    bench.setSpeed(0.1);
    clockMs = 23.5;
    expect(bench.nowUs()).toBe(23_500);
    bench.setSpeed(1);
  });

  it("asks on until an action is reached when the core tells in pages", async () => {
    await start(frame(0, "dark"));
    clockMs = 30;
    const page = (endUs: number, ...frames: Frame[]): Run => ({
      ...answer(...frames),
      end: { time_us: endUs, devices: {} },
    });
    answers.push(
      page(10_000, frame(0, "dark"), frame(10_000, "lit")),
      page(20_000, frame(10_000, "lit"), frame(20_000, "dark")),
      answer(frame(20_000, "dark"), frame(30_000, "lit")),
    );
    bench.operate("s-1", "press", true);
    await settle();
    expect(asked.slice(1).map(({ body }) => body.state?.time_us)).toEqual([0, 10_000, 20_000]);
    expect(asked.slice(1).map(({ body }) => body.actions.length)).toEqual([1, 1, 1]);
    expect(bench.use.getState().frames.map((f) => f.time_us)).toEqual([0, 10_000, 20_000, 30_000]);
    bench.tick();
    expect(says()).toBe("lit");
  });

  it("sends the circuit once and names it from then on, and sends it again where the name is not known", async () => {
    await start(frame(0, "dark"));
    expect(asked[0]?.body).toHaveProperty("circuit");
    answers.push(answer(frame(0, "lit")));
    bench.operate("s-1", "press", true);
    await settle();
    expect(asked[1]?.body).toMatchObject({ ref: "a".repeat(64), circuit: null });
    answers.push(null, answer(frame(0, "dark")));
    bench.operate("s-1", "press", false);
    await settle();
    expect(asked[2]?.body).toMatchObject({ ref: "a".repeat(64) });
    expect(asked[3]?.body).toHaveProperty("circuit");
    expect(says()).toBe("dark");
  });

  it("puts together what frames leave out because it has not changed", async () => {
    const partial = { ...frame(20_000, "lit"), devices: {}, terminals: { "s-1": {} } };
    await start({ ...frame(0, "lit"), terminals: { "h-1": {} }, conductors_a: { w: 1, v: 2 } }, {
      ...partial,
      conductors_a: { v: 3 },
    } as Frame);
    clockMs = 21;
    bench.tick();
    expect(says()).toBe("lit");
    expect(currentFrame(bench.use.getState())?.terminals).toEqual({ "h-1": {}, "s-1": {} });
    expect(currentFrame(bench.use.getState())?.conductors_a).toEqual({ w: 1, v: 3 });
  });
});

describe("probes", () => {
  it("go down red first, then black, and fetch the reading of the present state", async () => {
    await start(frame(0, "dark"));
    const reading = {
      red: end("s-1:13"),
      black: end("s-1:14"),
      voltage_v: 230.9,
      display: "230.9",
      joined: true,
    };
    bench.meters.probe(end("s-1:13"));
    answers.push({ readings: [reading] });
    bench.meters.probe(end("s-1:14"));
    await settle();
    expect(asked.at(-1)?.path).toBe("/api/simulation/read");
    expect(currentReading(bench.use.getState())?.display).toBe("230.9");
    bench.meters.swap();
    expect(bench.use.getState().red).toEqual(end("s-1:14"));
    expect(currentReading(bench.use.getState())).toBeUndefined();
    await settle();
    expect(asked.at(-1)?.path).toBe("/api/simulation/read");
    expect(asked.at(-1)?.body.probes).toEqual([{ red: end("s-1:14"), black: end("s-1:13") }]);
  });

  it.each([
    ["another moment", () => tickTo(21)],
    ["other probes", () => bench.meters.probe(end("h-1:X1"), "red")],
  ])("show no reason that was asked for at %s", async (_, change) => {
    await start(frame(0, "dark"), frame(20_000, "lit"));
    bench.meters.probe(end("s-1:13"), "red");
    bench.meters.probe(end("s-1:14"), "black");
    await settle();
    answers.push({ sentences: ["a", "b"] });
    const asking = bench.meters.askWhy();
    change();
    await asking;
    expect(bench.use.getState().explanation).toBeNull();
    // With nothing changed meanwhile it is shown, and goes when the moment does.
    answers.length = 0;
    answers.push({ sentences: ["c", "d"] });
    await bench.meters.askWhy();
    expect(bench.use.getState().explanation?.sentences).toEqual(["c", "d"]);
  });

  it("take the reason off with the moment that it was for", async () => {
    await start(frame(0, "dark"), frame(20_000, "lit"));
    bench.meters.probe(end("s-1:13"), "red");
    bench.meters.probe(end("s-1:14"), "black");
    await settle();
    answers.push({ sentences: ["a", "b"] });
    await bench.meters.askWhy();
    expect(bench.use.getState().explanation).not.toBeNull();
    tickTo(21);
    expect(bench.use.getState().explanation).toBeNull();
  });

  it("come off when their terminal is gone from the next circuit", async () => {
    await start(frame(0, "dark"));
    bench.meters.probe(end("h-1:X1"), "red");
    bench.meters.probe(end("s-1:13"), "black");
    answers.push(answer(frame(0, "dark")));
    bench.start({ ...row, devices: row.devices.filter((device) => device.id !== "h-1") }, catalogue);
    await settle();
    expect(bench.use.getState().red).toBeNull();
    expect(bench.use.getState().black).toEqual(end("s-1:13"));
  });
});

describe("time", () => {
  it("stands still, goes from event to event, and on again", async () => {
    await start(frame(0, "dark"), frame(20_000, "lit"), frame(50_000, "dark"));
    tickTo(60);
    bench.pause(true);
    tickTo(500);
    expect(bench.nowUs()).toBe(60_000);
    bench.step("previous");
    expect([bench.nowUs(), says()]).toEqual([50_000, "dark"]);
    bench.step("previous");
    expect([bench.nowUs(), says()]).toEqual([20_000, "lit"]);
    bench.step("next");
    expect([bench.nowUs(), says()]).toEqual([50_000, "dark"]);
    bench.pause(false);
    tickTo(510);
    expect(bench.nowUs()).toBe(60_000);
  });

  it("keeps what happened when a hand does something else at an earlier moment, to be taken up again", async () => {
    await start(frame(0, "dark"), frame(20_000, "lit"), frame(900_000, "dark"));
    tickTo(1000);
    bench.goTo(30_000);
    answers.push(answer(frame(20_000, "lit"), frame(30_000, "lit"), frame(31_000, "dark")));
    bench.operate("s-1", "press", true);
    await settle();
    const [line] = bench.use.getState().lines;
    expect(line).toMatchObject({ leftUs: 30_000, headUs: 1_000_000 });
    expect(bench.use.getState().frames.map((f) => f.time_us)).toEqual([0, 20_000, 30_000, 31_000]);
    if (line) bench.takeUp(line);
    expect(bench.use.getState().frames.map((f) => f.time_us)).toEqual([0, 20_000, 900_000]);
    expect([bench.nowUs(), says()]).toEqual([1_000_000, "dark"]);
  });

  it("keeps nothing when a hand goes on from the latest moment", async () => {
    await start(frame(0, "dark"), frame(20_000, "lit"));
    tickTo(100);
    answers.push(answer(frame(20_000, "lit"), frame(100_000, "dark")));
    bench.operate("s-1", "press", true);
    await settle();
    expect(bench.use.getState().lines).toEqual([]);
  });
});

describe("faults", () => {
  const fault = { kind: "open", place: "w1", branch: "", start_us: 0, slot_us: 0, seed: 0 } as const;

  it("begin at the moment at which they are put in, and end when they are taken out", async () => {
    await start(frame(0, "lit"));
    tickTo(40);
    answers.push(
      { ...answer(frame(0, "lit")), end: { time_us: 40_000, devices: {} } },
      answer(frame(40_000, "dark")),
    );
    bench.putFault(fault, "The wire 1 is open");
    await settle();
    expect(asked.slice(1).map(({ body }) => [body.until_us, body.faults])).toEqual([
      [40_000, []],
      [60_040_000, [fault]],
    ]);
    expect(asked[2]?.body.state?.time_us).toBe(40_000);
    expect(bench.use.getState().frames.map((f) => f.time_us)).toEqual([0, 40_000]);
    answers.push(answer(frame(40_000, "lit")));
    bench.switchFault(1, false);
    await settle();
    expect(asked.at(-1)?.body.faults).toEqual([]);
    bench.takeOutFault(1);
    expect(bench.use.getState().faults).toEqual([]);
  });

  it("are put in once, however often", async () => {
    await start(frame(0, "lit"));
    bench.putFault(fault, "a");
    bench.putFault(fault, "a");
    expect(bench.use.getState().faults).toHaveLength(1);
  });
});

describe("instruments", () => {
  const shown = { display: "516.6", unit: "Ω", value: 516.6, note: "", beeps: false, refused: false };

  it("are asked of the present moment, once every probe stands somewhere", async () => {
    await start(frame(0, "dark"));
    bench.meters.choose("ohmmeter");
    bench.meters.probe(end("s-1:13"));
    await settle();
    expect(asked).toHaveLength(1);
    answers.push({ measured: [{ shown, reason: "" }] });
    bench.meters.probe(end("s-1:14"));
    await settle();
    expect(asked.at(-1)).toMatchObject({
      path: "/api/simulation/measure",
      body: { measures: [{ instrument: "ohmmeter", red: end("s-1:13"), black: end("s-1:14") }], why: false },
    });
    expect(bench.use.getState().shown?.shown.display).toBe("516.6");
    // What is shown is of this place and moment alone.
    answers.push({ measured: [{ shown, reason: "" }] });
    bench.meters.swap();
    expect(bench.use.getState().shown).toBeNull();
  });

  it("have three hands where they have three probes, and a jaw where they have none", async () => {
    await start(frame(0, "dark"));
    bench.meters.choose("phase_sequence");
    for (const at of ["s-1:13", "s-1:14", "h-1:X1"]) bench.meters.probe(end(at));
    const { red, black, third, hand } = bench.use.getState();
    expect([red, black, third, hand]).toEqual([end("s-1:13"), end("s-1:14"), end("h-1:X1"), "red"]);
    bench.meters.choose("clamp");
    bench.meters.clamp("w1");
    bench.meters.clamp("w2");
    bench.meters.clamp("w1");
    expect(bench.use.getState().jaw).toEqual(["w2"]);
  });

  it("can be left in the circuit by letters, and are read with every run from then on", async () => {
    await start(frame(0, "dark"));
    bench.meters.probe(end("s-1:13"));
    bench.meters.probe(end("s-1:14"));
    bench.meters.pin();
    bench.meters.probe(end("h-1:X1"), "red");
    bench.meters.pin();
    bench.meters.unpin("A");
    bench.meters.pin();
    expect(bench.use.getState().pins.map(({ letter }) => letter)).toEqual(["A", "B"]);
    answers.push(answer(frame(0, "lit")));
    await settle();
    bench.operate("s-1", "press", true);
    await settle();
    expect(asked.findLast(({ path }) => path.endsWith("/run"))?.body.probes).toHaveLength(3);
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
    answers = [answer(frame(0, "dark")), answer(frame(0, "lit"))];
    bench.start(row, catalogue);
    other.start(row, catalogue);
    other.setSpeed(0.1);
    await settle();
    tickTo(1000);
    other.meters.probe(end("s-1:13"));
    expect([bench.nowUs(), other.nowUs()]).toEqual([1_000_000, 100_000]);
    const says = (of: Bench) => currentFrame(of.use.getState())?.devices["h-1"]?.says;
    expect([says(bench), says(other)]).toEqual(["dark", "lit"]);
    expect([bench.use.getState().red, other.use.getState().red]).toEqual([null, end("s-1:13")]);
  });
});
