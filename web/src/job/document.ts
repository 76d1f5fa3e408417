import { create } from "zustand";
import { api, asProblem, type Problem } from "../api/client";
import { Catalogue } from "../circuit/catalogue";
import type { Circuit, Job } from "../circuit/types";
import { randomId } from "../common/randomId";
import { applyEdit, type Edit, EditRefused } from "../edits/edits";
import { type Draft, dropDraft, findDraft, isInMemory, keepDraft } from "./drafts";
import { findHistory, type History, keepHistory, NO_HISTORY } from "./history";

export type SaveState = "saved" | "unsaved" | "saving" | "waiting" | "conflict" | "gone" | "refused";

interface DocumentState {
  readonly job: { id: number; title: string; place: string } | null;
  readonly catalogue: Catalogue;
  readonly circuit: Circuit;
  /** Version on the server that the circuit was made from. */
  readonly basedOn: number;
  /** This window, as the server knows it; taken over from the draft after a reload. */
  readonly writer: string;
  readonly history: History;
  readonly save: SaveState;
  readonly saveProblem: Problem | null;
  /** Does the browser keep what the server does not have? Else it is in this window alone. */
  readonly kept: boolean;
  /** Why the last edit was not made, until the next one. */
  readonly refusal: string | null;
}

const EMPTY: Circuit = {
  format: "wiretrace/circuit",
  version: 1,
  title: "",
  convention: "iec",
  devices: [],
  conductors: [],
  strays: [],
  set_aside: [],
  sheets: [],
};

export const useDocument = create<DocumentState>(() => ({
  job: null,
  catalogue: new Catalogue([]),
  circuit: EMPTY,
  basedOn: 0,
  writer: "",
  history: NO_HISTORY,
  save: "saved",
  saveProblem: null,
  kept: true,
  refusal: null,
}));

const { getState: get, setState: set } = useDocument;

const SAVE_AFTER_MS = 400;
const TRY_AGAIN_MS = 2_000;
let timer: ReturnType<typeof setTimeout> | undefined;

/** Open a job: the server's circuit, or the changes to it that never reached the server (`left`: of a closed window). */
export function openJob(job: Job, catalogue: Catalogue, left?: Draft): void {
  clearTimeout(timer);
  const draft = findDraft(job.id) ?? left;
  // Of a save that arrived unheard of, the server remembers that it was ours.
  const stale = draft !== undefined && draft.basedOn !== job.version && draft.writer !== job.writer;
  const circuit = draft?.circuit ?? job.circuit;
  const basedOn = draft?.basedOn ?? job.version;
  set({
    job: { id: job.id, title: job.title, place: job.place },
    catalogue,
    circuit,
    basedOn,
    writer: draft?.writer ?? randomId(),
    history: findHistory(job.id, { basedOn, saved: !draft, circuit }, catalogue),
    save: stale ? "conflict" : draft ? "unsaved" : "saved",
    saveProblem: null,
    kept: !isInMemory(job.id),
    refusal: null,
  });
  if (draft && !stale) saveSoon();
}

/** Look at a circuit that is no job: nothing of it is saved. */
export function lookAt(circuit: Circuit, catalogue: Catalogue): void {
  clearTimeout(timer);
  set({
    job: null,
    catalogue,
    circuit,
    basedOn: 0,
    writer: "",
    history: NO_HISTORY,
    save: "saved",
    saveProblem: null,
    kept: true,
    refusal: null,
  });
}

/** Leave a job. What is not saved yet is saved, after what is on its way. */
export function closeJob(): void {
  clearTimeout(timer);
  rememberHistory();
  const { save, job, circuit, basedOn, writer } = get();
  if (!job) return;
  if (save !== "saving" || !onItsWay) {
    void saveNow();
    return;
  }
  const sent = onItsWay;
  void sent.done.then(() => {
    if (sent.circuit === circuit) return undefined;
    const last = api.saveCircuit(job.id, basedOn, writer, circuit);
    return last.then(
      () => dropDraft(job.id),
      () => undefined,
    );
  });
}

/** Keep what can be undone for a reload of this window. */
export function rememberHistory(): void {
  const { job, basedOn, save, circuit, history } = get();
  if (job) keepHistory(job.id, { basedOn, saved: save === "saved", circuit }, history);
}

/** Make an edit. Returns whether it was made; the reason why not stands in `refusal`. */
export function edit(change: Edit): boolean {
  const { circuit, catalogue, history } = get();
  try {
    const changed = applyEdit(circuit, change, catalogue);
    const [past, made] = [
      [...history.past, circuit],
      [...history.made, change],
    ];
    set({ circuit: changed, history: { past, made, future: [], undone: [] }, refusal: null });
    changedByHand();
    return true;
  } catch (error) {
    if (!(error instanceof EditRefused)) throw error;
    set({ refusal: error.message });
    return false;
  }
}

