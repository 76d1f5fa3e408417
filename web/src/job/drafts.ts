import type { Circuit } from "../circuit/types";
import { keep, kept } from "../common/store";
import { isOpen, windowId } from "./windows";

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

const prefix = (jobId: number): string => `wiretrace-draft-${jobId}-`;
const ownKey = (jobId: number): string => prefix(jobId) + windowId();

/** Drafts that the browser has no room for: in this window alone, whichever job it shows. */
const inMemory = new Map<number, Draft>();

/** Keep a draft. False when the browser has no room for it: then it lives as long as the window. */
export function keepDraft(jobId: number, changes: Omit<Draft, "at">): boolean {
  const draft = { ...changes, at: Date.now() };
  const room = keep("localStorage", ownKey(jobId), JSON.stringify(draft));
  if (room) inMemory.delete(jobId);
  else inMemory.set(jobId, draft);
  return room;
}

export function dropDraft(jobId: number): void {
  inMemory.delete(jobId);
  drop(ownKey(jobId));
}

/** This window's draft. */
export const findDraft = (jobId: number): Draft | undefined =>
  inMemory.get(jobId) ?? readDraft(ownKey(jobId));

export const isInMemory = (jobId: number): boolean => inMemory.has(jobId);

/** Would closing this window lose work? */
export const wouldLoseWork = (): boolean => inMemory.size > 0;

/** A draft that a closed window left behind, which becomes this window's if there is room. */
export async function leftDraft(jobId: number): Promise<Draft | undefined> {
  if (findDraft(jobId)) return undefined;
  for (const key of draftKeys(jobId)) {
    const left = readDraft(key);
    if (!left || (await isOpen(key.slice(prefix(jobId).length)))) continue;
    if (keep("localStorage", ownKey(jobId), JSON.stringify(left))) drop(key);
    return left;
  }
  return undefined;
}

function draftKeys(jobId: number): string[] {
  try {
    return Object.keys(localStorage).filter((key) => key.startsWith(prefix(jobId)));
  } catch {
    return [];
  }
}

function drop(key: string): void {
  try {
    localStorage.removeItem(key);
  } catch {
    // Where storage is forbidden nothing was kept.
  }
}

function readDraft(key: string): Draft | undefined {
  try {
    const draft = JSON.parse(kept("localStorage", key) ?? "null") as Draft | null;
    if (!draft?.circuit || typeof draft.basedOn !== "number") return undefined;
    // A draft of an earlier release may lack what the format has gained since.
    const { set_aside = [], convention = "iec", sheets, ...rest } = draft.circuit;
    const shown = sheets.map((sheet) => ({ ...sheet, convention: sheet.convention ?? "iec" }));
    return { ...draft, circuit: { ...rest, set_aside, convention, sheets: shown } };
  } catch {
    drop(key);
    return undefined;
  }
}
