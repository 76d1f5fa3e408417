import type { Fault } from "../api/client";

export type { Fault };

/** A fault that somebody has put in, and whether it is there. */
export interface BenchFault {
  readonly id: number;
  readonly fault: Fault;
  /** What it is, in words. */
  readonly words: string;
  readonly on: boolean;
}

/** A list with one fault more; the same fault is not put in twice. */
export function withFault(faults: readonly BenchFault[], fault: Fault, words: string): readonly BenchFault[] {
  const same = JSON.stringify(fault);
  if (faults.some((one) => JSON.stringify(one.fault) === same))
    return faults.map((one) => (JSON.stringify(one.fault) === same ? { ...one, on: true } : one));
  const id = Math.max(0, ...faults.map((one) => one.id)) + 1;
  return [...faults, { id, fault, words, on: true }];
}
