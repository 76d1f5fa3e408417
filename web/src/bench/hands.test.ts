import { describe, expect, it } from "vitest";
import { aBench, answer, frame, settle } from "../testing/aBench";
import { catalogue, end, row } from "../testing/circuits";
import { measureOf } from "./instruments";
import { currentReading } from "./state";

const here = aBench();

describe("probes", () => {
  it("go down red first, then black, and fetch the reading of the present state", async () => {
    await here.start(frame(0, "dark"));
    const reading = {
      red: end("s-1:13"),
      black: end("s-1:14"),
      voltage_v: 230.9,
      display: "230.9",
      joined: true,
    };
    here.bench.meters.probe(end("s-1:13"));
    here.answers.push({ readings: [reading] });
    here.bench.meters.probe(end("s-1:14"));
    await settle();
    expect(here.asked.at(-1)?.path).toBe("/api/simulation/read");
    expect(currentReading(here.bench.use.getState())?.display).toBe("230.9");
    here.bench.meters.swap();
    expect(here.bench.use.getState().red).toEqual(end("s-1:14"));
    expect(currentReading(here.bench.use.getState())).toBeUndefined();
    await settle();
    expect(here.asked.at(-1)?.path).toBe("/api/simulation/read");
    expect(here.asked.at(-1)?.body.probes).toEqual([{ red: end("s-1:14"), black: end("s-1:13") }]);
  });

  it.each([
    ["another moment", () => here.tickTo(21)],
    ["other probes", () => here.bench.meters.probe(end("h-1:X1"), "red")],
  ])("show no reason that was asked for at %s", async (_, change) => {
    await here.start(frame(0, "dark"), frame(20_000, "lit"));
    here.bench.meters.probe(end("s-1:13"), "red");
    here.bench.meters.probe(end("s-1:14"), "black");
    await settle();
    here.answers.push({ sentences: ["a", "b"] });
    const asking = here.bench.meters.askWhy();
    change();
    await asking;
    expect(here.bench.use.getState().explanation).toBeNull();
    // With nothing changed meanwhile it is shown, and goes when the moment does.
    here.answers.length = 0;
    here.answers.push({ sentences: ["c", "d"] });
    await here.bench.meters.askWhy();
    expect(here.bench.use.getState().explanation?.sentences).toEqual(["c", "d"]);
  });

  it("take the reason off with the moment that it was for", async () => {
    await here.start(frame(0, "dark"), frame(20_000, "lit"));
    here.bench.meters.probe(end("s-1:13"), "red");
    here.bench.meters.probe(end("s-1:14"), "black");
    await settle();
    here.answers.push({ sentences: ["a", "b"] });
    await here.bench.meters.askWhy();
    expect(here.bench.use.getState().explanation).not.toBeNull();
    here.tickTo(21);
    expect(here.bench.use.getState().explanation).toBeNull();
  });

  it("come off when their terminal is gone from the next circuit", async () => {
    await here.start(frame(0, "dark"));
    here.bench.meters.probe(end("h-1:X1"), "red");
    here.bench.meters.probe(end("s-1:13"), "black");
    here.answers.push(answer(frame(0, "dark")));
    here.bench.start({ ...row, devices: row.devices.filter((device) => device.id !== "h-1") }, catalogue);
    await settle();
    expect(here.bench.use.getState().red).toBeNull();
    expect(here.bench.use.getState().black).toEqual(end("s-1:13"));
  });
});

