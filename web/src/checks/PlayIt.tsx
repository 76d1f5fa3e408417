import { Button } from "@chakra-ui/react";
import { useNavigate } from "react-router";
import type { ActionRequest } from "../api/client";
import { useDocument } from "../job/document";
import { proofOf, setProof } from "./proof";

/** Has the bench make the moves that show something, from the circuit just put under power. */
export function PlayIt({ moves, seenUs }: { moves: readonly ActionRequest[]; seenUs: number }) {
  const navigate = useNavigate();
  const job = useDocument((state) => state.job?.id);
  if (job === undefined) return null;
  return (
    <Button
      size="xs"
      variant="outline"
      onClick={() => {
        setProof(proofOf(moves, seenUs));
        void navigate(`/jobs/${job}/run`);
      }}
    >
      Play it
    </Button>
  );
}
