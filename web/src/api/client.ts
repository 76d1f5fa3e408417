import type { paths } from "./schema.gen";
import type { Choices, Circuit, End, Frame, Probes, ProblemItem, Run, Schemas, State } from "./types";

/** An error as the server tells it (RFC 9457); status 0 when the server did not answer at all. */
export class Problem extends Error {
  constructor(
    readonly status: number,
    readonly title: string,
    readonly detail: string,
    readonly problems: readonly ProblemItem[] = [],
    readonly currentVersion: number | null = null,
  ) {
    super(detail);
  }

  /** True when trying again later may help: no answer, or no database. */
  get passing(): boolean {
    return [0, 429, 502, 503, 504].includes(this.status);
  }
}

export const asProblem = (error: unknown): Problem =>
  error instanceof Problem ? error : new Problem(-1, "Unexpected error", String(error));

const NO_ANSWER = new Problem(0, "No connection", "The server does not answer.");

/** How long an answer may take before one says that there is none. */
const PATIENCE_MS = 6_000;
/** The server looks at files and draws sheets for longer than it answers a press, and a class may stand in line. */
const LONG_PATIENCE_MS = 60_000;

const TAKES_LONG = /^\/api\/(import|export|drawing|paper|sequence|trace|check\/)|\/exercises/;

type Method = "get" | "post" | "put" | "patch" | "delete";
type Path = keyof paths;
/** What the schema says of an operation. */
type Operation<P extends Path, M extends Method> = paths[P][M];
type Content<T> = T extends { content: { "application/json": infer Body } } ? Body : undefined;
type Body<P extends Path, M extends Method> =
  Operation<P, M> extends { requestBody?: infer Sent } ? Content<Exclude<Sent, undefined>> : undefined;
type Good<R> = R extends { 200: infer A } ? A : R extends { 201: infer A } ? A : never;
type Answer<P extends Path, M extends Method> =
  Operation<P, M> extends { responses: infer R } ? Content<Good<R>> : undefined;

/** The answer to what is asked of a path of the schema; `names` fill in its `{...}`. */
async function ask<P extends Path, M extends Method>(
  method: M,
  path: P,
  body?: Body<P, M>,
  names: readonly (string | number)[] = [],
): Promise<Answer<P, M>> {
  const response = await sent(method, path, body, names);
  if (response.status === 204) return undefined as Answer<P, M>;
  const data: unknown = await response.json().catch(() => null);
  // An answer that was broken off on the way is none.
  if (data === null) throw NO_ANSWER;
  return data as Answer<P, M>;
}

/** A good answer as it comes. Throws a Problem where the server refused, or did not answer. */
async function sent(
  method: Method,
  path: string,
  body: unknown,
  names: readonly (string | number)[],
): Promise<Response> {
  const left = [...names];
  const url = path.replace(/\{\w+\}/g, () => encodeURIComponent(left.shift() ?? ""));
  let response: Response;
  try {
    response = await fetch(url, {
      method: method.toUpperCase(),
      signal: AbortSignal.timeout(TAKES_LONG.test(url) ? LONG_PATIENCE_MS : PATIENCE_MS),
      ...(body === undefined
        ? {}
        : { body: JSON.stringify(body), headers: { "Content-Type": "application/json" } }),
    });
  } catch {
    throw NO_ANSWER;
  }
  if (response.ok) return response;
  const why: Partial<Schemas["ProblemBody"]> = (await response.json().catch(() => null)) ?? {};
  throw new Problem(
    response.status,
    why.title ?? "The server refused",
    why.detail ?? `It answered ${response.status}.`,
    why.problems ?? [],
    why.current_version ?? null,
  );
}

export type ActionRequest = Schemas["ActionData"];
export type VersionLine = Schemas["VersionData"];
export type Imported = Schemas["ImportAnswer"];

export type PredictionSheet = Schemas["NewSheet"]["sheet"];
export type Sequence = Schemas["NewSequence"]["sequence"];

export const sequenceOf = (steps: Sequence["steps"]): Sequence => ({ version: 2, steps });
export type Fault = NonNullable<Schemas["RunRequest"]["faults"]>[number];

/** What every save carries: what it was made from, the window, and its count of changes. */
type Order = Pick<Schemas["SaveCircuit"], "based_on" | "writer" | "serial">;

/** What is asked of a circuit in a state. */
interface Asked {
  readonly state: State | null;
  /** What is broken in it. */
  readonly faults?: readonly Fault[];
}

