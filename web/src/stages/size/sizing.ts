import { api, asProblem, type Problem } from "../../api/client";
import type { Schemas } from "../../api/types";
import { perJob, type Session, storePerJob } from "../../common/session";
import { kept } from "../../common/store";
import { drop } from "../../saved/drafts";
import { type Kind, opened, SAVED, Saver, type Standing } from "../../saved/saver";

export type SizingData = Schemas["SizingData-Output"];
export type Answer = Schemas["SizingAnswer"];
export type Form = Schemas["SizingForm"];
export type SheetLine = Answer["lines"][number];

/** What was filled in for a job, and what came of it. Everything is worked out by the core. */
interface State extends Standing {
  readonly form: Form | null;
  /** Is what the job has of it there? Until then nothing can be filled in. */
  readonly ready: boolean;
  readonly data: SizingData;
  readonly answer: Answer | null;
  readonly problem: Problem | null;
}

const EMPTY: SizingData = {
  format: "wiretrace/sizing",
  version: 1,
  fields: {},
  schools: {},
  own: {},
  series: {},
};

export const useSizing = storePerJob<State>(() => ({
  ...SAVED,
  form: null,
  ready: false,
  data: EMPTY,
  answer: null,
  problem: null,
}));

const formerPlace = (job: number): string => `wiretrace-sizing-${job}`;

const sizingOf = (job: number): Kind<SizingData> => ({
  name: "sizing",
  of: String(job),
  afterMs: 600,
  read: async () => {
    const { version, writer, sizing } = await api.sizing(job);
    return { version, writer, value: sizing };
  },
  save: (order, sizing) => api.saveSizing(job, order, sizing),
  upgraded: (value) =>
    value && typeof value === "object" && "fields" in value
      ? { ...EMPTY, ...(value as Partial<SizingData>) }
      : undefined,
  former: {
    value: () => read(formerPlace(job)),
    drop: () => drop(formerPlace(job)),
  },
});

function read(place: string): unknown {
  try {
    return JSON.parse(kept("localStorage", place) || "null");
  } catch {
    return null;
  }
}

/** The sizing of one job: loaded, worked out and saved. */
class Sizing {
  private readonly store = useSizing.here();
  private readonly kind: Kind<SizingData>;
  private readonly saver: Saver<SizingData>;
  private asking = false;
  private stale = false;

  constructor(session: Session) {
    this.kind = sizingOf(session.job ?? 0);
    this.saver = new Saver(this.kind, {
      value: () => this.store.getState().data,
      standing: this.store.getState,
      tell: this.store.setState,
    });
    session.onEnd(() => void this.saver.leave());
  }

  /** As the server has it, or with what this browser could not save. */
  async load(): Promise<void> {
    const { ready } = this.store.getState();
    try {
      const form = await api.sizingForm();
      this.store.setState({ form, problem: null });
      // What is filled in here is newer than what the server has.
      if (!ready) {
        const found = await opened(this.kind);
        this.store.setState({ data: found.value, ready: true });
        this.saver.begin(found);
      }
      await this.work();
    } catch (error) {
      this.store.setState({ problem: asProblem(error) });
    }
  }

  change(data: Partial<SizingData>): void {
    if (!this.store.getState().ready) return;
    this.store.setState({ data: { ...this.store.getState().data, ...data } });
    this.saver.changed();
    void this.work();
  }

  /** Work it out; while an answer is awaited, only what is last filled in is asked for again. */
  private async work(): Promise<void> {
    this.stale = true;
    if (this.asking) return;
    this.asking = true;
    try {
      while (this.stale) {
        this.stale = false;
        this.store.setState({ answer: await api.size(this.store.getState().data), problem: null });
      }
    } catch (error) {
      this.store.setState({ problem: asProblem(error) });
    } finally {
      this.asking = false;
    }
  }

  /** Another window saved something: take that, or put what is here in its place. */
  async resolve(mine: boolean): Promise<void> {
    try {
      if (mine) await this.saver.mine();
      else this.store.setState({ data: await this.saver.theirs() });
      await this.work();
    } catch (error) {
      this.store.setState({ problem: asProblem(error) });
    }
  }
}

const sizing = perJob((session) => new Sizing(session));

/** Come to the sizing of the job that is open. */
export const load = (job: number | undefined): Promise<void> =>
  job === undefined ? Promise.resolve() : sizing.here().load();

/** Change what was filled in: it is worked out at once, and saved a little later. */
export const change = (data: Partial<SizingData>): void => sizing.here().change(data);

export const fill = (field: string, text: string): void =>
  change({ fields: { ...useSizing.getState().data.fields, [field]: text } });

/** Another window saved something: take that, or put what is here in its place. */
export const resolve = (mine: boolean): Promise<void> => sizing.here().resolve(mine);
