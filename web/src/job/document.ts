import { create } from "zustand";
import { api, asProblem, type Problem } from "../api/client";
import { Catalogue } from "../circuit/catalogue";
import { applyEdit, type Edit, EditRefused } from "../circuit/edits";
import type { Circuit, Job } from "../circuit/types";
import { randomId } from "../common/randomId";
import { dropDraft, findDraft, keepDraft } from "./drafts";
import { findHistory, type History, keepHistory, NO_HISTORY } from "./history";

export type SaveState = "saved" | "unsaved" | "saving" | "waiting" | "conflict" | "refused";

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
  refusal: null,
}));

const { getState: get, setState: set } = useDocument;

const SAVE_AFTER_MS = 400;
const TRY_AGAIN_MS = 2_000;
let timer: ReturnType<typeof setTimeout> | undefined;

/** Open a job: the server's circuit, or the changes to it that never reached the server. */
export function openJob(job: Job, catalogue: Catalogue): void {
  clearTimeout(timer);
  const draft = findDraft(job.id);
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
    refusal: null,
  });
  if (draft && !stale) saveSoon();
}

export function closeJob(): void {
  clearTimeout(timer);
  rememberHistory();
  void saveNow();
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
  keepDraft(job.id, { basedOn, writer, circuit });
  if (save === "conflict") return;
  set({ save: "unsaved" });
  saveSoon();
}

function saveSoon(delay = SAVE_AFTER_MS): void {
  clearTimeout(timer);
  timer = setTimeout(() => void saveNow(), delay);
}

async function saveNow(): Promise<void> {
  const { job, circuit, basedOn, writer, save } = get();
  if (!job || save === "saved" || save === "saving" || save === "conflict") return;
  set({ save: "saving" });
  try {
    const line = await api.saveCircuit(job.id, basedOn, writer, circuit);
    if (get().job?.id !== job.id) return;
    const same = get().circuit === circuit;
    set({ basedOn: line.version, save: same ? "saved" : "unsaved", saveProblem: null });
    if (same) dropDraft(job.id);
    else {
      keepDraft(job.id, { basedOn: line.version, writer, circuit: get().circuit });
      saveSoon();
    }
  } catch (error) {
    const problem = asProblem(error);
    const state = problem.status === 409 ? "conflict" : problem.passing ? "waiting" : "refused";
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

/** In a conflict: keep both, the circuit made here as a job of its own. Returns its id. */
export async function saveAsCopy(): Promise<number | undefined> {
  const { job, circuit } = get();
  if (!job) return undefined;
  const copy = await api.createJob({ title: `${job.title} (copy)`.slice(0, 200), place: job.place, circuit });
  dropDraft(job.id);
  set({ save: "saved" });
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
