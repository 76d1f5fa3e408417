import { keep, kept } from "../../common/store";
import { FIRST, STAGES } from "../../stages";

const name = (job: number): string => `wiretrace-stage-${job}`;

/** The stage in which one last worked on a job, here in this browser. */
export function lastStage(job: number): (typeof STAGES)[number] {
  const path = kept("localStorage", name(job)) ?? FIRST;
  return STAGES.find((stage) => stage.path === path) ?? (STAGES[0] as (typeof STAGES)[number]);
}

export function rememberStage(job: number, path: string): void {
  keep("localStorage", name(job), path);
}
