import "./trace.css";
import "./exercise.css";
import { Button } from "@chakra-ui/react";
import { Notice, ProblemNotice } from "../../common/Notice";
import type { Stage, Views } from "../stage";
import { Advice, Told } from "./Advice";
import { ExerciseBoard } from "./exercise/ExerciseBoard";
import { load, setExercise, useExercise } from "./exercise/exercise";
import { Panel } from "./exercise/Panel";
import { Record } from "./exercise/Record";
import { ReviewPane } from "./exercise/ReviewPane";
import { Setting } from "./exercise/Setting";
import { Tools } from "./exercise/Tools";
import { type Mode, setMode, useMode } from "./mode";
import { Observed } from "./Observed";
import { begin, leave, usePanel } from "./panel";
import { TraceBoard } from "./TraceBoard";

const MODES: readonly (readonly [Mode, string])[] = [
  ["exercise", "Exercise"],
  ["panel", "Real panel"],
];

function Left(views: Views) {
  const mode = useMode((state) => state.mode);
  const open = useExercise((state) => state.open !== null);
  return (
    <>
      <div className="trace-modes" role="group" aria-label="What is traced">
        {MODES.map(([one, title]) => (
          <button key={one} type="button" aria-pressed={mode === one} onClick={() => setMode(one)}>
            {title}
          </button>
        ))}
      </div>
      {mode === "panel" ? <Observed {...views} /> : open ? <Panel {...views} /> : <Setting {...views} />}
    </>
  );
}

function Middle(views: Views) {
  const mode = useMode((state) => state.mode);
  return mode === "panel" ? <TraceBoard {...views} /> : <ExerciseBoard {...views} />;
}

function Right(views: Views) {
  const mode = useMode((state) => state.mode);
  const ended = useExercise((state) => Boolean(state.open?.ended_at));
  if (mode === "panel") return <Advice {...views} />;
  return ended ? <ReviewPane /> : <Tools {...views} />;
}

function Below(views: Views) {
  const mode = useMode((state) => state.mode);
  return mode === "panel" ? <Told /> : <Record {...views} />;
}

function Trouble({ circuit }: Views) {
  const mode = useMode((state) => state.mode);
  const problem = usePanel((state) => state.problem);
  const advised = usePanel((state) => state.advised);
  const refused = useExercise((state) => state.problem);
  if (mode === "exercise" && refused)
    return (
      <Notice
        title={refused.title}
        actions={
          <Button size="xs" variant="outline" onClick={() => setExercise({ problem: null })}>
            Understood
          </Button>
        }
      >
        {refused.detail}
      </Notice>
    );
  if (mode === "exercise" || !problem || advised) return null;
  return (
    <ProblemNotice
      problem={problem}
      onRetry={() => {
        leave();
        void begin(circuit);
      }}
    />
  );
}

/** Where the fault is: hidden ones to be found on the screen, and a real panel beside it. */
export const stage: Stage = {
  left: Left,
  middle: Middle,
  notice: Trouble,
  below: Below,
  right: Right,
  titles: { left: "Panel", below: "Record", right: "Tools" },
  tools: null,
  enter: (circuit) => {
    const arrive = (): void => {
      leave();
      void (useMode.getState().mode === "exercise" ? load() : begin(circuit));
    };
    arrive();
    const forget = useMode.subscribe(arrive);
    return () => {
      forget();
      leave();
    };
  },
};
