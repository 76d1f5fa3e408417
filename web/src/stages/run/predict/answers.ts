import { createStore, type StoreApi, useStore } from "zustand";
import { api } from "../../../api/client";
import { perJob, type Session } from "../../../common/session";
import { kept } from "../../../common/store";
import { drop } from "../../../saved/drafts";
import { type Kind, opened, SAVED, Saver, type Standing } from "../../../saved/saver";

/** Where an attempt is kept on the server. */
export interface Attempt {
  readonly job: number;
  readonly sheet: number;
  readonly id: number;
}

/** What is written, by state and place. */
export type Answers = Readonly<Record<string, Readonly<Record<string, string>>>>;

interface Written extends Standing {
  readonly answers: Answers;
}

const NOTHING: Written = { ...SAVED, answers: {} };

/** After how long what is being written is sent, where nobody leaves the field. */
const AFTER_MS = 3_000;

const answersOf = (which: Attempt): Kind<Answers> => ({
  name: "attempt",
  of: `${which.job}.${which.sheet}.${which.id}`,
  afterMs: AFTER_MS,
  read: async () => thereOf((await api.attempt(which.job, which.sheet, which.id)).answers),
  save: async ({ writer, serial }, answers, before) => {
    const changed = changes(before ?? {}, answers).map((one) => ({ ...one, serial }));
    if (changed.length)
      await api.writeAnswers(which.job, which.sheet, which.id, { writer, answers: changed });
    return { version: 0 };
  },
  upgraded: (value) => (value && typeof value === "object" ? (value as Answers) : undefined),
  former: { value: () => unsentOf(which), drop: () => drop(formerPlace(which)) },
});

/** Of answers nothing conflicts: each is by itself, and the last one written counts. So all are of one version. */
const thereOf = (value: Answers) => ({ version: 0, writer: "", value });

function changes(before: Answers, after: Answers): { state: number; place: string; text: string }[] {
  return Object.entries(after).flatMap(([state, row]) =>
    Object.entries(row)
      .filter(([place, text]) => (before[state]?.[place] ?? "") !== text)
      .map(([place, text]) => ({ state: Number(state), place, text })),
  );
}

const formerPlace = ({ id }: Attempt): string => `wiretrace-attempt-${id}`;

/** What an earlier release could not send. */
function unsentOf(which: Attempt): Answers | undefined {
  try {
    const found = JSON.parse(kept("localStorage", formerPlace(which)) || "null");
    return found?.unsent?.length ? found.answers : undefined;
  } catch {
    return undefined;
  }
}

/** What is written into one attempt. */
class Writing {
  readonly store: StoreApi<Written> = createStore<Written>(() => NOTHING);
  private readonly saver: Saver<Answers>;
  readonly ready: Promise<void>;

  constructor(which: Attempt, there: Answers) {
    const kind = answersOf(which);
    this.saver = new Saver(kind, {
      value: () => this.store.getState().answers,
      standing: this.store.getState,
      tell: this.store.setState,
    });
    this.store.setState({ answers: there });
    this.ready = opened(kind, thereOf(there)).then((found) => {
      this.store.setState({ answers: merged(there, found.value) });
      this.saver.begin(found);
    });
  }

  write(state: number, place: string, text: string): void {
    const { answers } = this.store.getState();
    this.store.setState({ answers: { ...answers, [state]: { ...answers[state], [place]: text } } });
    this.saver.changed();
  }

  send = (): Promise<void> => this.saver.now();
  leave = (): Promise<void> => this.saver.leave();
}

/** What the server has, and over it what this browser wrote and could not send. */
function merged(there: Answers, here: Answers): Answers {
  const states = new Set([...Object.keys(there), ...Object.keys(here)]);
  return Object.fromEntries([...states].map((state) => [state, { ...there[state], ...here[state] }]));
}

/** The attempt that is open in each job. */
class Desk {
  readonly store = createStore<{ readonly writing: Writing | null }>(() => ({ writing: null }));
  private wanted: Writing | null = null;

  constructor(session: Session) {
    session.onEnd(() => void this.store.getState().writing?.leave());
  }

  /** Take up an attempt: what the server has, and over it what this browser wrote and could not send. */
  async takeUp(which: Attempt, there: Answers): Promise<void> {
    void this.store.getState().writing?.leave();
    const writing = new Writing(which, there);
    this.wanted = writing;
    await writing.ready;
    // Of two that are taken up at once, the last one.
    if (this.wanted === writing) this.store.setState({ writing });
  }
}

const desk = perJob((session) => new Desk(session));
const EMPTY = createStore<Written>(() => NOTHING);

export const takeUp = (which: Attempt, there: Answers): Promise<void> => desk.here().takeUp(which, there);

const writing = (): Writing | null => desk.here().store.getState().writing;

/** Write an answer; it is kept here at once and sent as soon as that goes. */
export const write = (state: number, place: string, text: string): void =>
  writing()?.write(state, place, text);

/** Send what the server does not have. Whether it has all of it then. */
export async function send(): Promise<boolean> {
  const mine = writing();
  // What was written while the last answers were on their way goes after them.
  for (let left = MOST_SENT; left > 0; left -= 1) {
    await mine?.send();
    const standing = mine?.store.getState();
    if (standing?.save === "saved") return true;
    if (!standing || standing.saveProblem) return false;
  }
  return false;
}

const MOST_SENT = 4;

/** Something of what is written into the attempt that is open. */
export function useWritten<T>(of: (written: Written) => T): T {
  const open = useStore(desk.use().store, (state) => state.writing);
  return useStore(open?.store ?? EMPTY, of);
}

/** The same besides components. */
export const written = (): Written => writing()?.store.getState() ?? NOTHING;
