import type { Hit, Layout } from "../../sheet/page";
import "./reasons.css";
import { useMemo, useRef } from "react";
import { useShallow } from "zustand/react/shallow";
import { changedAt } from "../../bench/changed";
import { useBench, useFrame, useTheBench } from "../../bench/context";
import { handsOf } from "../../bench/instruments";
import { askDevice } from "../../bench/reasons";
import { chatteringNow, type Hand } from "../../bench/state";
import { letGoOf, mainOperation, press } from "../../bench/working";
import type { Catalogue } from "../../circuit/catalogue";
import { type Device, type Explanation, endKey, type Frame, type Operation } from "../../circuit/types";
import { describe } from "../../job/describe";
import { Board } from "../../sheet/Board";

import { PageView } from "../../sheet/PageView";
import { PinMark, ProbeTip } from "../../sheet/Probes";
import type { PlacedPart } from "../../sheet/placed";
import { leadLines, traceLines, wireLines } from "../../sheet/traces";
import { setView, useView } from "../../sheet/view";
import { Clocks } from "./Clocks";
import { Flow } from "./Flow";
import { PotentialFigures } from "./PotentialFigures";
import { useUnderWay } from "./predict/underWay";

interface Props {
  readonly layout: Layout;
  readonly catalogue: Catalogue;
}

const NOTHING: ReadonlySet<string> = new Set();

/** The sheets under power: hold a symbol to work it, click a terminal to put a probe there. */
export function RunBoard({ layout, catalogue }: Props) {
  const frame = useFrame();
  const explanation = useBench((bench) => bench.explanation);
  const chatters = useBench((bench) => bench.chatters);
  const paused = useBench((state) => state.paused);
  const hover = useView((view) => view.hover);
  const chattering = useMemo(
    () => (chatters.length && frame ? chatteringNow(chatters, frame.time_us) : NOTHING),
    [chatters, frame],
  );
  const changed = useChanged();
  const workable = useMemo(
    () => (part: PlacedPart) => (catalogue.kind(part.device.kind)?.operations.length ?? 0) > 0,
    [catalogue],
  );

  const hands = useHands(catalogue, frame);
  const pointed = hover?.kind === "part" && workable(hover.part) ? hover.part.key : undefined;
  return (
    <Board
      layout={layout}
      label="Circuit under power"
      placing={false}
      {...hands}
      onHover={(hit) => setView({ hover: hit ?? null })}
      describe={describe}
    >
      {(shown) => (
        <>
          <g className={paused ? "stands" : "runs"}>
            {shown.pages.map((page) => (
              <PageView
                key={page.sheet.id}
                page={page}
                catalogue={catalogue}
                frame={frame}
                grid={false}
                chattering={chattering}
                selectedParts={NOTHING}
                selectedWire={undefined}
                pointedPart={pointed}
                pointedTerminal={hover?.kind === "terminal" ? endKey(hover.terminal.end) : undefined}
                workable={workable}
                changed={changed}
              />
            ))}
          </g>
          {explanation && <Traces layout={shown} explanation={explanation} />}
          <Leads layout={shown} />
          <Clocks layout={shown} />
          <PotentialFigures layout={shown} />
          <Flow layout={shown} />
          <Instruments layout={shown} />
        </>
      )}
    </Board>
  );
}

/** Devices that have just changed; the same set as long as it holds the same. */
function useChanged(): ReadonlySet<string> {
  const frames = useBench((state) => state.frames);
  const now = useBench((state) => state.now);
  const paused = useBench((state) => state.paused);
  const speed = useBench((state) => state.speed);
  const found = useMemo(
    () => [...changedAt(frames, now, { paused, speed })].sort().join(" "),
    [frames, now, paused, speed],
  );
  return useMemo(() => new Set(found.split(" ")), [found]);
}

