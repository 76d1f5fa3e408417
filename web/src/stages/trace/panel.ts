import { api, asProblem, type Problem, type Sequence, sequenceOf } from "../../api/client";
import type { Schemas } from "../../api/types";
import type { Circuit, End } from "../../circuit/types";
import { perJob, type Session, storePerJob } from "../../common/session";
import { keep, kept } from "../../common/store";
import { drop } from "../../saved/drafts";
import { type Kind, opened, SAVED, Saver, type Standing } from "../../saved/saver";

export type Made = Schemas["ObservationData-Output"];
export type Advised = Schemas["AdviceAnswer"];

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
    const { sequence, halt, advised, asking, progress, problem, red, black } = FRESH;
    this.store.setState({ sequence, halt, advised, asking, progress, problem, red, black });
    this.store.setState({ weights: rememberedWeights() });
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
        const progress = await this.moreRows(circuit, mine);
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
  private async moreRows(circuit: Circuit, mine: number): Promise<Progress | null> {
    try {
      const progress = await api.workOnFaults(circuit, this.store.getState().sequence);
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
      tell({
        advised: await api.adviceOnFaults(circuit, sequence, [...made], { ...weights }),
        problem: null,
      });
      return true;
    } catch (error) {
      tell({ problem: asProblem(error) });
      return false;
    }
  }

  /** Note an observation. One that cannot be understood is not kept. */
  async observe(circuit: Circuit, one: Made): Promise<void> {
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
export const observe = (circuit: Circuit, one: Made): Promise<void> => panel.here().observe(circuit, one);
export const forget = (circuit: Circuit, number: number | null): Promise<void> =>
  panel.here().forget(circuit, number);
export const resolve = (circuit: Circuit, mine: boolean): Promise<void> =>
  panel.here().resolve(circuit, mine);

/** Say how often a kind of fault comes about here; it is remembered for every job. */
export async function weigh(circuit: Circuit, kind: string, weight: number): Promise<void> {
  setPanel({ weights: { ...usePanel.getState().weights, [kind]: weight } });
  keep("localStorage", WEIGHTS, JSON.stringify(usePanel.getState().weights));
  await advise(circuit);
}
