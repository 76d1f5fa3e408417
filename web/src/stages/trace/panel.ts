import { api, asProblem, type Problem, type Sequence, sequenceOf } from "../../api/client";
import type { Schemas } from "../../api/types";
import type { Circuit, End } from "../../circuit/types";
import { perJob, type Session, storePerJob } from "../../common/session";
import { keep, kept } from "../../common/store";
import { drop } from "../../saved/drafts";
import { type Kind, opened, SAVED, Saver, type Standing } from "../../saved/saver";

export type Made = Schemas["ObservationData-Output"];
export type Advised = Schemas["AdviceAnswer"];
type Reach = Advised["reach"];

/** What is noted for the first time. */
type Observed = Omit<Made, "twice">;

interface Progress {
  readonly done: number;
  readonly all: number;
}

/** A real panel beside the circuit: what was seen and read there, and what the engine makes of it. */
interface Panel extends Standing {
  readonly sequence: Sequence;
  readonly made: readonly Made[];
  readonly advised: Advised | null;
  /** Is an answer awaited that will take the place of what is advised? */
  readonly asking: boolean;
  /** How far the fault dictionary is; null until somebody asked for it. */
  readonly progress: Progress | null;
  /** How far what is looked at beyond the likely faults is; null while nothing is. */
  readonly farther: (Progress & { readonly reach: Reach }) | null;
  /** What was found, as it is kept, by its words: what is found often is likelier from then on. */
  readonly found: { readonly words: string; readonly id: number } | null;
  readonly problem: Problem | null;
  /** The terminals that the next reading is between. */
  readonly red: End | null;
  readonly black: End | null;
  /** The state of the circuit that is looked at: -1 for isolated and locked out. */
  readonly halt: number;
  /** How often kinds of fault come about in this plant, where that is known better. */
  readonly weights: Readonly<Record<string, number>>;
}

const FRESH: Panel = {
  ...SAVED,
  sequence: sequenceOf([]),
  made: [],
  advised: null,
  asking: false,
  progress: null,
  farther: null,
  found: null,
  problem: null,
  red: null,
  black: null,
  halt: 0,
  weights: {},
};

/** How long a server that is busy is left alone. */
const ASK_AGAIN_MS = 1_000;

export const usePanel = storePerJob<Panel>(() => FRESH);

export const setPanel = (change: Partial<Panel>): void => usePanel.setState(change);

const formerPlace = (job: number): string => `wiretrace-panel-${job}`;

const madeOf = (job: number): Kind<readonly Made[]> => ({
  name: "panel",
  of: String(job),
  afterMs: 400,
  read: async () => {
    const { version, writer, panel } = await api.panel(job);
    return { version, writer, value: panel.observations };
  },
  save: (order, made) => api.savePanel(job, order, { observations: [...made] }),
  upgraded: (value) => (Array.isArray(value) ? (value as Made[]) : undefined),
  former: {
    value: () => read(formerPlace(job)),
    drop: () => drop(formerPlace(job)),
  },
});

const WEIGHTS = "wiretrace-fault-weights";

function read(place: string): unknown {
  try {
    return JSON.parse(kept("localStorage", place) || "null");
  } catch {
    return null;
  }
}

/** The real panel of one job: its observations are kept on the server, and the engine is asked about them. */
class RealPanel {
  private readonly store = usePanel.here();
  private readonly saver: Saver<readonly Made[]> | null;
  private readonly kind: Kind<readonly Made[]> | null;
  private ready = false;
  private asked: Circuit | null = null;
  /** Counts up with each beginning: what belongs to an earlier one is given up. */
  private round = 0;
  private asks = 0;
  /** The farthest that was worked out for this circuit. */
  private reach: Reach = "likely";
  private reaching = false;

  constructor(private readonly session: Session) {
    this.kind = session.job === undefined ? null : madeOf(session.job);
    this.saver = this.kind && this.savedAs(this.kind);
    session.onEnd(() => {
      this.leave();
      void this.saver?.leave();
    });
  }

  private savedAs(kind: Kind<readonly Made[]>): Saver<readonly Made[]> {
    const { getState, setState } = this.store;
    return new Saver(kind, { value: () => getState().made, standing: getState, tell: setState });
  }

