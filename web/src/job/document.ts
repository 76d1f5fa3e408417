import { api } from "../api/client";
import { Catalogue } from "../circuit/catalogue";
import type { Circuit, Job } from "../circuit/types";
import { randomId } from "../common/randomId";
import { openSession, perJob, storePerJob } from "../common/session";
import { applyEdit, type Edit, EditRefused } from "../edits/edits";
import { type Kind, type Opened, opened, SAVED, Saver, type Standing } from "../saved/saver";
import { findHistory, type History, keepHistory, NO_HISTORY } from "./history";

interface DocumentState extends Standing {
  readonly job: { readonly id: number; readonly title: string; readonly place: string } | null;
  readonly catalogue: Catalogue;
  readonly circuit: Circuit;
  readonly history: History;
  /** Why the last edit was not made, until the next one. */
  readonly refusal: string | null;
}

const EMPTY: Circuit = {
  format: "wiretrace/circuit",
  version: 5,
  title: "",
  convention: "iec",
  devices: [],
  conductors: [],
  strays: [],
  set_aside: [],
  description: [],
  sheets: [],
};

export const useDocument = storePerJob<DocumentState>(() => ({
  ...SAVED,
  job: null,
  catalogue: new Catalogue([]),
  circuit: EMPTY,
  history: NO_HISTORY,
  refusal: null,
}));

const { getState: get, setState: set } = useDocument;

/** How the circuit of a job is saved. */
const circuitOf = (job: number): Kind<Circuit> => ({
  name: "circuit",
  of: String(job),
  afterMs: 400,
  read: async () => thereOf(await api.job(job)),
  save: (order, circuit) => api.saveCircuit(job, order, circuit),
  upgraded,
});

const thereOf = ({ version, writer, circuit }: Job) => ({ version, writer, value: circuit });

/** A circuit as this release has it: what an earlier one wrote is read by the core. */
async function upgraded(value: unknown): Promise<Circuit | undefined> {
  if (!value || typeof value !== "object" || !("devices" in value)) return undefined;
  if ("version" in value && value.version === EMPTY.version) return value as Circuit;
  const read = await api.importFile({ title: "Draft", format: "circuit", text: JSON.stringify(value) });
  return read.circuit ?? undefined;
}

const saver = perJob((session) => {
  const store = useDocument.here();
  return new Saver<Circuit>(circuitOf(session.job ?? 0), {
    value: () => store.getState().circuit,
    standing: store.getState,
    tell: store.setState,
  });
});

/** What of a job is to be opened: the server's circuit, or changes to it that never reached the server. */
export const openedCircuit = (job: Job): Promise<Opened<Circuit>> => opened(circuitOf(job.id), thereOf(job));

/** Open a job with what `openedCircuit` gave. */
export function openJob(job: Job, catalogue: Catalogue, found: Opened<Circuit>): void {
  openSession(job.id).onEnd(rememberHistory);
  begin(job, catalogue, found);
}

function begin(job: Pick<Job, "id" | "title" | "place">, catalogue: Catalogue, found: Opened<Circuit>): void {
  const circuit = found.value;
  const basedOn = found.draft?.basedOn ?? found.there.version;
  set({
    job: { id: job.id, title: job.title, place: job.place },
    catalogue,
    circuit,
    history: findHistory(job.id, { basedOn, saved: !found.draft, circuit }, catalogue),
    refusal: null,
  });
  saver.here().begin(found);
}

/** Look at a circuit that is no job: nothing of it is saved. */
export function lookAt(circuit: Circuit, catalogue: Catalogue): void {
  openSession(undefined);
  set({ catalogue, circuit });
}

/** Leave a job. What is not saved yet is saved, after what is on its way. */
export function closeJob(): void {
  rememberHistory();
  if (get().job) void saver.here().leave();
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
  if (get().job) saver.here().changed();
}

/** In a conflict: forget the changes made here and take what the other window saved. */
export async function takeTheirs(): Promise<void> {
  const store = useDocument.here();
  const { job, catalogue } = store.getState();
  if (!job) return;
  const circuit = await saver.here().theirs();
  const { basedOn } = store.getState();
  const history = findHistory(job.id, { basedOn, saved: true, circuit }, catalogue);
  store.setState({ circuit, history, refusal: null });
}

/** In a conflict: put the circuit made here in place of what the other window saved. */
export const keepMine = (): Promise<void> => saver.here().mine();

/** Keep the circuit made here as a job of its own, beside what is or was there. Returns its id. */
export async function saveAsCopy(): Promise<number | undefined> {
  const store = useDocument.here();
  const mine = saver.here();
  const { job } = store.getState();
  if (!job) return undefined;
  let { circuit } = store.getState();
  const copy = await api.createJob({ title: `${job.title} (copy)`.slice(0, 200), place: job.place, circuit });
  const writer = randomId();
  // What was edited meanwhile goes in as well.
  for (let serial = 1; store.getState().circuit !== circuit; serial += 1) {
    circuit = store.getState().circuit;
    await api.saveCircuit(copy.id, { based_on: copy.version, writer, serial }, circuit);
  }
  mine.forget();
  return copy.id;
}

/** Titles are counted by themselves: they are no part of the circuit. */
const naming = perJob(() => ({ writer: randomId(), serial: 0 }));

export async function renameJob(title: string): Promise<void> {
  const store = useDocument.here();
  const { job } = store.getState();
  if (!job || title.trim() === "" || title === job.title) return;
  const order = naming.here();
  order.serial += 1;
  const line = await api.renameJob(job.id, { title, place: job.place, ...order });
  store.setState({ job: { id: line.id, title: line.title, place: line.place } });
}

/** Say why something that was asked for is not done. */
export const refuse = (reason: string): void => set({ refusal: reason });
export const dismissRefusal = (): void => set({ refusal: null });