/** What stands on the sheets of the instrument in the hand, and of the meters that were left. */
function Instruments({ layout }: { layout: Layout }) {
  const instrument = useBench((state) => state.instrument);
  const hands = useBench(useShallow(({ red, black, third }) => ({ red, black, third })));
  const jaw = useBench((state) => state.jaw);
  const pins = useBench((state) => state.pins);
  return (
    <>
      {instrument === "clamp" && <path className="in-jaw" d={wireLines(layout, jaw)} pointerEvents="none" />}
      {pins.flatMap(({ letter, red, black }) => [
        <PinMark key={`${letter}+`} layout={layout} end={red} letter={letter} hand="red" />,
        <PinMark key={`${letter}-`} layout={layout} end={black} letter={letter} hand="black" />,
      ])}
      {handsOf(instrument).map((hand) => (
        <ProbeTip key={hand} layout={layout} end={hands[hand]} hand={hand} />
      ))}
    </>
  );
}

/** The way of each probe, drawn on the sheets. */
function Traces({ layout, explanation }: { layout: Layout; explanation: Explanation }) {
  const traces = useMemo(() => traceLines(layout, explanation), [layout, explanation]);
  return (
    <g pointerEvents="none">
      <path className="trace red" d={traces.red} />
      <path className="trace black" d={traces.black} />
    </g>
  );
}

/** The ways by which a device is fed or would be, and where they are open; of the moment that is shown alone. */
function Leads({ layout }: { layout: Layout }) {
  const why = useBench((state) => state.why);
  const frame = useFrame();
  const lines = useMemo(() => why && leadLines(layout, why.reason), [layout, why]);
  const short = why?.reason.causes.find(({ conductors }) => conductors.length > 0)?.conductors;
  if (short)
    return <path className="short-circuit" d={wireLines(layout, short)} data-testid="short-circuit" />;
  if (!lines || why?.of.state !== frame?.state) return null;
  return (
    <g pointerEvents="none" data-testid="leads">
      <path className="trace lead" d={lines.whole} />
      <path className="trace lead open" d={lines.open} />
      <path className="gap" d={lines.gaps} />
    </g>
  );
}

const KEYS: Readonly<Record<string, Hand>> = { r: "red", b: "black", t: "third" };

/** What hands do on the board: work a symbol while it is held, put a probe on a terminal. */
function useHands(catalogue: Catalogue, frame: Frame | undefined) {
  const bench = useTheBench();
  const held = useRef<{ device: Device; operation: Operation; byKey: boolean } | null>(null);
  const onPress = (hit: Hit, how: { latch: boolean; byKey: boolean }): void => {
    const { instrument } = bench.use.getState();
    if (hit.kind === "terminal" && instrument !== "clamp") bench.meters.probe(hit.terminal.end);
    if (hit.kind === "wire" && instrument === "clamp") bench.meters.clamp(hit.run.conductor.id);
    if (hit.kind !== "part") return;
    const operation = mainOperation(hit.part.device, catalogue, frame);
    if (!operation) return;
    held.current = { device: hit.part.device, operation, byKey: how.byKey };
    press(bench, hit.part.device, operation, frame, how.latch);
  };
  const onRelease = (_hit: Hit | undefined, how: { byKey: boolean }): void => {
    // The keyboard may go elsewhere while the pointer goes on holding, and the other way round.
    if (!held.current || held.current.byKey !== how.byKey) return;
    letGoOf(bench, held.current.device.id, held.current.operation);
    held.current = null;
  };
  const onKey = (key: string, hit: Hit | undefined): boolean => {
    if (key === "w" && hit?.kind === "part" && useUnderWay.getState().pane !== "predict") {
      void askDevice(bench, hit.part.device.id);
      return true;
    }
    const hand = KEYS[key];
    const { instrument } = bench.use.getState();
    if (!hand || hit?.kind !== "terminal" || !handsOf(instrument).includes(hand)) return false;
    bench.meters.probe(hit.terminal.end, hand);
    return true;
  };
  return { onPress, onRelease, onKey };
}
