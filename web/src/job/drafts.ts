import type { Circuit } from "../circuit/types";
import { randomId } from "../common/randomId";

/**
 * Changes that the server does not have yet, kept in the browser so that a reload loses nothing.
 * Each window keeps its own, so that two windows on one job do not overwrite each other.
 */
export interface Draft {
  readonly basedOn: number;
  /** The window as the server knows it: whose save was the last one. */
  readonly writer: string;
  readonly circuit: Circuit;
  readonly at: number;
}

const WINDOW_KEY = "wiretrace-window";
const ABANDONED_AFTER_MS = 10_000;

function windowId(): string {
  const known = sessionStorage.getItem(WINDOW_KEY);
  if (known) return known;
  const fresh = randomId();
  sessionStorage.setItem(WINDOW_KEY, fresh);
  return fresh;
}

const prefix = (jobId: number): string => `wiretrace-draft-${jobId}-`;
const ownKey = (jobId: number): string => prefix(jobId) + windowId();

export function keepDraft(jobId: number, draft: Omit<Draft, "at">): void {
  localStorage.setItem(ownKey(jobId), JSON.stringify({ ...draft, at: Date.now() }));
}

export function dropDraft(jobId: number): void {
  localStorage.removeItem(ownKey(jobId));
}

/** This window's draft, or one that a closed window left behind (which becomes this window's). */
export function findDraft(jobId: number): Draft | undefined {
  const own = readDraft(ownKey(jobId));
  if (own) return own;
  for (const key of Object.keys(localStorage)) {
    const left = key.startsWith(prefix(jobId)) ? readDraft(key) : undefined;
    if (left && Date.now() - left.at > ABANDONED_AFTER_MS) {
      localStorage.setItem(ownKey(jobId), JSON.stringify(left));
      localStorage.removeItem(key);
      return left;
    }
  }
  return undefined;
}

function readDraft(key: string): Draft | undefined {
  try {
    const draft = JSON.parse(localStorage.getItem(key) ?? "null") as Draft | null;
    if (!draft?.circuit || typeof draft.basedOn !== "number") return undefined;
    // A draft of an earlier release may lack what the format has gained since.
    const { set_aside = [], convention = "iec", sheets, ...rest } = draft.circuit;
    const shown = sheets.map((sheet) => ({ ...sheet, convention: sheet.convention ?? "iec" }));
    return { ...draft, circuit: { ...rest, set_aside, convention, sheets: shown } };
  } catch {
    localStorage.removeItem(key);
    return undefined;
  }
}
