import type { StageEntry } from "./stage";

/** The stages of a job that are built, in the order of the work. A stage is a folder and a line here. */
export const STAGES: readonly StageEntry[] = [
  { path: "size", title: "Size", load: () => import("./size") },
  { path: "draw", title: "Draw", load: () => import("./draw") },
  { path: "run", title: "Run", load: () => import("./run") },
  { path: "trace", title: "Trace", load: () => import("./trace") },
];

/** Where a job opens whose address names no stage. */
export const FIRST = "run";
