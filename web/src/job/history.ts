import type { Catalogue } from "../circuit/catalogue";
import type { Circuit } from "../circuit/types";
import { keep, kept } from "../common/store";
import { applyEdit, type Edit, EditRefused } from "../edits/edits";

/**
 * Undo that outlives a reload: not the circuits are kept but the edits that led from one to the
 * next, and made again. Kept by the window, for the state of the document that it was left in.
 */
export interface History {
  readonly past: readonly Circuit[];
  readonly future: readonly Circuit[];
  /** `made[i]` leads from `past[i]` on; `undone[0]` from the circuit to `future[0]`. */
  readonly made: readonly Edit[];
  readonly undone: readonly Edit[];
}

interface Kept {
  readonly basedOn: number;
  readonly saved: boolean;
  readonly base: Circuit;
  readonly made: readonly Edit[];
  readonly undone: readonly Edit[];
}

export const NO_HISTORY: History = { past: [], future: [], made: [], undone: [] };

const key = (jobId: number): string => `wiretrace-history-${jobId}`;

export function keepHistory(
  jobId: number,
  left: { basedOn: number; saved: boolean; circuit: Circuit },
  { past, made, undone }: History,
): void {
  const { basedOn, saved, circuit } = left;
  // When the store is full the older half goes first.
  for (let first = 0; first <= made.length; first += Math.max(1, Math.ceil((made.length - first) / 2))) {
    const whole: Kept = { basedOn, saved, base: past[first] ?? circuit, made: made.slice(first), undone };
    if (keep("sessionStorage", key(jobId), JSON.stringify(whole))) return;
  }
}

/** The history of the circuit that is opened now; none when it is not the one that was left. */
export function findHistory(
  jobId: number,
  opened: { basedOn: number; saved: boolean; circuit: Circuit },
  catalogue: Catalogue,
): History {
  try {
    const left = JSON.parse(kept("sessionStorage", key(jobId)) ?? "null") as Kept | null;
    if (!left || left.basedOn !== opened.basedOn || left.saved !== opened.saved) return NO_HISTORY;
    if (left.base.version !== opened.circuit.version) return NO_HISTORY;
    const past = steps(left.base, left.made, catalogue).slice(0, -1);
    const future = steps(opened.circuit, left.undone, catalogue).slice(1);
    return { past, future, made: left.made, undone: left.undone };
  } catch (error) {
    // Edits of an earlier release may be refused by this one.
    if (!(error instanceof EditRefused || error instanceof SyntaxError || error instanceof TypeError))
      throw error;
    return NO_HISTORY;
  }
}

/** The circuit before and after each edit. */
function steps(base: Circuit, edits: readonly Edit[], catalogue: Catalogue): Circuit[] {
  const all = [base];
  for (const edit of edits) all.push(applyEdit(all.at(-1) ?? base, edit, catalogue));
  return all;
}