describe("time", () => {
  it("stands still, goes from event to event, and on again", async () => {
    await here.start(frame(0, "dark"), frame(20_000, "lit"), frame(50_000, "dark"));
    here.tickTo(60);
    here.bench.pause(true);
    here.tickTo(500);
    expect(here.bench.nowUs()).toBe(60_000);
    here.bench.step("previous");
    expect([here.bench.nowUs(), here.says()]).toEqual([50_000, "dark"]);
    here.bench.step("previous");
    expect([here.bench.nowUs(), here.says()]).toEqual([20_000, "lit"]);
    here.bench.step("next");
    expect([here.bench.nowUs(), here.says()]).toEqual([50_000, "dark"]);
    here.bench.pause(false);
    here.tickTo(510);
    expect(here.bench.nowUs()).toBe(60_000);
  });

  it("keeps what happened when a hand does something else at an earlier moment, to be taken up again", async () => {
    await here.start(frame(0, "dark"), frame(20_000, "lit"), frame(900_000, "dark"));
    here.tickTo(1000);
    here.bench.goTo(30_000);
    here.answers.push(answer(frame(20_000, "lit"), frame(30_000, "lit"), frame(31_000, "dark")));
    here.bench.operate("s-1", "press", true);
    await settle();
    const [line] = here.bench.use.getState().lines;
    expect(line).toMatchObject({ leftUs: 30_000, headUs: 1_000_000 });
    expect(here.bench.use.getState().frames.map((f) => f.time_us)).toEqual([0, 20_000, 30_000, 31_000]);
    if (line) here.bench.takeUp(line);
    expect(here.bench.use.getState().frames.map((f) => f.time_us)).toEqual([0, 20_000, 900_000]);
    expect([here.bench.nowUs(), here.says()]).toEqual([1_000_000, "dark"]);
  });

  it("keeps nothing when a hand goes on from the latest moment", async () => {
    await here.start(frame(0, "dark"), frame(20_000, "lit"));
    here.tickTo(100);
    here.answers.push(answer(frame(20_000, "lit"), frame(100_000, "dark")));
    here.bench.operate("s-1", "press", true);
    await settle();
    expect(here.bench.use.getState().lines).toEqual([]);
  });
});

describe("faults", () => {
  const fault = { kind: "open", place: "w1", branch: "", start_us: 0, slot_us: 0, seed: 0 } as const;

  it("begin at the moment at which they are put in, and end when they are taken out", async () => {
    await here.start(frame(0, "lit"));
    here.tickTo(40);
    here.answers.push(
      { ...answer(frame(0, "lit")), end: { time_us: 40_000, devices: {} } },
      answer(frame(40_000, "dark")),
    );
    here.bench.putFault(fault, "The wire 1 is open");
    await settle();
    expect(here.asked.slice(1).map(({ body }) => [body.until_us, body.faults])).toEqual([
      [40_000, []],
      [60_040_000, [fault]],
    ]);
    expect(here.asked[2]?.body.state?.time_us).toBe(40_000);
    expect(here.bench.use.getState().frames.map((f) => f.time_us)).toEqual([0, 40_000]);
    here.answers.push(answer(frame(40_000, "lit")));
    here.bench.switchFault(1, false);
    await settle();
    expect(here.asked.at(-1)?.body.faults).toEqual([]);
    here.bench.takeOutFault(1);
    expect(here.bench.use.getState().faults).toEqual([]);
  });

  it("change nothing of what was before: a meter reads there as it read then", async () => {
    await here.start(frame(0, "lit"), frame(20_000, "lit"));
    here.tickTo(40);
    here.answers.push(
      { ...answer(frame(20_000, "lit")), end: { time_us: 40_000, devices: {} } },
      answer(frame(40_000, "dark")),
    );
    here.bench.putFault(fault, "The wire 1 is open");
    await settle();
    here.bench.meters.probe(end("s-1:13"), "red");
    here.bench.meters.probe(end("s-1:14"), "black");
    await settle();
    const faultsRead = () => here.asked.findLast(({ path }) => path.endsWith("/read"))?.body.faults;
    expect(faultsRead()).toEqual([fault]);
    here.bench.goTo(10_000);
    await settle();
    expect(faultsRead()).toEqual([]);
    // What goes on from there otherwise has the fault from there on; the line that was left has what it had.
    here.answers.push(
      { ...answer(frame(0, "lit")), end: { time_us: 10_000, devices: {} } },
      answer(frame(10_000, "dark")),
    );
    here.bench.operate("s-1", "press", true);
    await settle();
    const runs = here.asked.filter(({ path }) => path.endsWith("/run")).slice(-2);
    expect(runs.map(({ body }) => [body.until_us, body.faults])).toEqual([
      [10_000, []],
      [60_010_000, [fault]],
    ]);
    here.bench.takeOutFault(1);
    await settle();
    const [line] = here.bench.use.getState().lines;
    if (line) here.bench.takeUp(line);
    expect(here.bench.use.getState().faults).toMatchObject([{ fault, on: true }]);
  });

  it("take a reason off that was given without them", async () => {
    await here.start(frame(0, "lit"));
    here.bench.meters.probe(end("s-1:13"), "red");
    here.bench.meters.probe(end("s-1:14"), "black");
    await settle();
    here.answers.push({ sentences: ["a", "b"] });
    await here.bench.meters.askWhy();
    here.answers.push(answer(frame(0, "dark")));
    here.bench.putFault(fault, "The wire 1 is open");
    await settle();
    expect(here.bench.use.getState().explanation).toBeNull();
  });

  it("are put in once, however often", async () => {
    await here.start(frame(0, "lit"));
    here.bench.putFault(fault, "a");
    here.bench.putFault(fault, "a");
    expect(here.bench.use.getState().faults).toHaveLength(1);
  });
});

