import { create } from "zustand";
import { api, asProblem, type Problem } from "../../api/client";
import type { Schemas } from "../../api/types";
import { keep, kept } from "../../common/store";

export type SizingData = Schemas["SizingData-Output"];
export type Answer = Schemas["SizingAnswer"];
export type Form = Schemas["SizingForm"];
export type SheetLine = Answer["lines"][number];

/** What was filled in for the job that is open, and what came of it. Everything is worked out by the core. */
interface State {
  readonly job: number | undefined;
  readonly form: Form | null;
  readonly data: SizingData;
  /** The version that the server has of it. */
  readonly version: number;
  readonly answer: Answer | null;
  readonly problem: Problem | null;
  readonly saved: boolean;
}

const EMPTY: SizingData = {
  format: "wiretrace/sizing",
  version: 1,
  fields: {},
  schools: {},
  own: {},
  series: {},
};

export const useSizing = create<State>(() => ({
  job: undefined,
  form: null,
  data: EMPTY,
  version: 0,
  answer: null,
  problem: null,
  saved: true,
}));

const get = useSizing.getState;
const set = (change: Partial<State>): void => useSizing.setState(change);
const place = (job: number | undefined): string => `wiretrace-sizing-${job}`;

const SAVE_AFTER_MS = 600;
let asking = false;
let stale = false;
let saving: ReturnType<typeof setTimeout> | undefined;

/** Come to the sizing of a job: as the server has it, or with what this browser could not save. */
export async function load(job: number | undefined): Promise<void> {
  if (job === undefined) return;
  if (get().job !== job) set({ job, data: EMPTY, version: 0, answer: null, problem: null, saved: true });
  try {
    const [form, { sizing, version }] = await Promise.all([api.sizingForm(), api.sizing(job)]);
    const left = unsaved(job);
    set({ form, data: left ?? sizing, version, saved: !left, problem: null });
    if (left) saveSoon();
    await work();
  } catch (error) {
    set({ problem: asProblem(error) });
  }
}

function unsaved(job: number): SizingData | null {
  try {
    const left: unknown = JSON.parse(kept("localStorage", place(job)) || "null");
    return left && typeof left === "object" ? { ...EMPTY, ...left } : null;
  } catch {
    return null;
  }
}

/** Change what was filled in: it is worked out at once, and saved a little later. */
export function change(data: Partial<SizingData>): void {
  set({ data: { ...get().data, ...data }, saved: false });
  keep("localStorage", place(get().job), JSON.stringify(get().data));
  void work();
  saveSoon();
}

export const fill = (field: string, text: string): void =>
  change({ fields: { ...get().data.fields, [field]: text } });

/** Work it out; while an answer is awaited, only what is last filled in is asked for again. */
async function work(): Promise<void> {
  stale = true;
  if (asking) return;
  asking = true;
  try {
    while (stale) {
      stale = false;
      set({ answer: await api.size(get().data), problem: null });
    }
  } catch (error) {
    set({ problem: asProblem(error) });
  } finally {
    asking = false;
  }
}

function saveSoon(): void {
  clearTimeout(saving);
  saving = setTimeout(() => void save(), SAVE_AFTER_MS);
}

async function save(): Promise<void> {
  const { job, data, version } = get();
  if (job === undefined) return;
  try {
    const next = await api.saveSizing(job, version, data);
    set({ version: next.version });
    if (get().data === data && get().job === job) {
      set({ saved: true });
      keep("localStorage", place(job), "");
    } else saveSoon();
  } catch (error) {
    const problem = asProblem(error);
    set({ problem });
    if (problem.passing) saveSoon();
  }
}

/** Another window saved something: take that, or put what is here in its place. */
export async function resolve(mine: boolean): Promise<void> {
  const { job } = get();
  if (job === undefined) return;
  try {
    const { sizing, version } = await api.sizing(job);
    set({ version, problem: null });
    if (mine) await save();
    else {
      keep("localStorage", place(job), "");
      set({ data: sizing, saved: true });
      await work();
    }
  } catch (error) {
    set({ problem: asProblem(error) });
  }
}