export function undo(): void {
  const { circuit, history } = get();
  const { past, made, future, undone } = history;
  const [before, last] = [past.at(-1), made.at(-1)];
  if (!before || !last) return;
  const shorter = { past: past.slice(0, -1), made: made.slice(0, -1) };
  const longer = { future: [circuit, ...future], undone: [last, ...undone] };
  set({ circuit: before, history: { ...shorter, ...longer }, refusal: null });
  changedByHand();
}

export function redo(): void {
  const { circuit, history } = get();
  const [after, ...future] = history.future;
  const [next, ...undone] = history.undone;
  if (!after || !next) return;
  const longer = { past: [...history.past, circuit], made: [...history.made, next] };
  set({ circuit: after, history: { ...longer, future, undone }, refusal: null });
  changedByHand();
}

function changedByHand(): void {
  const { job, basedOn, writer, circuit, save } = get();
  if (!job) return;
  set({ kept: keepDraft(job.id, { basedOn, writer, circuit }) });
  if (save === "conflict" || save === "gone") return;
  set({ save: "unsaved" });
  saveSoon();
}

function saveSoon(delay = SAVE_AFTER_MS): void {
  clearTimeout(timer);
  timer = setTimeout(() => void saveNow(), delay);
}

/** What the server is being sent at this moment. */
let onItsWay: { readonly circuit: Circuit; readonly done: Promise<void> } | null = null;

function saveNow(): Promise<void> {
  const { job, circuit, save } = get();
  if (!job || save === "saved" || save === "saving" || save === "conflict" || save === "gone")
    return Promise.resolve();
  set({ save: "saving" });
  const done = send(job.id, circuit).finally(() => {
    onItsWay = null;
  });
  onItsWay = { circuit, done };
  return done;
}

async function send(jobId: number, circuit: Circuit): Promise<void> {
  const { basedOn, writer } = get();
  try {
    const line = await api.saveCircuit(jobId, basedOn, writer, circuit);
    if (get().job?.id !== jobId) {
      // Nobody has edited it since it was left.
      dropDraft(jobId);
      return;
    }
    const same = get().circuit === circuit;
    set({ basedOn: line.version, save: same ? "saved" : "unsaved", saveProblem: null });
    if (same) {
      dropDraft(jobId);
      set({ kept: true });
    } else {
      set({ kept: keepDraft(jobId, { basedOn: line.version, writer, circuit: get().circuit }) });
      saveSoon();
    }
  } catch (error) {
    if (get().job?.id !== jobId) return;
    const problem = asProblem(error);
    const known: Partial<Record<number, SaveState>> = { 404: "gone", 409: "conflict" };
    const state = known[problem.status] ?? (problem.passing ? "waiting" : "refused");
    set({ save: state, saveProblem: problem });
    if (state === "waiting") saveSoon(TRY_AGAIN_MS);
  }
}

/** In a conflict: forget the changes made here and take what the other window saved. */
export async function takeTheirs(): Promise<void> {
  const { job, catalogue } = get();
  if (!job) return;
  const theirs = await api.job(job.id);
  dropDraft(job.id);
  openJob(theirs, catalogue);
}

/** In a conflict: put the circuit made here in place of what the other window saved. */
export async function keepMine(): Promise<void> {
  const { job } = get();
  if (!job) return;
  const theirs = await api.job(job.id);
  set({ basedOn: theirs.version, save: "unsaved" });
  await saveNow();
}

/** Keep the circuit made here as a job of its own, beside what is or was there. Returns its id. */
export async function saveAsCopy(): Promise<number | undefined> {
  const { job, writer } = get();
  if (!job) return undefined;
  let { circuit } = get();
  const copy = await api.createJob({ title: `${job.title} (copy)`.slice(0, 200), place: job.place, circuit });
  // What was edited meanwhile goes in as well.
  while (get().circuit !== circuit) {
    circuit = get().circuit;
    await api.saveCircuit(copy.id, copy.version, writer, circuit);
  }
  dropDraft(job.id);
  set({ save: "saved", kept: true });
  return copy.id;
}

export async function renameJob(title: string): Promise<void> {
  const { job } = get();
  if (!job || title.trim() === "" || title === job.title) return;
  const line = await api.renameJob(job.id, title, job.place);
  set({ job: { id: line.id, title: line.title, place: line.place } });
}

/** Say why something that was asked for is not done. */
export const refuse = (reason: string): void => set({ refusal: reason });
export const dismissRefusal = (): void => set({ refusal: null });