  /** Begin with a circuit: the observations of its job, and its dictionary. */
  async begin(circuit: Circuit): Promise<void> {
    if (this.asked === circuit) return;
    this.asked = circuit;
    this.round += 1;
    this.asks += 1;
    const mine = this.round;
    const { sequence, halt, advised, asking, progress, farther, found, problem, red, black } = FRESH;
    this.store.setState({ sequence, halt, advised, asking, progress, farther, found, problem, red, black });
    this.store.setState({ weights: rememberedWeights() });
    this.reach = "likely";
    try {
      await this.load();
      await this.makeDictionary(circuit, mine);
    } catch (error) {
      this.store.setState({ problem: asProblem(error) });
    }
  }

  private async load(): Promise<void> {
    const { job } = this.session;
    if (job === undefined || !this.kind) return;
    const known = await api.sequences(job);
    this.store.setState({ sequence: known.sequences[0]?.sequence ?? sequenceOf([]) });
    if (this.ready) return;
    const found = await opened(this.kind);
    this.store.setState({ made: found.value });
    this.saver?.begin(found);
    this.ready = true;
  }

  /** Leave: nothing more is worked out for now. */
  leave(): void {
    this.round += 1;
    this.asked = null;
  }

  private async makeDictionary(circuit: Circuit, mine: number): Promise<void> {
    // Two askers at once keep two cores busy.
    const worker = async (): Promise<void> => {
      for (;;) {
        if (mine !== this.round) return;
        const progress = await this.moreRows(circuit, mine, "likely");
        if (mine !== this.round) return;
        if (!progress) continue;
        const before = this.store.getState().progress?.done ?? 0;
        this.store.setState({ progress: { ...progress, done: Math.max(before, progress.done) } });
        if (progress.done >= progress.all) return;
      }
    };
    await Promise.all([worker(), worker()]);
    if (mine === this.round) await this.advise(circuit);
  }

  /** How far the dictionary is after some more work on it. A server that is busy or away is asked again: null. */
  private async moreRows(circuit: Circuit, mine: number, reach: Reach): Promise<Progress | null> {
    try {
      const { sequence, made } = this.store.getState();
      const progress = await api.workOnFaults({ circuit, sequence, reach, observations: [...made] });
      if (mine === this.round) this.store.setState({ problem: null });
      return progress;
    } catch (error) {
      const problem = asProblem(error);
      if (!problem.passing) throw error;
      if (mine === this.round) this.store.setState({ problem });
      await new Promise((done) => setTimeout(done, ASK_AGAIN_MS));
      return null;
    }
  }

  /** Ask what fits all that was observed, and what to observe next. */
  async advise(circuit: Circuit): Promise<boolean> {
    const { sequence, made, weights } = this.store.getState();
    this.asks += 1;
    const mine = this.asks;
    // Of two that are asked at once, only the last is of what is observed now.
    const tell = (change: Partial<Panel>): void => {
      if (mine === this.asks) this.store.setState({ ...change, asking: false });
    };
    this.store.setState({ asking: true });
    try {
      const { reach } = this;
      const observations = [...made];
      const asked = { circuit, sequence, reach, observations, weights: { ...weights } };
      tell({ advised: await api.adviceOnFaults(asked), problem: null });
      void this.reachFarther(circuit);
      return true;
    } catch (error) {
      tell({ problem: asProblem(error) });
      return false;
    }
  }

  /** Work out what lies beyond, where somebody has observed something; what is advised follows it. */
  private async reachFarther(circuit: Circuit): Promise<void> {
    const mine = this.round;
    if (this.reaching) return;
    this.reaching = true;
    try {
      for (;;) {
        const reach = this.wanted();
        if (!reach) return;
        const progress = await this.moreRows(circuit, mine, reach);
        if (mine !== this.round) return;
        if (!progress) continue;
        if (progress.done < progress.all) {
          this.store.setState({ farther: { ...progress, reach } });
          continue;
        }
        this.reach = reach;
        this.store.setState({ farther: null });
        if (!(await this.advise(circuit)) || mine !== this.round) return;
      }
    } catch (error) {
      if (mine === this.round) this.store.setState({ problem: asProblem(error) });
    } finally {
      this.reaching = false;
      if (mine === this.round) this.store.setState({ farther: null });
    }
  }

