import { Text } from "@chakra-ui/react";
import { useMemo } from "react";
import type { Circuit } from "../circuit/types";
import { foundIn, useCheckResults } from "./checks";

/** How the check stands, in sight whatever is selected. */
export function CheckLine({ circuit }: { circuit: Circuit }) {
  const results = useCheckResults((checks) => checks.results);
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
      {open === 0 ? "Check: clear" : `Check: ${open} found`}
    </Text>
  );
}
