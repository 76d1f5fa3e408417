import { create } from "zustand";
import { api, asProblem } from "../../../api/client";
import { keep, kept } from "../../../common/store";

/** Where an attempt is kept on the server. */
export interface Attempt {
  readonly job: number;
  readonly sheet: number;
  readonly id: number;
}

/** What is written by state and place; what the server does not have yet; why not. */
interface Written {
  readonly answers: Readonly<Record<string, Readonly<Record<string, string>>>>;
  readonly unsent: readonly { readonly state: number; readonly place: string }[];
  readonly trouble: string;
}

const EMPTY: Written = { answers: {}, unsent: [], trouble: "" };
const AGAIN_MS = 3_000;

export const useWritten = create<Written>(() => EMPTY);

let attempt: Attempt | null = null;
let sending: Promise<void> = Promise.resolve();
let timer: ReturnType<typeof setTimeout> | undefined;

const key = ({ id }: Attempt): string => `wiretrace-attempt-${id}`;

/** Take up an attempt: what the server has, and over it what this browser wrote and could not send. */
export function takeUp(which: Attempt, answers: Written["answers"]): void {
  attempt = which;
  const draft = readDraft(which);
  const merged: Record<string, Record<string, string>> = {};
  for (const [state, row] of Object.entries(answers)) merged[state] = { ...row };
  for (const { state, place } of draft.unsent)
    merged[state] = { ...merged[state], [place]: draft.answers[state]?.[place] ?? "" };
  useWritten.setState({ answers: merged, unsent: draft.unsent, trouble: "" });
  void send();
}

/** Write an answer; it is kept here at once and sent as soon as that goes. */
export function write(state: number, place: string, text: string): void {
  const { answers, unsent } = useWritten.getState();
  useWritten.setState({
    answers: { ...answers, [state]: { ...answers[state], [place]: text } },
    unsent: [...unsent.filter((one) => one.state !== state || one.place !== place), { state, place }],
  });
  keepDraft();
}

/** Send what the server does not have, one answer after the other; again later where it does not answer. */
export function send(): Promise<void> {
  clearTimeout(timer);
  sending = sending.then(sendAll);
  return sending;
}

async function sendAll(): Promise<void> {
  const mine = attempt;
  try {
    while (mine && mine === attempt) {
      const [next] = useWritten.getState().unsent;
      if (!next) return;
      const { state, place } = next;
      const text = useWritten.getState().answers[state]?.[place] ?? "";
      await api.writeAnswer(mine.job, mine.sheet, mine.id, { state, place, text });
      if (mine !== attempt) return;
      const now = useWritten.getState();
      const changed = now.answers[state]?.[place] !== text;
      const unsent = changed ? now.unsent : now.unsent.filter((one) => one !== next);
      useWritten.setState({ unsent, trouble: "" });
      keepDraft();
    }
  } catch (error) {
    const problem = asProblem(error);
    useWritten.setState({ trouble: problem.detail });
    if (problem.passing) timer = setTimeout(() => void send(), AGAIN_MS);
  }
}

function keepDraft(): void {
  if (!attempt) return;
  const { answers, unsent } = useWritten.getState();
  keep("localStorage", key(attempt), unsent.length ? JSON.stringify({ answers, unsent }) : "");
}

function readDraft(which: Attempt): Pick<Written, "answers" | "unsent"> {
  try {
    const found: unknown = JSON.parse(kept("localStorage", key(which)) || "null");
    if (found && typeof found === "object" && "unsent" in found && Array.isArray(found.unsent))
      return found as Pick<Written, "answers" | "unsent">;
  } catch {
    // What cannot be read is not there.
  }
  return EMPTY;
}
