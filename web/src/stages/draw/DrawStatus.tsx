import { CheckLine } from "../../checks/CheckLine";
import type { Circuit } from "../../circuit/types";
import { StatusLine } from "./StatusLine";

/** What a click would do, and what the checks have found. */
export function DrawStatus({ circuit }: { circuit: Circuit }) {
  return (
    <>
      <StatusLine />
      <CheckLine circuit={circuit} />
    </>
  );
}
