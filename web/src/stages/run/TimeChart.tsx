import { Box, Button, Flex, HStack, Text } from "@chakra-ui/react";
import { type KeyboardEvent, type MouseEvent, useMemo, useRef, useState } from "react";
import type { Bench } from "../../bench/bench";
import { useBench, useFrame, useTheBench } from "../../bench/context";
import type { Catalogue } from "../../circuit/catalogue";
import type { Circuit, Frame } from "../../circuit/types";
import { download } from "../../common/download";
import { csvOf, framesIn, type Lane, lanesOf, lineOf, type Span, wordsOf } from "./lanes";
import { TimeBar } from "./TimeBar";
import { useClock } from "./useClock";

const ROW = 17;
const LABELS = 156;
/** Spans of the chart, from milliseconds to an hour. */
const SPANS_US = [20e3, 100e3, 500e3, 2e6, 10e6, 60e6, 600e6, 3600e6];
const USUAL = 4;

interface Props {
  readonly circuit: Circuit;
  readonly catalogue: Catalogue;
  readonly width: number;
}

/** Who was on when, and how much: a line each. A click goes to a moment, a second mark measures from there. */
export function TimeChart({ circuit, catalogue, width }: Props) {
  const bench = useTheBench();
  const frames = useBench((state) => state.frames);
  const speed = useBench((state) => state.speed);
  const now = useClock();
  const [zoom, setZoom] = useState(USUAL);
  const [mark, setMark] = useState<number | null>(null);
  const [hover, setHover] = useState<number | null>(null);
  const head = useBench((state) => state.headUs);
  const paused = useBench((state) => state.paused);
  const long = (SPANS_US[zoom] ?? 10e6) * (zoom === USUAL ? speed : 1);
  const span = useSpan(now, Math.max(head, now), long, paused);
  const frame = useFrame();
  const lanes = useMemo(() => lanesOf(circuit, catalogue, frame), [circuit, catalogue, frame]);
  const chart = Math.max(width - LABELS - 16, 100);
  const svg = useRef<SVGSVGElement>(null);
  const timeAt = (event: MouseEvent): number => {
    const box = svg.current?.getBoundingClientRect();
    const share = box ? (event.clientX - box.left - LABELS) / chart : 0;
    return span.fromUs + Math.min(1, Math.max(0, share)) * (span.toUs - span.fromUs);
  };
  const onKeyDown = (event: KeyboardEvent): void => walk(event, bench, span, Math.max(head, now));
  return (
    <Box as="section" aria-label="Time chart" px="3" pt="1">
      <Flex justify="space-between" align="center" minH="28px" gap="2" wrap="wrap">
        <TimeBar now={now} />
        <ChartTools
          span={span}
          onZoom={(by) => setZoom(Math.min(SPANS_US.length - 1, Math.max(0, zoom + by)))}
          onSave={(how) => {
            if (how === "csv") download("time-chart.csv", csvOf(lanes, framesIn(frames, span)));
            else if (svg.current)
              download("time-chart.svg", new XMLSerializer().serializeToString(svg.current));
          }}
        />
      </Flex>
      <div
        className="chart"
        role="slider"
        tabIndex={0}
        aria-label="States over time"
        aria-valuemin={span.fromUs / 1e6}
        aria-valuemax={span.toUs / 1e6}
        aria-valuenow={now / 1e6}
        aria-valuetext={`${(now / 1e6).toFixed(3)} s`}
        onKeyDown={onKeyDown}
        onMouseMove={(event) => setHover(timeAt(event))}
        onMouseLeave={() => setHover(null)}
        onClick={(event) => (event.shiftKey ? setMark(timeAt(event)) : bench.goTo(timeAt(event)))}
      >
        <svg
          ref={svg}
          xmlns="http://www.w3.org/2000/svg"
          width={LABELS + chart}
          height={lanes.length * ROW + 4}
          aria-hidden
        >
          {lanes.map((lane, row) => (
            <LaneLine key={lane.key} lane={lane} row={row} frames={frames} span={span} width={chart} />
          ))}
          <Cursor at={now} span={span} width={chart} height={lanes.length * ROW} name="now" />
          {mark !== null && (
            <Cursor at={mark} span={span} width={chart} height={lanes.length * ROW} name="mark" />
          )}
          {hover !== null && (
            <Hover at={hover} lanes={lanes} frames={frames} span={span} width={chart} mark={mark ?? now} />
          )}
        </svg>
      </div>
    </Box>
  );
}

