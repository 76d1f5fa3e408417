import { api, asProblem } from "../api/client";
import { USUAL } from "../circuit/patterns";
import { type Choices as AllChoices, type Circuit, type Convention, shownSheets } from "../circuit/types";
import { edit, refuse, useDocument } from "./document";

/** Show the circuit in a convention: on the sheets that it has there, completed where they lack something. */
export async function show(convention: Convention): Promise<void> {
  const { circuit } = useDocument.getState();
  if (circuit.convention === convention) return;
  if (isComplete(circuit, convention)) edit({ type: "show", convention });
  else await fromServer({ convention, keep: true });
}

/** Lay the circuit out anew on clean sheets; one step to be undone. */
export const tidySheets = (): Promise<void> => fromServer({});

/** Rewrite the designations in the letters of the convention that is shown. */
export const letterDevices = (): Promise<void> => fromServer({ keep: true, letters: true });

async function fromServer(asked: {
  convention?: Convention;
  keep?: boolean;
  letters?: boolean;
}): Promise<void> {
  const { circuit } = useDocument.getState();
  const { convention = circuit.convention, keep = false, letters = false } = asked;
  try {
    const answer = await api.tidy({ circuit, convention, keep, letters });
    // Somebody may have drawn on while the server thought.
    if (useDocument.getState().circuit !== circuit) return;
    const { sheets } = answer.circuit;
    // What does not change keeps its identity, so that a circuit under power runs on.
    edit({ type: "replace", circuit: letters ? answer.circuit : { ...circuit, convention, sheets } });
  } catch (error) {
    refuse(asProblem(error).detail);
  }
}

/** Put a pattern, made by its usual choices, beside what is drawn. */
export async function insertPattern(pattern: AllChoices["pattern"]): Promise<void> {
  const { job, circuit: drawn } = useDocument.getState();
  try {
    const { circuit } = await api.pattern({ ...USUAL, convention: drawn.convention, pattern });
    // Another job may be open by now.
    if (useDocument.getState().job?.id === job?.id) edit({ type: "insert", circuit });
  } catch (error) {
    refuse(asProblem(error).detail);
  }
}

/** Does everything that is drawn now stand on the sheets of the other convention too? */
function isComplete(circuit: Circuit, convention: Convention): boolean {
  const there = circuit.sheets.filter((sheet) => sheet.convention === convention);
  const standing = new Set(there.flatMap(({ symbols }) => symbols.map((s) => `${s.device}/${s.part}`)));
  return (
    there.length > 0 &&
    shownSheets(circuit).every(({ symbols }) => symbols.every((s) => standing.has(`${s.device}/${s.part}`)))
  );
}
