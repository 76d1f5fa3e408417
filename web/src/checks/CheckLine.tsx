import { Text } from "@chakra-ui/react";
import { useMemo } from "react";
import type { Circuit } from "../circuit/types";
import { foundIn, unclear, useAllResults, useCheckResults } from "./checks";

/** How the check stands, in sight whatever is selected. */
export function CheckLine({ circuit }: { circuit: Circuit }) {
  const results = useAllResults();
  const worked = useCheckResults((checks) => checks.played !== null);
  const open = useMemo(
    () => foundIn(results, circuit.set_aside).filter(({ note }) => note === undefined).length,
    [results, circuit.set_aside],
  );
  if (results.length === 0) return null;
  return (
    <Text
      ml="auto"
      pl="3"
      fontSize="line"
      whiteSpace="nowrap"
      color={open ? "var(--warn)" : "var(--soft)"}
      fontWeight={open ? "600" : "400"}
    >
      {lineOf(open, unclear(results).length, worked)}
    </Text>
  );
}

/** What cannot be told is never clear, nor what is still being worked. */
function lineOf(open: number, not: number, worked: boolean): string {
  if (open > 0) return `Check: ${open} found`;
  if (!worked) return "Check: working it";
  return not > 0 ? `Check: ${not} cannot be told` : "Check: clear";
}
