import type {
  CheckResult,
  Choices,
  Circuit,
  Differences,
  DrawnPage,
  Explanation,
  Frame,
  Job,
  JobLine,
  Kind,
  Probes,
  ProblemItem,
  Reading,
  Run,
  Schemas,
  State,
} from "./types";

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
    return this.status === 0 || this.status === 502 || this.status === 503;
  }
}

export const asProblem = (error: unknown): Problem =>
  error instanceof Problem ? error : new Problem(-1, "Unexpected error", String(error));

const NO_ANSWER = new Problem(0, "No connection", "The server does not answer.");

/** How long an answer may take before one says that there is none. */
const PATIENCE_MS = 6_000;
/** The server looks at files and draws sheets for longer than it answers a press. */
const LONG_PATIENCE_MS = 30_000;

/** `plain` takes the answer as text; errors are always told as JSON. */
async function call<T>(
  method: string,
  path: string,
  body?: unknown,
  plain = false,
  blob = false,
): Promise<T> {
  let response: Response;
  try {
    response = await fetch(`/api${path}`, {
      method,
      signal: AbortSignal.timeout(plain || blob || path === "/import" ? LONG_PATIENCE_MS : PATIENCE_MS),
      ...(body === undefined
        ? {}
        : { body: JSON.stringify(body), headers: { "Content-Type": "application/json" } }),
    });
  } catch {
    throw NO_ANSWER;
  }
  if (response.status === 204) return undefined as T;
  if (response.ok && blob) return (await response.blob()) as T;
  if (response.ok && plain) return (await response.text()) as T;
  const data: unknown = await response.json().catch(() => null);
  // An answer that was broken off on the way is none.
  if (response.ok && data === null) throw NO_ANSWER;
  if (response.ok) return data as T;
  const told = (data ?? {}) as {
    title?: string;
    detail?: string;
    problems?: ProblemItem[];
    current_version?: number;
  };
  throw new Problem(
    response.status,
    told.title ?? "The server refused",
    told.detail ?? `It answered ${response.status}.`,
    told.problems ?? [],
    told.current_version ?? null,
  );
}

/** A circuit that was kept under a name. */
export interface VersionLine {
  id: number;
  name: string;
  made_at: string;
}

/** A file as far as it could be read. */
export interface Imported {
  circuit: Circuit | null;
  unreadable: { message: string; path: string | null }[];
  guessed: string[];
}

export interface ActionRequest {
  at_us: number;
  device: string;
  operation: string;
  value: boolean;
}

export const api = {
  jobs: () => call<{ jobs: JobLine[] }>("GET", "/jobs"),
  job: (id: number) => call<Job>("GET", `/jobs/${id}`),
  createJob: (body: {
    title: string;
    place?: string;
    template?: string;
    pattern?: Choices;
    circuit?: Circuit;
  }) => call<Job>("POST", "/jobs", body),
  renameJob: (id: number, title: string, place: string) =>
    call<JobLine>("PATCH", `/jobs/${id}`, { title, place }),
  deleteJob: (id: number) => call<void>("DELETE", `/jobs/${id}`),
  saveCircuit: (id: number, basedOn: number, writer: string, circuit: Circuit) =>
    call<JobLine>("PUT", `/jobs/${id}/circuit`, { based_on: basedOn, writer, circuit }),
  catalogue: () => call<{ kinds: Kind[] }>("GET", "/catalogue"),
  library: () => call<{ circuits: { name: string; title: string }[] }>("GET", "/library"),
  versions: (job: number) => call<{ versions: VersionLine[] }>("GET", `/jobs/${job}/versions`),
  version: (job: number, id: number) =>
    call<VersionLine & { circuit: Circuit }>("GET", `/jobs/${job}/versions/${id}`),
  keepVersion: (job: number, name: string, circuit: Circuit) =>
    call<VersionLine>("POST", `/jobs/${job}/versions`, { name, circuit }),
  deleteVersion: (job: number, id: number) => call<void>("DELETE", `/jobs/${job}/versions/${id}`),
  pattern: (choices: Choices) => call<{ circuit: Circuit }>("POST", "/pattern", choices),
  tidy: (request: Schemas["TidyRequest"]) => call<{ circuit: Circuit }>("POST", "/tidy", request),
  importFile: (body: { title: string; format: "circuit" | "wires" | "netlist"; text: string }) =>
    call<Imported>("POST", "/import", body),
  exportAs: (name: string, circuit: Circuit) => call<string>("POST", `/export/${name}`, { circuit }, true),
  draw: (name: string, title: string, pages: DrawnPage[]) =>
    call<Blob>("POST", `/drawing/${name}`, { title, pages }, false, true),
  compare: (before: Circuit, after: Circuit) => call<Differences>("POST", "/compare", { before, after }),
  check: (circuit: Circuit) => call<{ results: CheckResult[] }>("POST", "/check", { circuit }),
  run: async (
    circuit: Circuit,
    body: { state: State | null; actions: ActionRequest[]; until_us: number; probes: Probes[] },
  ): Promise<Run> => {
    const answer = await byName<Run>("/simulation/run", circuit, body);
    NAMES.set(circuit, answer.ref);
    return { ...answer, frames: wholeFrames(answer.frames) };
  },
  read: (circuit: Circuit, body: { state: State | null; probes: Probes[] }) =>
    byName<{ readings: Reading[] }>("/simulation/read", circuit, body),
  explain: (circuit: Circuit, body: { state: State | null; probes: Probes }) =>
    byName<Explanation>("/simulation/explain", circuit, body),
};

/** What the server calls the circuits that it was sent. */
const NAMES = new WeakMap<Circuit, string>();

/** Ask about a circuit by its name; where that is not known (any more), send it whole. */
async function byName<T>(path: string, circuit: Circuit, body: object): Promise<T> {
  const ref = NAMES.get(circuit);
  const answer = ref && (await call<T | undefined>("POST", path, { ref, ...body }));
  return answer || call<T>("POST", path, { circuit, ...body });
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