/** Keys go through time in steps of the window, and from event to event with Alt. */
function walk(event: KeyboardEvent, bench: Bench, span: Span, lastUs: number): void {
  const way = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
  if (!way) return;
  event.preventDefault();
  if (event.altKey) bench.step(way < 0 ? "previous" : "next");
  else bench.goTo(Math.min(bench.nowUs() + (way * (span.toUs - span.fromUs)) / 50, lastUs));
}

/** While time runs the window ends now; while it stands still it stays, as long as the moment lies in it. */
function useSpan(now: number, headUs: number, long: number, paused: boolean): Span {
  const kept = useRef<Span>({ fromUs: 0, toUs: 0 });
  const fits = now >= kept.current.fromUs && now <= kept.current.toUs;
  const same = kept.current.toUs - kept.current.fromUs === long;
  if (!paused) kept.current = { fromUs: now - long, toUs: now };
  else if (!fits || !same) {
    const toUs = Math.min(Math.max(headUs, now), now + long / 2);
    kept.current = { fromUs: Math.min(now, toUs - long), toUs: Math.min(now, toUs - long) + long };
  }
  return kept.current;
}

function ChartTools(props: {
  span: Span;
  onZoom: (by: number) => void;
  onSave: (how: "csv" | "svg") => void;
}) {
  return (
    <HStack gap="1">
      <Text fontSize="note" color="var(--soft)">
        {lasts(props.span.toUs - props.span.fromUs)}
      </Text>
      <Button size="2xs" variant="ghost" aria-label="A shorter time" onClick={() => props.onZoom(-1)}>
        +
      </Button>
      <Button size="2xs" variant="ghost" aria-label="A longer time" onClick={() => props.onZoom(1)}>
        −
      </Button>
      <Button size="2xs" variant="ghost" onClick={() => props.onSave("csv")}>
        CSV
      </Button>
      <Button size="2xs" variant="ghost" onClick={() => props.onSave("svg")}>
        SVG
      </Button>
    </HStack>
  );
}

const lasts = (us: number): string =>
  us >= 60e6 ? `${us / 60e6} min` : us >= 1e6 ? `${us / 1e6} s` : `${us / 1e3} ms`;

interface LaneProps {
  readonly lane: Lane;
  readonly row: number;
  readonly frames: readonly Frame[];
  readonly span: Span;
  readonly width: number;
}

function LaneLine({ lane, row, frames, span, width }: LaneProps) {
  const { device, figure } = lane;
  return (
    <g transform={`translate(0 ${row * ROW})`}>
      <text x={0} y={ROW - 5} className="chart-label">
        {device.label}
        <tspan className="chart-function" dx={6}>
          {(figure ? `${figure.title}, ${figure.unit}` : device.function).slice(0, 20)}
        </tspan>
      </text>
      <path className="chart-base" d={`M${LABELS} ${ROW - 3}h${width}`} />
      <path
        className={figure ? "chart-line figure" : "chart-line"}
        transform={`translate(${LABELS} 3)`}
        d={lineOf(lane, frames, span, width, ROW - 6)}
      />
    </g>
  );
}

const placeOf = (at: number, { fromUs, toUs }: Span, width: number): number =>
  LABELS + ((at - fromUs) / Math.max(1, toUs - fromUs)) * width;

function Cursor(props: { at: number; span: Span; width: number; height: number; name: string }) {
  const x = placeOf(props.at, props.span, props.width);
  if (x < LABELS - 1 || x > LABELS + props.width + 1) return null;
  return <path className={`chart-cursor ${props.name}`} d={`M${x} 0V${props.height}`} />;
}

/** What each line was worth where the pointer is, and how long that is from the mark. */
function Hover(props: {
  at: number;
  lanes: readonly Lane[];
  frames: readonly Frame[];
  span: Span;
  width: number;
  mark: number;
}) {
  const { at, lanes, frames, span, width, mark } = props;
  const frame = frames.findLast((one) => one.time_us <= at);
  const x = placeOf(at, span, width);
  if (!frame) return null;
  const left = x > LABELS + width - 130;
  const apart = Math.abs(at - mark);
  return (
    <g pointerEvents="none" className="chart-hover">
      <path d={`M${x} 0V${lanes.length * ROW}`} />
      {lanes.map((lane, row) => (
        <text
          key={lane.key}
          x={x + (left ? -4 : 4)}
          y={row * ROW + ROW - 5}
          textAnchor={left ? "end" : "start"}
        >
          {wordsOf(lane, frame)}
          {row === 0 && `   ${(at / 1e6).toFixed(3)} s, ${(apart / 1e3).toFixed(1)} ms apart`}
        </text>
      ))}
    </g>
  );
}
