import { Text } from "@chakra-ui/react";
import { useMemo } from "react";
import type { Circuit } from "../circuit/types";
import { foundIn, isDrawn, unclear, useAllResults, useCheckResults } from "./checks";

/** How the check stands, in sight whatever is selected. */
export function CheckLine({ circuit }: { circuit: Circuit }) {
  const results = useAllResults();
  const worked = useCheckResults((checks) => checks.played !== null && !checks.late);
  const found = useMemo(
    () => foundIn(results, circuit.set_aside).filter(({ note }) => note === undefined),
    [results, circuit.set_aside],
  );
  const drawn = found.filter(isDrawn).length;
  const open = found.length - drawn;
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
      {lineOf(open, drawn, unclear(results).length, worked)}
    </Text>
  );
}

/** What cannot be told is never clear, nor what is still being drawn or worked. */
function lineOf(open: number, drawn: number, not: number, worked: boolean): string {
  if (open > 0) return `Check: ${open} found`;
  if (drawn > 0) return "Check: still being drawn";
  if (!worked) return "Check: working it";
  return not > 0 ? `Check: ${not} cannot be told` : "Check: clear";
}
