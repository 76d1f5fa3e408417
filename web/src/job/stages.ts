export type Stage = "draw" | "run";

/** The stages of a job that are built, in the order of the work. */
export const STAGES: readonly (readonly [Stage, string])[] = [
  ["draw", "Draw"],
  ["run", "Run"],
];