  /** What is to be looked at beyond what is advised from: rare faults, then two at once where none explains it. */
  private wanted(): Reach | null {
    const { advised, made } = this.store.getState();
    if (!advised || made.length === 0) return null;
    if (advised.reach === "likely") return "rare";
    return advised.reach === "rare" && advised.outside ? "pairs" : null;
  }

  /** Keep that this was it, or take it back. */
  async find(circuit: Circuit, words: string, kinds: readonly string[]): Promise<void> {
    const { job } = this.session;
    const { found } = this.store.getState();
    if (job === undefined) return;
    try {
      if (found) await api.forgetFind(job, found.id);
      const again = found?.words === words;
      const kept = again ? null : { words, id: (await api.keepFind(job, circuit, kinds)).id };
      this.store.setState({ found: kept, problem: null });
    } catch (error) {
      this.store.setState({ problem: asProblem(error) });
    }
  }

  /** Say that an observation was made again and came out the same. */
  async insist(circuit: Circuit, number: number): Promise<void> {
    const made = this.store.getState().made.map((one, at) => (at === number ? { ...one, twice: true } : one));
    this.store.setState({ made });
    this.keep();
    await this.advise(circuit);
  }

  /** Note an observation. One that cannot be understood is not kept. */
  async observe(circuit: Circuit, observed: Observed): Promise<void> {
    const one: Made = { ...observed, twice: false };
    const before = this.store.getState().made;
    const same = (other: Made): boolean =>
      other.halt === one.halt &&
      JSON.stringify([other.device, other.red, other.black]) ===
        JSON.stringify([one.device, one.red, one.black]);
    const made = [...before.filter((other) => !same(other)), ...(one.text ? [one] : [])];
    this.store.setState({ made });
    if (await this.advise(circuit)) this.keep();
    else this.store.setState({ made: before });
  }

  /** Forget one observation, or all. */
  async forget(circuit: Circuit, number: number | null): Promise<void> {
    const { made } = this.store.getState();
    this.store.setState({ made: number === null ? [] : made.filter((_, at) => at !== number) });
    this.keep();
    await this.advise(circuit);
  }

  private keep(): void {
    if (this.ready) this.saver?.changed();
  }

  /** Another window saved something: take that, or put what is here in its place. */
  async resolve(circuit: Circuit, mine: boolean): Promise<void> {
    try {
      if (mine) await this.saver?.mine();
      else if (this.saver) this.store.setState({ made: await this.saver.theirs() });
      await this.advise(circuit);
    } catch (error) {
      this.store.setState({ problem: asProblem(error) });
    }
  }
}

function rememberedWeights(): Record<string, number> {
  const weights = read(WEIGHTS);
  return weights && typeof weights === "object" ? (weights as Record<string, number>) : {};
}

const panel = perJob((session) => new RealPanel(session));

export const begin = (circuit: Circuit): Promise<void> => panel.here().begin(circuit);
export const leave = (): void => panel.here().leave();
export const advise = (circuit: Circuit): Promise<boolean> => panel.here().advise(circuit);
export const observe = (circuit: Circuit, one: Observed): Promise<void> => panel.here().observe(circuit, one);
export const forget = (circuit: Circuit, number: number | null): Promise<void> =>
  panel.here().forget(circuit, number);
export const insist = (circuit: Circuit, number: number): Promise<void> =>
  panel.here().insist(circuit, number);
export const find = (circuit: Circuit, words: string, kinds: readonly string[]): Promise<void> =>
  panel.here().find(circuit, words, kinds);
export const resolve = (circuit: Circuit, mine: boolean): Promise<void> =>
  panel.here().resolve(circuit, mine);

/** Say how often a kind of fault comes about here; it is remembered for every job. */
export async function weigh(circuit: Circuit, kind: string, weight: number): Promise<void> {
  setPanel({ weights: { ...usePanel.getState().weights, [kind]: weight } });
  keep("localStorage", WEIGHTS, JSON.stringify(usePanel.getState().weights));
  await advise(circuit);
}