export const api = {
  session: () => ask("get", "/api/session"),
  signOut: () => ask("delete", "/api/session"),
  jobs: () => ask("get", "/api/jobs"),
  job: (id: number) => ask("get", "/api/jobs/{job_id}", undefined, [id]),
  createJob: (body: Pick<Schemas["NewJob"], "title"> & Partial<Schemas["NewJob"]>) =>
    ask("post", "/api/jobs", { place: "", template: null, pattern: null, circuit: null, ...body }),
  renameJob: (id: number, names: Schemas["Names"]) => ask("patch", "/api/jobs/{job_id}", names, [id]),
  deleteJob: (id: number) => ask("delete", "/api/jobs/{job_id}", undefined, [id]),
  saveCircuit: (id: number, order: Order, circuit: Circuit) =>
    ask("put", "/api/jobs/{job_id}/circuit", { ...order, circuit }, [id]),
  catalogue: () => ask("get", "/api/catalogue"),
  libraryCircuit: (name: string) => ask("get", "/api/library/{name}", undefined, [name]),
  library: () => ask("get", "/api/library"),
  versions: (job: number) => ask("get", "/api/jobs/{job_id}/versions", undefined, [job]),
  version: (job: number, id: number) =>
    ask("get", "/api/jobs/{job_id}/versions/{version_id}", undefined, [job, id]),
  keepVersion: (job: number, name: string, circuit: Circuit) =>
    ask("post", "/api/jobs/{job_id}/versions", { name, circuit }, [job]),
  deleteVersion: (job: number, id: number) =>
    ask("delete", "/api/jobs/{job_id}/versions/{version_id}", undefined, [job, id]),
  pattern: (choices: Choices) => ask("post", "/api/pattern", choices),
  tidy: (request: Schemas["TidyRequest"]) => ask("post", "/api/tidy", request),
  importFile: (body: Schemas["ImportRequest"]) => ask("post", "/api/import", body),
  exportAs: async (name: string, circuit: Circuit) =>
    (await sent("post", "/api/export/{name}", { circuit }, [name])).text(),
  draw: async (name: string, request: Schemas["DrawingRequest"]) =>
    (await sent("post", "/api/drawing/{name}", request, [name])).blob(),
  compare: (before: Circuit, after: Circuit) => ask("post", "/api/compare", { before, after }),
  faults: (circuit: Circuit, text: string | null) => ask("post", "/api/faults", { circuit, text }),
  predictions: (job: number) => ask("get", "/api/jobs/{job_id}/predictions", undefined, [job]),
  prediction: (job: number, id: number) =>
    ask("get", "/api/jobs/{job_id}/predictions/{sheet_id}", undefined, [job, id]),
  keepPrediction: (job: number, sheet: PredictionSheet, circuit: Circuit) =>
    ask("post", "/api/jobs/{job_id}/predictions", { sheet, circuit }, [job]),
  deletePrediction: (job: number, id: number) =>
    ask("delete", "/api/jobs/{job_id}/predictions/{sheet_id}", undefined, [job, id]),
  beginAttempt: (job: number, sheet: number, who: string) =>
    ask("post", "/api/jobs/{job_id}/predictions/{sheet_id}/attempts", { who }, [job, sheet]),
  attempts: (job: number, sheet: number) =>
    ask("get", "/api/jobs/{job_id}/predictions/{sheet_id}/attempts", undefined, [job, sheet]),
  attempt: (job: number, sheet: number, attempt: number) =>
    ask("get", "/api/jobs/{job_id}/predictions/{sheet_id}/attempts/{attempt_id}", undefined, [
      job,
      sheet,
      attempt,
    ]),
  compareAttempt: (job: number, sheet: number, attempt: number, state: number) =>
    ask("post", "/api/jobs/{job_id}/predictions/{sheet_id}/attempts/{attempt_id}/compare", { state }, [
      job,
      sheet,
      attempt,
    ]),
  answerKey: (job: number, sheet: number) =>
    ask("get", "/api/jobs/{job_id}/predictions/{sheet_id}/key", undefined, [job, sheet]),
  belief: (job: number, sheet: number, attempt: number) =>
    ask("get", "/api/jobs/{job_id}/predictions/{sheet_id}/attempts/{attempt_id}/belief", undefined, [
      job,
      sheet,
      attempt,
    ]),
  writeAnswers: (job: number, sheet: number, attempt: number, body: Schemas["Answers"]) =>
    ask("post", "/api/jobs/{job_id}/predictions/{sheet_id}/attempts/{attempt_id}", body, [
      job,
      sheet,
      attempt,
    ]),
  endAttempt: (job: number, sheet: number, attempt: number) =>
    ask("patch", "/api/jobs/{job_id}/predictions/{sheet_id}/attempts/{attempt_id}", { ended: true }, [
      job,
      sheet,
      attempt,
    ]),
  predictionFile: (text: string) => ask("post", "/api/predictions/file", { text }),
  proposedMeters: (circuit: Circuit, { hands, states }: PredictionSheet) =>
    ask("post", "/api/predictions/proposed", { circuit, hands, states }),
  positions: (circuit: Circuit, sheet: PredictionSheet, apart: [number, number] | null) =>
    ask("post", "/api/predictions/positions", { circuit, sheet, apart }),
  sequences: (job: number) => ask("get", "/api/jobs/{job_id}/sequences", undefined, [job]),
  keepSequence: (job: number, name: string, sequence: Sequence) =>
    ask("post", "/api/jobs/{job_id}/sequences", { name, sequence }, [job]),
  changeSequence: (job: number, id: number, order: Order, name: string, sequence: Sequence) =>
    ask("put", "/api/jobs/{job_id}/sequences/{sequence_id}", { ...order, name, sequence }, [job, id]),
  deleteSequence: (job: number, id: number) =>
    ask("delete", "/api/jobs/{job_id}/sequences/{sequence_id}", undefined, [job, id]),
  stateTable: (circuit: Circuit, sequence: Sequence, against: Circuit | null) =>
    ask("post", "/api/sequence/table", { circuit, sequence, against }),
  stateTableFile: async (circuit: Circuit, sequence: Sequence) =>
    (await sent("post", "/api/sequence/table.csv", { circuit, sequence }, [])).text(),
  paper: async (paper: Schemas["Paper"]) => (await sent("post", "/api/paper", paper, [])).blob(),
  workOnFaults: (body: Schemas["WorkRequest"]) => ask("post", "/api/trace/work", body),
  adviceOnFaults: (body: Schemas["AdviceRequest"]) => ask("post", "/api/trace/advice", body),
  keepFind: (job: number, circuit: Circuit, kinds: readonly string[]) =>
    ask("post", "/api/jobs/{job_id}/finds", { circuit, kinds: [...kinds] }, [job]),
  forgetFind: (job: number, find: number) =>
    ask("delete", "/api/jobs/{job_id}/finds/{find_id}", undefined, [job, find]),
  faultBook: (circuit: Circuit, sequence: Sequence) => ask("post", "/api/trace/book", { circuit, sequence }),
  faultBookFile: async (circuit: Circuit, sequence: Sequence) =>
    (await sent("post", "/api/trace/book.csv", { circuit, sequence }, [])).text(),
  exercises: (job: number) => ask("get", "/api/jobs/{job_id}/exercises", undefined, [job]),
  newExercise: (job: number, body: Schemas["NewExercise"]) =>
    ask("post", "/api/jobs/{job_id}/exercises", body, [job]),
  /** An exercise with what its record has after so many entries. */
  exercise: async (job: number, id: number, after = 0): Promise<Schemas["ExerciseBody"]> =>
    (
      await sent("get", `/api/jobs/{job_id}/exercises/{exercise_id}?after=${after}`, undefined, [job, id])
    ).json(),
  closeNumber: async (job: number, id: number): Promise<Schemas["ExerciseBody"]> =>
    (await sent("post", "/api/jobs/{job_id}/exercises/{exercise_id}/close", {}, [job, id])).json(),
  deleteExercise: (job: number, id: number) =>
    ask("delete", "/api/jobs/{job_id}/exercises/{exercise_id}", undefined, [job, id]),
  takeStep: (job: number, id: number, body: Schemas["StepRequest"]) =>
    ask("post", "/api/jobs/{job_id}/exercises/{exercise_id}/steps", body, [job, id]),
  askHint: (job: number, id: number, body: Schemas["HintRequest"]) =>
    ask("post", "/api/jobs/{job_id}/exercises/{exercise_id}/hints", body, [job, id]),
  nameFault: (job: number, id: number, body: Schemas["AnswerRequest"]) =>
    ask("post", "/api/jobs/{job_id}/exercises/{exercise_id}/answers", body, [job, id]),
  proveMend: (job: number, id: number, known: number) =>
    ask("post", "/api/jobs/{job_id}/exercises/{exercise_id}/proof", { known }, [job, id]),
  endExercise: (job: number, id: number, known: number) =>
    ask("post", "/api/jobs/{job_id}/exercises/{exercise_id}/end", { known }, [job, id]),
  reviewExercise: async (job: number, id: number): Promise<Schemas["Reviewed"]> =>
    (await sent("post", "/api/jobs/{job_id}/exercises/{exercise_id}/review", {}, [job, id])).json(),
  exerciseRecord: async (job: number, id: number) =>
    (await sent("get", "/api/jobs/{job_id}/exercises/{exercise_id}/record.csv", undefined, [job, id])).text(),
  sizingForm: () => ask("get", "/api/size/form"),
  size: (data: Schemas["SizingData-Input"]) => ask("post", "/api/size", { sizing: data }),
  carrySizing: (sizing: Schemas["SizingData-Input"], circuit: Circuit) =>
    ask("post", "/api/size/carry", { sizing, circuit }),
  sizingFile: async (data: Schemas["SizingData-Input"]) =>
    (await sent("post", "/api/size/sheet.csv", { sizing: data }, [])).text(),
  sizing: (job: number) => ask("get", "/api/jobs/{job_id}/sizing", undefined, [job]),
  earlierSizings: (job: number) => ask("get", "/api/jobs/{job_id}/sizing/earlier", undefined, [job]),
  earlierSizing: (job: number, version: number) =>
    ask("get", "/api/jobs/{job_id}/sizing/earlier/{version}", undefined, [job, version]),
  saveSizing: (job: number, order: Order, sizing: Schemas["SizingData-Input"]) =>
    ask("put", "/api/jobs/{job_id}/sizing", { ...order, sizing }, [job]),
  panel: (job: number) => ask("get", "/api/jobs/{job_id}/panel", undefined, [job]),
  savePanel: (job: number, order: Order, panel: Schemas["PanelData-Input"]) =>
    ask("put", "/api/jobs/{job_id}/panel", { ...order, panel }, [job]),
  check: (circuit: Circuit, job: number | null) => ask("post", "/api/check", { circuit, job }),
  diagram: (circuit: Circuit) => ask("post", "/api/check/diagram", { circuit }),
  checkByPlaying: (circuit: Circuit) => ask("post", "/api/check/played", { circuit }),
  doesOtherwise: (before: Circuit, after: Circuit) => ask("post", "/api/check/difference", { before, after }),
  run: async (
    circuit: Circuit,
    body: Asked & { actions: ActionRequest[]; until_us: number; probes: Probes[] },
  ): Promise<Run> => {
    const answer = await byName(circuit, (which) =>
      ask("post", "/api/simulation/run", { ...which, ...asked(body) }),
    );
    NAMES.set(circuit, answer.ref);
    return { ...answer, frames: wholeFrames(answer.frames) };
  },
  read: (circuit: Circuit, body: Asked & { probes: Probes[] }) =>
    byName(circuit, (which) => ask("post", "/api/simulation/read", { ...which, ...asked(body) })),
  explain: (circuit: Circuit, body: Asked & { probes: Probes }) =>
    byName(circuit, (which) => ask("post", "/api/simulation/explain", { ...which, ...asked(body) })),
  why: (circuit: Circuit, body: Asked & { device: string; before: State[]; actions: ActionRequest[] }) =>
    byName(circuit, (which) => ask("post", "/api/simulation/why", { ...which, ...asked(body) })),
  map: (circuit: Circuit, body: Asked & { reference: End }) =>
    byName(circuit, (which) => ask("post", "/api/simulation/map", { ...which, ...asked(body) })),
  firstDifferences: (circuit: Circuit, body: Asked & { actions: ActionRequest[]; until_us: number }) =>
    byName(circuit, (which) =>
      ask("post", "/api/simulation/first-differences", { ...which, ...asked(body) }),
    ),
  measure: (circuit: Circuit, body: Asked & Pick<Schemas["MeasureRequest"], "measures" | "why">) =>
    byName(circuit, (which) => ask("post", "/api/simulation/measure", { ...which, ...asked(body) })),
};

