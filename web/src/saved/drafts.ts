import { keep, kept } from "../common/store";
import { isOpen, windowId } from "./windows";

/**
 * What the server does not have yet, kept in the browser so that a reload loses nothing. Each window keeps its own, so
 * that two windows on one thing do not overwrite each other.
 */
export interface Draft {
  readonly basedOn: number;
  /** The window as the server knows it, whose save was perhaps the last one, and its count of changes. */
  readonly writer: string;
  readonly serial: number;
  readonly value: unknown;
}

/** Of what kind it is and of which job, in words that a key may hold. */
export interface Place {
  readonly kind: string;
  readonly of: string;
}

const prefix = ({ kind, of }: Place): string => `wiretrace-draft-${kind}-${of}-`;
const ownKey = (place: Place): string => prefix(place) + windowId();

/** Drafts that the browser has no room for: in this window alone, whatever it shows. */
const inMemory = new Map<string, Draft>();

/** Keep a draft. False when the browser has no room for it: then it lives as long as the window. */
export function keepDraft(place: Place, draft: Draft): boolean {
  const room = keep("localStorage", ownKey(place), JSON.stringify(draft));
  if (room) inMemory.delete(prefix(place));
  else inMemory.set(prefix(place), draft);
  return room;
}

/** Drop a draft that was saved; one that has been changed since stays. */
export function dropSaved(place: Place, writer: string, serial: number): void {
  const draft = findDraft(place);
  if (draft?.writer === writer && draft.serial <= serial) dropDraft(place);
}

export function dropDraft(place: Place): void {
  inMemory.delete(prefix(place));
  drop(ownKey(place));
}

/** This window's draft. */
export const findDraft = (place: Place): Draft | undefined =>
  inMemory.get(prefix(place)) ?? readDraft(ownKey(place));
export const isInMemory = (place: Place): boolean => inMemory.has(prefix(place));
/** Would closing this window lose work? */
export const wouldLoseWork = (): boolean => inMemory.size > 0;

/** A draft that a closed window left behind, which becomes this window's if there is room. */
export async function leftDraft(place: Place): Promise<Draft | undefined> {
  if (findDraft(place)) return undefined;
  for (const key of draftKeys(place)) {
    const left = readDraft(key);
    if (!left || (await isOpen(key.slice(prefix(place).length)))) continue;
    if (keep("localStorage", ownKey(place), JSON.stringify(left))) drop(key);
    return left;
  }
  return undefined;
}

function draftKeys(place: Place): string[] {
  try {
    return Object.keys(localStorage).filter((key) => key.startsWith(prefix(place)));
  } catch {
    return [];
  }
}

export function drop(key: string): void {
  try {
    localStorage.removeItem(key);
  } catch {
    // Where storage is forbidden nothing was kept.
  }
}

function readDraft(key: string): Draft | undefined {
  try {
    const draft: unknown = JSON.parse(kept("localStorage", key) ?? "null");
    return isDraft(draft) ? draft : undefined;
  } catch {
    drop(key);
    return undefined;
  }
}

function isDraft(draft: unknown): draft is Draft {
  if (!draft || typeof draft !== "object") return false;
  const { basedOn, writer, serial, value } = draft as Partial<Draft>;
  return (
    typeof basedOn === "number" && typeof writer === "string" && typeof serial === "number" && value != null
  );
}
