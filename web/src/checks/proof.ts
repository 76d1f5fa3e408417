import type { ActionRequest } from "../api/client";
import { storePerJob } from "../common/session";

/** Hands that show a finding, and until when: for the bench to make them once. */
interface Proof {
  readonly hands: readonly ActionRequest[];
  readonly untilUs: number;
}

/** What is seen of the last move. */
const AFTERWARDS_US = 1_500_000;

const useProof = storePerJob<{ readonly proof: Proof | null }>(() => ({ proof: null }));

export const setProof = (proof: Proof): void => useProof.setState({ proof });

export const proofOf = (moves: readonly ActionRequest[], seenUs: number): Proof => ({
  hands: moves,
  untilUs: Math.max(seenUs, (moves.at(-1)?.at_us ?? 0) + AFTERWARDS_US),
});

/** The proof that is asked for, which is taken: it is played once. */
export function takeProof(): Proof | null {
  const { proof } = useProof.getState();
  if (proof) useProof.setState({ proof: null });
  return proof;
}