/** What the server calls the circuits that it was sent. */
const NAMES = new WeakMap<Circuit, string>();

/** A circuit whole or by its name. */
const which = (circuit: Circuit | null, ref: string | null) => ({ circuit, ref });

const asked = <T extends Asked>(body: T) => ({ ...body, faults: [...(body.faults ?? [])] });

/** Ask about a circuit by its name; where that is not known (any more), send it whole. */
async function byName<T>(
  circuit: Circuit,
  asking: (of: ReturnType<typeof which>) => Promise<T | undefined>,
): Promise<T> {
  const ref = NAMES.get(circuit);
  const answer = (ref && (await asking(which(null, ref)))) || (await asking(which(circuit, null)));
  if (!answer) throw NO_ANSWER;
  return answer;
}

/** Frames with all that holds in them: the server leaves out what is as it was in the frame before. */
export function wholeFrames(frames: readonly Frame[]): Frame[] {
  const whole: Frame[] = [];
  for (const frame of frames) {
    const last = whole.at(-1);
    whole.push(
      last
        ? {
            ...frame,
            state: {
              ...frame.state,
              devices: { ...last.state.devices, ...frame.state.devices },
            },
            devices: { ...last.devices, ...frame.devices },
            terminals: { ...last.terminals, ...frame.terminals },
            conductors_a: { ...last.conductors_a, ...frame.conductors_a },
          }
        : frame,
    );
  }
  return whole;
}
