import { create } from "zustand";
import { api, asProblem, type Fault, type Problem, type Sequence } from "../../../api/client";
import type { Schemas } from "../../../api/types";
import { handsOf, type Instrument, type Measure, measureOf } from "../../../bench/instruments";
import type { Hand } from "../../../bench/state";
import type { End } from "../../../circuit/types";

export type Exercise = Schemas["ExerciseBody"];
export type Entry = Schemas["Entry"];
export type Step = Schemas["StepRequest"]["step"];
export type Review = NonNullable<Schemas["Reviewed"]["review"]>;
type Line = Schemas["ExerciseLine"];

/** What the hands hold at the panel of an exercise. */
interface Hands {
  readonly instrument: Instrument;
  readonly red: End | null;
  readonly black: End | null;
  readonly third: End | null;
  readonly jaw: readonly string[];
  readonly loaded: boolean;
  readonly hand: Hand;
  /** The device or wire that was pointed at last. */
  readonly picked: string | null;
}

/** An exercise of the job that is open. The record is the server's; this is what was last heard of it. */
interface State extends Hands {
  readonly job: number | undefined;
  readonly sequence: Sequence;
  readonly lines: readonly Line[];
  readonly open: Exercise | null;
  readonly busy: boolean;
  readonly problem: Problem | null;
  /** How far what every fault would have shown is worked out, while somebody waits for it. */
  readonly progress: { readonly done: number; readonly all: number } | null;
  readonly review: Review | null;
  /** The step of the review whose suspects are marked on the sheet. */
  readonly reviewed: number | null;
}

const EMPTY_HANDS: Hands = {
  instrument: "voltmeter",
  red: null,
  black: null,
  third: null,
  jaw: [],
  loaded: false,
  hand: "red",
  picked: null,
};

export const useExercise = create<State>(() => ({
  ...EMPTY_HANDS,
  job: undefined,
  sequence: { steps: [] },
  lines: [],
  open: null,
  busy: false,
  problem: null,
  progress: null,
  review: null,
  reviewed: null,
}));

const get = useExercise.getState;
export const setExercise = (change: Partial<State>): void => useExercise.setState(change);

/** Do something that the server answers; a refusal is shown, and the record is read anew where it has moved on. */
async function doing(work: () => Promise<void>): Promise<void> {
  if (get().busy) return;
  setExercise({ busy: true, problem: null });
  try {
    await work();
  } catch (error) {
    const problem = asProblem(error);
    setExercise({ problem, progress: null });
    if (problem.status === 409) await reread();
  } finally {
    setExercise({ busy: false });
  }
}

async function reread(): Promise<void> {
  const { job, open } = get();
  if (job === undefined || !open) return;
  try {
    setExercise({ open: await api.exercise(job, open.id) });
  } catch {
    // What is known already stays on the screen.
  }
}

/** Come to the exercises of a job: the one that goes on is taken up where it was. */
export async function load(job: number | undefined): Promise<void> {
  if (job === undefined) return;
  if (get().job !== job)
    setExercise({ ...EMPTY_HANDS, job, lines: [], open: null, problem: null, review: null });
  await doing(async () => {
    const [{ exercises }, { sequences }] = await Promise.all([api.exercises(job), api.sequences(job)]);
    setExercise({ lines: exercises, sequence: sequences[0]?.sequence ?? { steps: [] } });
    const going = exercises.find(({ ended_at }) => ended_at === null);
    if (!get().open && going) setExercise({ open: await api.exercise(job, going.id) });
  });
}

export const begin = (body: Schemas["NewExercise"]): Promise<void> =>
  doing(async () => {
    const { job } = get();
    if (job === undefined) return;
    const open = await api.newExercise(job, body);
    setExercise({ ...EMPTY_HANDS, open, review: null, reviewed: null });
  });

export async function look(id: number): Promise<void> {
  await doing(async () => {
    const { job } = get();
    if (job === undefined) return;
    setExercise({ ...EMPTY_HANDS, open: await api.exercise(job, id), review: null, reviewed: null });
  });
  await reviewIfEnded();
}

