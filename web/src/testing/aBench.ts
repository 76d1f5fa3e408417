import { afterEach, beforeEach, vi } from "vitest";
import { Bench } from "../bench/bench";
import { currentFrame } from "../bench/state";
import type { Frame, Run } from "../circuit/types";
import { catalogue, row } from "./circuits";

export const frame = (timeUs: number, says: string): Frame => ({
  time_us: timeUs,
  state: { time_us: timeUs, devices: {} },
  devices: {
    "h-1": {
      status: says,
      says,
      active: says === "lit",
      attention: false,
      closed: {},
      on: {},
      figures: [],
      due_us: null,
    },
  },
  terminals: {},
  conductors_a: {},
  readings: [],
});

export const answer = (...frames: Frame[]): Run => ({
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

export const settle = (): Promise<void> => new Promise((resolve) => setTimeout(resolve, 5));

/** A bench whose clock and whose core are in the hands of the test. */
export class BenchOnTrial {
  bench = new Bench();
  asked: Asked[] = [];
  answers: unknown[] = [];
  clockMs = 0;

  tickTo(ms: number): void {
    this.clockMs = ms;
    this.bench.tick();
  }

  says(): string | undefined {
    return currentFrame(this.bench.use.getState())?.devices["h-1"]?.says;
  }

  async start(...frames: Frame[]): Promise<void> {
    this.answers.push(answer(...frames));
    this.bench.start({ ...row }, catalogue);
    await settle();
  }
}

/** A fresh bench before each test of a file. */
export function aBench(): BenchOnTrial {
  const here = new BenchOnTrial();
  beforeEach(() => {
    Object.assign(here, new BenchOnTrial());
    vi.spyOn(performance, "now").mockImplementation(() => here.clockMs);
    vi.stubGlobal("fetch", async (path: string, init: { body: string }) => {
      here.asked.push({ path, body: JSON.parse(init.body) });
      const next = here.answers.length ? here.answers.shift() : { readings: [] };
      // Null stands for a name that the server does not know.
      if (next === null) return new Response(null, { status: 204 });
      return new Response(JSON.stringify(next), { status: 200 });
    });
  });
  afterEach(() => {
    vi.restoreAllMocks();
    vi.unstubAllGlobals();
  });
  return here;
}
