import "./trace.css";
import { ProblemNotice } from "../../common/Notice";
import { useDocument } from "../../job/document";
import type { Stage, Views } from "../stage";
import { Advice } from "./Advice";
import { Observed } from "./Observed";
import { begin, leave, usePanel } from "./panel";
import { TraceBoard } from "./TraceBoard";

function Trouble({ circuit }: Views) {
  const problem = usePanel((state) => state.problem);
  const advised = usePanel((state) => state.advised);
  if (!problem || advised) return null;
  return (
    <ProblemNotice
      problem={problem}
      onRetry={() => {
        leave();
        void begin(useDocument.getState().job?.id, circuit);
      }}
    />
  );
}

/** Beside a real panel: what was done, seen and read there, which faults fit, and what to measure next. */
export const stage: Stage = {
  left: Observed,
  middle: TraceBoard,
  notice: Trouble,
  below: () => null,
  right: Advice,
  titles: { left: "Observed", right: "Diagnosis" },
  tools: null,
  enter: (circuit) => {
    void begin(useDocument.getState().job?.id, circuit);
    return leave;
  },
};
