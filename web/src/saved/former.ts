import { keep, kept } from "../common/store";
import { drop } from "./drafts";

const FORMER = /^wiretrace-draft-(\d+)-(.+)$/;

/** Drafts of an earlier release, which kept those of circuits alone and did not count changes, under their new names. */
export function takeOverDrafts(): void {
  for (const key of keys()) {
    const [, job, window] = FORMER.exec(key) ?? [];
    if (job === undefined) continue;
    try {
      const { basedOn, writer, circuit } = JSON.parse(kept("localStorage", key) ?? "null");
      const draft = JSON.stringify({ basedOn, writer, serial: 1, value: circuit });
      if (keep("localStorage", `wiretrace-draft-circuit-${job}-${window}`, draft)) drop(key);
    } catch {
      // What cannot be read is left where it is.
    }
  }
}

function keys(): string[] {
  try {
    return Object.keys(localStorage);
  } catch {
    return [];
  }
}
