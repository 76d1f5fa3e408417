import { api, asProblem, type Fault, type Problem, type Sequence, sequenceOf } from "../../../api/client";
import type { Schemas } from "../../../api/types";
import { handsOf, measureOf } from "../../../bench/instruments";
import type { Hand, Instrument, Measure } from "../../../bench/state";
import type { End } from "../../../circuit/types";
import { perJob, type Session, storePerJob } from "../../../common/session";

export type Exercise = Schemas["ExerciseBody"];
export type Entry = Schemas["ToldEntry"];
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
  readonly turned: readonly string[];
  readonly loaded: boolean;
  readonly hand: Hand;
  /** The device or wire that was pointed at last. */
  readonly picked: string | null;
}

/** An exercise of the job that is open. The record is the server's; this is what was last heard of it. */
interface State extends Hands {
  readonly sequence: Sequence;
  readonly lines: readonly Line[];
  /** What costs how many points of a mark, as usual. */
  readonly rule: Schemas["ExerciseList"]["rule"];
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
  turned: [],
  loaded: false,
  hand: "red",
  picked: null,
};

export const useExercise = storePerJob<State>(() => ({
  ...EMPTY_HANDS,
  sequence: sequenceOf([]),
  lines: [],
  rule: [],
  open: null,
  busy: false,
  problem: null,
  progress: null,
  review: null,
  reviewed: null,
}));

const get = useExercise.getState;
export const setExercise = (change: Partial<State>): void => useExercise.setState(change);

/** The exercises of one job. What is answered late goes to the job that it was asked for. */
class Exercises {
  private readonly store = useExercise.here();

  constructor(private readonly session: Session) {}

  private get = (): State => this.store.getState();
  private set = (change: Partial<State>): void => this.store.setState(change);

  /** Do something that the server answers; a refusal is shown, and the record is read anew where it has moved on. */
  private async doing(work: (job: number) => Promise<void>): Promise<void> {
    const { job } = this.session;
    if (job === undefined || this.get().busy) return;
    this.set({ busy: true, problem: null });
    try {
      await work(job);
    } catch (error) {
      const problem = asProblem(error);
      this.set({ problem, progress: null });
      if (problem.status === 409) await this.reread(job);
    } finally {
      this.set({ busy: false });
    }
  }

  private async reread(job: number): Promise<void> {
    const { open } = this.get();
    if (!open) return;
    try {
      // All of it: what was known of the last entry may be what has been judged since.
      this.set({ open: await api.exercise(job, open.id) });
    } catch {
      // What is known already stays on the screen.
    }
  }

  /** The one that goes on is taken up where it was. */
  load(): Promise<void> {
    return this.doing(async (job) => {
      const [{ exercises, rule }, { sequences }] = await Promise.all([
        api.exercises(job),
        api.sequences(job),
      ]);
      this.set({ lines: exercises, rule, sequence: sequences[0]?.sequence ?? sequenceOf([]) });
      const going = exercises.find(({ ended_at, mine }) => ended_at === null && mine);
      if (!this.get().open && going) this.set({ open: await api.exercise(job, going.id) });
    });
  }

  begin(body: Schemas["NewExercise"]): Promise<void> {
    return this.doing(async (job) => this.show(await api.newExercise(job, body)));
  }

  async look(id: number): Promise<void> {
    await this.doing(async (job) => this.show(await api.exercise(job, id)));
    await this.reviewIfTold();
  }

  private show(open: Exercise): void {
    this.set({ ...EMPTY_HANDS, open, review: null, reviewed: null });
  }

  remove(id: number): Promise<void> {
    return this.doing(async (job) => {
      await api.deleteExercise(job, id);
      this.set({ lines: this.get().lines.filter((line) => line.id !== id) });
    });
  }

  async close(): Promise<void> {
    this.set({ open: null, review: null, reviewed: null, problem: null });
    await this.doing(async (job) => this.set({ lines: (await api.exercises(job)).exercises }));
  }

  private recorded(entry: Entry): void {
    const { open } = this.get();
    if (open) this.set({ open: { ...open, entries: [...open.entries, entry] } });
  }

  /** With the exercise that goes on, and how much of its record is known. */
  private going(work: (job: number, open: Exercise, known: number) => Promise<void>): Promise<void> {
    return this.doing(async (job) => {
      const { open } = this.get();
      if (open && !open.ended_at) await work(job, open, open.entries.length);
    });
  }

  take(step: Step): Promise<void> {
    return this.going(async (job, { id }, known) =>
      this.recorded(await api.takeStep(job, id, { known, step })),
    );
  }

  askHint(step: number): Promise<void> {
    return this.going(async (job, { id }, known) => {
      for (;;) {
        const { done, all, entry } = await api.askHint(job, id, { known, step });
        this.set({ progress: entry ? null : { done, all } });
        if (entry) return this.recorded(entry);
        if (this.get().open?.id !== id) return;
      }
    });
  }

  name(fault: Fault): Promise<void> {
    return this.going(async (job, open, known) => {
      const entry = await api.nameFault(job, open.id, { known, fault });
      this.recorded(entry);
      if (!entry.right) return;
      // What else it says of the exercise, without what is known of the record.
      const { entries } = this.get().open ?? open;
      this.set({ open: { ...(await api.exercise(job, open.id, entries.length)), entries } });
    });
  }

  prove(): Promise<void> {
    return this.going(async (job, { id }, known) => this.recorded(await api.proveMend(job, id, known)));
  }

  async end(): Promise<void> {
    await this.going(async (job, { id }, known) => this.set({ open: await api.endExercise(job, id, known) }));
    await this.reviewIfTold();
  }

  /** Close the number under which all are given the same: what it hides is told. */
  async closeNumber(): Promise<void> {
    await this.doing(async (job) => {
      const { open } = this.get();
      if (open) this.set({ open: await api.closeNumber(job, open.id) });
    });
    await this.reviewIfTold();
  }

  private async reviewIfTold(): Promise<void> {
    const { open, review } = this.get();
    if (open?.ended_at && isTold(open) && !review) await this.review();
  }

  review(): Promise<void> {
    return this.doing(async (job) => {
      const { open } = this.get();
      if (!open) return;
      for (;;) {
        const { done, all, review } = await api.reviewExercise(job, open.id);
        this.set({ progress: review ? null : { done, all } });
        if (review) return this.set({ review, reviewed: review.steps.at(-1)?.number ?? null });
        if (this.get().open?.id !== open.id) return;
      }
    });
  }
}

const exercises = perJob((session) => new Exercises(session));

/** May what was hidden be told, now that it has ended? */
export const isTold = (open: Exercise): boolean => open.number === null || open.number_closed;

/** Come to the exercises of the job that is open. */
export const load = (): Promise<void> => exercises.here().load();
export const begin = (body: Schemas["NewExercise"]): Promise<void> => exercises.here().begin(body);
export const look = (id: number): Promise<void> => exercises.here().look(id);
export const remove = (id: number): Promise<void> => exercises.here().remove(id);
/** Leave it: it stays as it is. */
export const close = (): Promise<void> => exercises.here().close();
export const take = (step: Step): Promise<void> => exercises.here().take(step);
export const askHint = (step: number): Promise<void> => exercises.here().askHint(step);
export const name = (fault: Fault): Promise<void> => exercises.here().name(fault);
export const prove = (): Promise<void> => exercises.here().prove();
export const end = (): Promise<void> => exercises.here().end();
export const closeNumber = (): Promise<void> => exercises.here().closeNumber();
export const askReview = (): Promise<void> => exercises.here().review();

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