export const remove = (id: number): Promise<void> =>
  doing(async () => {
    const { job, lines } = get();
    if (job === undefined) return;
    await api.deleteExercise(job, id);
    setExercise({ lines: lines.filter((line) => line.id !== id) });
  });

/** Leave it: it stays as it is. */
export async function close(): Promise<void> {
  setExercise({ open: null, review: null, reviewed: null, problem: null });
  const { job } = get();
  if (job !== undefined)
    await doing(async () => setExercise({ lines: (await api.exercises(job)).exercises }));
}

const recorded = (entry: Entry): void => {
  const { open } = get();
  if (open) setExercise({ open: { ...open, entries: [...open.entries, entry] } });
};

/** With the exercise that goes on, and how much of its record is known. */
const going = (work: (job: number, id: number, known: number) => Promise<void>): Promise<void> =>
  doing(async () => {
    const { job, open } = get();
    if (job !== undefined && open && !open.ended_at) await work(job, open.id, open.entries.length);
  });

export const take = (step: Step): Promise<void> =>
  going(async (job, id, known) => recorded(await api.takeStep(job, id, { known, step })));

export const askHint = (step: number): Promise<void> =>
  going(async (job, id, known) => {
    for (;;) {
      const { done, all, entry } = await api.askHint(job, id, { known, step });
      setExercise({ progress: entry ? null : { done, all } });
      if (entry) return recorded(entry);
      if (get().open?.id !== id) return;
    }
  });

export const name = (fault: Fault): Promise<void> =>
  going(async (job, id, known) => {
    const entry = await api.nameFault(job, id, { known, fault });
    recorded(entry);
    const { open } = get();
    if (entry.right && open) setExercise({ open: await api.exercise(job, id) });
  });

export const prove = (): Promise<void> =>
  going(async (job, id, known) => recorded(await api.proveMend(job, id, known)));

export async function end(): Promise<void> {
  await going(async (job, id, known) => {
    setExercise({ open: await api.endExercise(job, id, known) });
  });
  await reviewIfEnded();
}

const reviewIfEnded = async (): Promise<void> => {
  if (get().open?.ended_at && !get().review) await askReview();
};

export const askReview = (): Promise<void> =>
  doing(async () => {
    const { job, open } = get();
    if (job === undefined || !open) return;
    for (;;) {
      const { done, all, review } = await api.reviewExercise(job, open.id);
      setExercise({ progress: review ? null : { done, all } });
      if (review) return setExercise({ review, reviewed: review.steps.at(-1)?.number ?? null });
      if (get().open?.id !== open.id) return;
    }
  });

/** Put a probe down with the hand whose turn it is, or with the one named. */
export function probe(end: End, hand: Hand = get().hand): void {
  const hands = handsOf(get().instrument);
  const next = hands[(hands.indexOf(hand) + 1) % hands.length] ?? "red";
  setExercise({ [hand]: end, hand: next });
}

export function clamp(wire: string): void {
  const { jaw } = get();
  setExercise({ jaw: jaw.includes(wire) ? jaw.filter((id) => id !== wire) : [...jaw, wire] });
}

/** What would be measured, once the probes of the instrument stand somewhere. */
export const useMeasure = (): Measure | null => measureOf(useExercise());

/** What is seen at the panel now: what came of the last thing that took time. */
export const seenNow = (open: Exercise): Entry["seen"] =>
  open.entries.findLast(({ seen }) => Object.keys(seen).length > 0)?.seen ?? {};

/** Wires that are off, and what the apprentice has ruled out, after all that was recorded. */
export function marksOf(open: Exercise): { lifted: string[]; ruledOut: Set<string> } {
  const lifted = new Set<string>();
  const ruledOut = new Set<string>();
  const put = (set: Set<string>, what: string, there: boolean): void => {
    if (there) set.add(what);
    else set.delete(what);
  };
  for (const { step } of open.entries) {
    if (step?.kind === "lift") put(lifted, step.wire, step.off);
    if (step?.kind === "rule_out") put(ruledOut, step.place, step.out);
  }
  return { lifted: [...lifted], ruledOut };
}
