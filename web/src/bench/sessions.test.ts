import { afterEach, beforeEach, describe, expect, it, vi } from "vitest";
import type { Device, Operation, Run } from "../circuit/types";
import { answer, frame, settle } from "../testing/aBench";
import { catalogue, row } from "../testing/circuits";
import { Bench } from "./bench";
import { currentFrame } from "./state";
import { press } from "./working";

/** A core that answers when the test lets it. */
let waiting: ((answer: Run | null) => void)[] = [];
let bench = new Bench();
let clockMs = 0;

beforeEach(() => {
  waiting = [];
  clockMs = 0;
  bench = new Bench();
  vi.spyOn(performance, "now").mockImplementation(() => clockMs);
  vi.stubGlobal("fetch", (path: string) =>
    path.endsWith("/run")
      ? new Promise((resolve, reject) => {
          waiting.push((told) => (told ? resolve(Response.json(told)) : reject(new TypeError("no network"))));
        })
      : Promise.resolve(Response.json({ readings: [] })),
  );
});
afterEach(() => {
  vi.restoreAllMocks();
  vi.unstubAllGlobals();
});

const says = (): string | undefined => currentFrame(bench.use.getState())?.devices["h-1"]?.says;
const answerNext = async (told: Run | null): Promise<void> => {
  waiting.shift()?.(told);
  await settle();
};

describe("a circuit that takes the place of another on the bench", () => {
  it("is not shown what was foreseen of that one", async () => {
    bench.start({ ...row }, catalogue);
    await settle();
    bench.start({ ...row }, catalogue);
    await answerNext(answer(frame(0, "of the first")));
    expect(says()).toBeUndefined();
    await answerNext(answer(frame(0, "of the second")));
    expect(says()).toBe("of the second");
  });

  it("is not told what went wrong with that one", async () => {
    bench.start({ ...row }, catalogue);
    await settle();
    bench.start({ ...row }, catalogue);
    await answerNext(null);
    expect(bench.use.getState().problem).toBeNull();
    await answerNext(answer(frame(0, "of the second")));
    expect(bench.use.getState().problem).toBeNull();
  });

  it("takes nothing that was still to be asked of that one", async () => {
    bench.start({ ...row }, catalogue);
    await settle();
    bench.operate("s-1", "press", true);
    bench.operate("s-1", "press", false);
    bench.start({ ...row }, catalogue);
    await answerNext(answer(frame(0, "of the first")));
    // The two hands wait behind that answer: they are of a circuit that is gone.
    expect(waiting).toHaveLength(1);
    await answerNext(answer(frame(0, "of the second")));
    expect([says(), waiting.length]).toEqual(["of the second", 0]);
  });

  it("does not begin to play what was to be played on that one", async () => {
    bench.start({ ...row }, catalogue);
    await settle();
    await answerNext(answer(frame(0, "first")));
    bench.play([], 2_000_000);
    await settle();
    bench.start({ ...row }, catalogue);
    bench.pause(true);
    await answerNext(answer(frame(0, "played")));
    await answerNext(answer(frame(0, "second")));
    await settle();
    expect([says(), bench.use.getState().paused]).toEqual(["second", true]);
  });
});

describe("what a frame was worked out under", () => {
  it("stays with it, whatever fault is put in later", async () => {
    bench.start({ ...row }, catalogue);
    await settle();
    await answerNext(answer(frame(0, "dark"), frame(20_000, "lit")));
    const before = bench.use.getState().frames[0];
    clockMs = 30;
    const fault = { kind: "open", place: "w-1" } as never;
    bench.putFault(fault, "the wire is open");
    await settle();
    await answerNext(answer(frame(30_000, "lit")));
    await answerNext(answer(frame(30_000, "dark")));
    const after = bench.use.getState().frames.at(-1);
    expect(before && bench.faultsIn(before)).toEqual([]);
    expect(after && bench.faultsIn(after)).toEqual([fault]);
  });
});

describe("what may be done only where it is dead", () => {
  const contactor = { id: "k-1", kind: "contactor", label: "K1" } as Device;
  const push = {
    name: "push",
    title: "Push the armature in",
    style: "momentary",
    caution: "By hand only when isolated and locked out.",
    dead_only: true,
  } as Operation;

  it("is refused with its caution until the supply is locked off", () => {
    const worked = vi.spyOn(bench, "operate").mockImplementation(() => undefined);
    const locked = vi.spyOn(bench, "lockedOff").mockReturnValue(false);
    press(bench, contactor, push, undefined, false);
    expect(worked).not.toHaveBeenCalled();
    expect(bench.use.getState().refused).toBe(
      "K1, push the armature in: By hand only when isolated and locked out.",
    );
    locked.mockReturnValue(true);
    press(bench, contactor, push, undefined, true);
    expect(worked).toHaveBeenCalledWith("k-1", "push", true);
    expect(bench.use.getState().refused).toBeNull();
    // What is in can be let out again, whatever was done to the lock since.
    locked.mockReturnValue(false);
    press(bench, contactor, push, undefined, false);
    expect(worked).toHaveBeenLastCalledWith("k-1", "push", false);
  });
});
