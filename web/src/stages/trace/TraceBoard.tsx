import { useMemo } from "react";
import { sameEnd } from "../../circuit/types";
import { describe } from "../../job/describe";
import { Board } from "../../sheet/Board";
import { ProbeTip } from "../../sheet/Probes";
import type { Hit } from "../../sheet/page";
import { wireLines } from "../../sheet/traces";
import type { Views } from "../stage";
import { AtRest } from "./AtRest";
import { setPanel, usePanel } from "./panel";

/** While more faults than these are possible, nothing is marked on the sheet: it would be everything. */
const MARKED = 40;

/** The sheets as the panel is wired, with the places where the fault may be. */
export function TraceBoard({ layout, catalogue, circuit }: Views) {
  const red = usePanel((state) => state.red);
  const black = usePanel((state) => state.black);
  const likely = usePanel((state) => state.advised?.likely);
  const count = usePanel((state) => state.advised?.count ?? 0);
  const region = usePanel((state) => state.advised?.region);
  const places = useMemo(
    () => new Set(region?.places ?? (count > MARKED ? [] : (likely ?? []).flatMap((one) => one.places))),
    [likely, count, region],
  );
  const wires = circuit.conductors.filter(({ id }) => places.has(id)).map(({ id }) => id);
  const onPress = (hit: Hit): void => {
    if (hit.kind !== "terminal") return;
    const { end } = hit.terminal;
    const state = usePanel.getState();
    if (!state.red || state.black || sameEnd(state.red, end)) setPanel({ red: end, black: null });
    else setPanel({ black: end });
  };
  return (
    <Board
      layout={layout}
      label="Circuit to be traced"
      placing={false}
      onPress={onPress}
      onRelease={() => undefined}
      onHover={() => undefined}
      onKey={() => false}
      describe={describe}
    >
      {(shown) => (
        <>
          <AtRest layout={shown} catalogue={catalogue} suspected={places} />
          <path className="suspect" d={wireLines(shown, wires)} pointerEvents="none" />
          <ProbeTip layout={shown} end={red} hand="red" />
          <ProbeTip layout={shown} end={black} hand="black" />
        </>
      )}
    </Board>
  );
}
