import { useMemo } from "react";
import { handsOf } from "../../../bench/instruments";
import type { Hand } from "../../../bench/state";
import { describe } from "../../../job/describe";
import { Board } from "../../../sheet/Board";
import { ProbeTip } from "../../../sheet/Probes";
import type { Hit } from "../../../sheet/page";
import { wireLines } from "../../../sheet/traces";
import type { Views } from "../../stage";
import { AtRest } from "../AtRest";
import { clamp, marksOf, probe, seenNow, setExercise, useExercise } from "./exercise";

const NOTHING: ReadonlySet<string> = new Set();
const KEYS: Readonly<Record<string, Hand>> = { r: "red", b: "black", t: "third" };

/** The sheets as on paper: probes, what was lifted and ruled out, and in the review what was still possible. */
export function ExerciseBoard({ layout, catalogue, circuit }: Views) {
  const state = useExercise();
  const { open, review, reviewed, picked, instrument, jaw } = state;
  const sights = useMemo(() => (open ? seenNow(open) : {}), [open]);
  const marks = useMemo(() => (open ? marksOf(open) : { lifted: [], ruledOut: NOTHING }), [open]);
  const possible = useMemo(() => {
    const step = review?.steps.find(({ number }) => number === reviewed);
    return new Set(step?.places ?? []);
  }, [review, reviewed]);
  const wires = (of: ReadonlySet<string>): string[] =>
    circuit.conductors.filter(({ id }) => of.has(id)).map(({ id }) => id);
  return (
    <Board
      layout={layout}
      label="Circuit with a hidden fault"
      placing={false}
      onPress={onPress}
      onRelease={() => undefined}
      onHover={() => undefined}
      onKey={onKey}
      describe={describe}
    >
      {(shown) => (
        <>
          <AtRest
            layout={shown}
            catalogue={catalogue}
            suspected={possible}
            ruledOut={marks.ruledOut}
            picked={picked}
            // In the review the sheet tells of what was still possible, and of that alone.
            seen={review ? undefined : sights}
          />
          <path className="suspect" d={wireLines(shown, wires(possible))} pointerEvents="none" />
          <path className="ruled-out" d={wireLines(shown, wires(marks.ruledOut))} pointerEvents="none" />
          <path className="lifted" d={wireLines(shown, marks.lifted)} pointerEvents="none" />
          {instrument === "clamp" && (
            <path className="in-jaw" d={wireLines(shown, jaw)} pointerEvents="none" />
          )}
          {handsOf(instrument).map((hand) => (
            <ProbeTip key={hand} layout={shown} end={state[hand]} hand={hand} />
          ))}
        </>
      )}
    </Board>
  );
}

function onPress(hit: Hit): void {
  const { instrument } = useExercise.getState();
  if (hit.kind === "terminal" && instrument !== "clamp") probe(hit.terminal.end);
  if (hit.kind === "wire" && instrument === "clamp") clamp(hit.run.conductor.id);
  if (hit.kind === "wire") setExercise({ picked: hit.run.conductor.id });
  if (hit.kind === "part") setExercise({ picked: hit.part.device.id });
}

function onKey(key: string, hit: Hit | undefined): boolean {
  const hand = KEYS[key];
  const { instrument } = useExercise.getState();
  if (!hand || hit?.kind !== "terminal" || !handsOf(instrument).includes(hand)) return false;
  probe(hit.terminal.end, hand);
  return true;
}