describe("instruments", () => {
  const shown = { display: "516.6", unit: "Ω", value: 516.6, note: "", beeps: false, refused: false };

  it("are asked of the present moment, once every probe stands somewhere", async () => {
    await here.start(frame(0, "dark"));
    here.bench.meters.choose("ohmmeter");
    here.bench.meters.probe(end("s-1:13"));
    await settle();
    expect(here.asked).toHaveLength(1);
    here.answers.push({ measured: [{ shown, reason: "" }] });
    here.bench.meters.probe(end("s-1:14"));
    await settle();
    expect(here.asked.at(-1)).toMatchObject({
      path: "/api/simulation/measure",
      body: { measures: [{ instrument: "ohmmeter", red: end("s-1:13"), black: end("s-1:14") }], why: false },
    });
    expect(here.bench.use.getState().shown?.shown.display).toBe("516.6");
    // What is shown is of this place and moment alone.
    here.answers.push({ measured: [{ shown, reason: "" }] });
    here.bench.meters.swap();
    expect(here.bench.use.getState().shown).toBeNull();
  });

  it("have three hands where they have three probes, and a jaw where they have none", async () => {
    await here.start(frame(0, "dark"));
    here.bench.meters.choose("phase_sequence");
    for (const at of ["s-1:13", "s-1:14", "h-1:X1"]) here.bench.meters.probe(end(at));
    const { red, black, third, hand } = here.bench.use.getState();
    expect([red, black, third, hand]).toEqual([end("s-1:13"), end("s-1:14"), end("h-1:X1"), "red"]);
    here.bench.meters.choose("clamp");
    here.bench.meters.clamp("w1");
    here.bench.meters.clamp("w2");
    here.bench.meters.turn("w1");
    expect(measureOf(here.bench.use.getState())).toMatchObject({ conductors: ["w1", "w2"], turned: ["w1"] });
    here.bench.meters.clamp("w1");
    expect(measureOf(here.bench.use.getState())).toMatchObject({ conductors: ["w2"], turned: [] });
  });

  it("can be left in the circuit by letters, and are read with every run from then on", async () => {
    await here.start(frame(0, "dark"));
    here.bench.meters.probe(end("s-1:13"));
    here.bench.meters.probe(end("s-1:14"));
    here.bench.meters.pin();
    here.bench.meters.probe(end("h-1:X1"), "red");
    here.bench.meters.pin();
    here.bench.meters.unpin("A");
    here.bench.meters.pin();
    expect(here.bench.use.getState().pins.map(({ letter }) => letter)).toEqual(["A", "B"]);
    here.answers.push(answer(frame(0, "lit")));
    await settle();
    here.bench.operate("s-1", "press", true);
    await settle();
    expect(here.asked.findLast(({ path }) => path.endsWith("/run"))?.body.probes).toHaveLength(3);
  });
});
