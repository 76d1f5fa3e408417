import { create } from "zustand";
import { api, asProblem, type Problem, type Sequence } from "../../api/client";
import type { Schemas } from "../../api/types";
import type { Circuit, End } from "../../circuit/types";
import { keep, kept } from "../../common/store";

export type Made = Schemas["ObservationData"];
export type Advised = Schemas["AdviceAnswer"];

/** A real panel beside the circuit: what was seen and read there, and what the engine makes of it. */
interface Panel {
  readonly job: number | undefined;
  readonly sequence: Sequence;
  readonly made: readonly Made[];
  readonly advised: Advised | null;
  /** Is an answer awaited that will take the place of what is advised? */
  readonly asking: boolean;
  /** How far the fault dictionary is; null until somebody asked for it. */
  readonly progress: { readonly done: number; readonly all: number } | null;
  readonly problem: Problem | null;
  /** The terminals that the next reading is between. */
  readonly red: End | null;
  readonly black: End | null;
  /** The state of the circuit that is looked at: -1 for dead and locked off. */
  readonly halt: number;
  /** How often kinds of fault come about in this plant, where that is known better. */
  readonly weights: Readonly<Record<string, number>>;
}

const FRESH: Omit<Panel, "job"> = {
  sequence: { steps: [] },
  made: [],
  advised: null,
  asking: false,
  progress: null,
  problem: null,
  red: null,
  black: null,
  halt: 0,
  weights: {},
};

export const usePanel = create<Panel>(() => ({ job: undefined, ...FRESH }));

export const setPanel = (change: Partial<Panel>): void => usePanel.setState(change);

const place = (job: number | undefined): string => `wiretrace-panel-${job}`;

let asked: Circuit | null = null;
let session = 0;
let asks = 0;

/** Begin with a circuit: the observations that this browser remembers of the job, and its dictionary. */
export async function begin(job: number | undefined, circuit: Circuit): Promise<void> {
  if (asked === circuit && usePanel.getState().job === job) return;
  asked = circuit;
  session += 1;
  asks += 1;
  setPanel({ job, ...FRESH, made: remembered(job), weights: rememberedWeights() });
  try {
    const known = job === undefined ? { sequences: [] } : await api.sequences(job);
    setPanel({ sequence: known.sequences[0]?.sequence ?? { steps: [] } });
    await makeDictionary(circuit, session);
  } catch (error) {
    setPanel({ problem: asProblem(error) });
  }
}

/** Leave: nothing more is worked out for now. */
export function leave(): void {
  session += 1;
  asked = null;
}

function remembered(job: number | undefined): Made[] {
  try {
    const made: unknown = JSON.parse(kept("localStorage", place(job)) || "[]");
    return Array.isArray(made) ? (made as Made[]) : [];
  } catch {
    return [];
  }
}

const WEIGHTS = "wiretrace-fault-weights";

function rememberedWeights(): Record<string, number> {
  try {
    const weights: unknown = JSON.parse(kept("localStorage", WEIGHTS) || "{}");
    return weights && typeof weights === "object" ? (weights as Record<string, number>) : {};
  } catch {
    return {};
  }
}

/** Say how often a kind of fault comes about here; it is remembered for every job. */
export async function weigh(circuit: Circuit, kind: string, weight: number): Promise<void> {
  setPanel({ weights: { ...usePanel.getState().weights, [kind]: weight } });
  keep("localStorage", WEIGHTS, JSON.stringify(usePanel.getState().weights));
  await advise(circuit);
}

async function makeDictionary(circuit: Circuit, mine: number): Promise<void> {
  const { sequence } = usePanel.getState();
  // Two askers at once keep two cores busy.
  const worker = async (): Promise<void> => {
    for (;;) {
      if (mine !== session) return;
      const progress = await api.workOnFaults(circuit, sequence);
      if (mine !== session) return;
      const before = usePanel.getState().progress?.done ?? 0;
      setPanel({ progress: { ...progress, done: Math.max(before, progress.done) } });
      if (progress.done >= progress.all) return;
    }
  };
  await Promise.all([worker(), worker()]);
  if (mine === session) await advise(circuit);
}

/** Ask what fits all that was observed, and what to observe next. */
export async function advise(circuit: Circuit): Promise<boolean> {
  const { sequence, made, weights } = usePanel.getState();
  asks += 1;
  const mine = asks;
  // Of two that are asked at once, only the last is of what is observed now.
  const tell = (change: Partial<Panel>): void => {
    if (mine === asks) setPanel({ ...change, asking: false });
  };
  setPanel({ asking: true });
  try {
    tell({ advised: await api.adviceOnFaults(circuit, sequence, [...made], { ...weights }), problem: null });
    return true;
  } catch (error) {
    tell({ problem: asProblem(error) });
    return false;
  }
}

function remember(): void {
  const { job, made } = usePanel.getState();
  keep("localStorage", place(job), JSON.stringify(made));
}

/** Note an observation. One that cannot be understood is not kept. */
export async function observe(circuit: Circuit, one: Made): Promise<void> {
  const before = usePanel.getState().made;
  const same = (other: Made): boolean =>
    other.halt === one.halt &&
    JSON.stringify([other.device, other.red, other.black]) ===
      JSON.stringify([one.device, one.red, one.black]);
  const made = [...before.filter((other) => !same(other)), ...(one.text ? [one] : [])];
  setPanel({ made });
  if (await advise(circuit)) remember();
  else setPanel({ made: before });
}

/** Forget one observation, or all. */
export async function forget(circuit: Circuit, number: number | null): Promise<void> {
  const { made, job } = usePanel.getState();
  const left = number === null ? [] : made.filter((_, at) => at !== number);
  setPanel({ made: left });
  keep("localStorage", place(job), JSON.stringify(left));
  await advise(circuit);
}
