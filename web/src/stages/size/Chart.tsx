import { type KeyboardEvent, type MouseEvent, useMemo, useRef, useState } from "react";
import { type Answer, fill, useSizing } from "./sizing";

type Told = NonNullable<Answer["chart"]>;
type Curve = Told["curves"][number];

const [WIDTH, HEIGHT, LEFT, BOTTOM] = [640, 300, 46, 26];
const TIMES = [0.01, 0.1, 1, 10, 100, 1000];
const NAMES: Readonly<Record<string, string>> = {
  start: "Start of the motor",
  overload_hot: "Overload relay, hot",
  overload: "Overload relay, cold",
  breaker_curve: "Breaker",
  limit: "Winding withstands, hot",
  cable: "Cable withstands",
};

/** Currents against times, on logarithmic scales: what starts, what trips, and what must not be passed. */
export function Chart({ chart }: { chart: Told }) {
  const scale = useMemo(() => scaleOf(chart), [chart]);
  const [at, setAt] = useState<number | null>(null);
  const box = useRef<SVGSVGElement>(null);
  const amperes = at ?? chart.dial_a * 1.5;
  const read = readAt(chart.curves, amperes);
  const onMove = (event: MouseEvent): void => {
    const found = box.current?.getBoundingClientRect();
    if (found) setAt(scale.amperes(((event.clientX - found.left) / found.width) * WIDTH));
  };
  const onKeyDown = (event: KeyboardEvent): void => {
    const way = { ArrowLeft: 1 / 1.05, ArrowRight: 1.05 }[event.key];
    if (!way) return;
    event.preventDefault();
    setAt(Math.min(scale.most, Math.max(scale.least, amperes * way)));
  };
  return (
    <div className="size-chart">
      <div
        role="slider"
        tabIndex={0}
        aria-label="Time-current chart"
        aria-valuemin={scale.least}
        aria-valuemax={scale.most}
        aria-valuenow={amperes}
        aria-valuetext={`${amperes.toPrecision(3)} A: ${read.map(({ name, words }) => `${name} ${words}`).join(", ")}`}
        onMouseMove={onMove}
        onKeyDown={onKeyDown}
      >
        <svg ref={box} viewBox={`0 0 ${WIDTH} ${HEIGHT}`} aria-hidden>
          <Grid scale={scale} />
          {chart.curves.map(({ name, points }) => (
            <path
              key={name}
              className={`curve ${name}`}
              d={points
                .map(
                  ([a, s], index) => `${index ? "L" : "M"}${scale.x(a).toFixed(1)} ${scale.y(s).toFixed(1)}`,
                )
                .join("")}
            />
          ))}
          <line
            className="dial"
            x1={scale.x(chart.dial_a)}
            x2={scale.x(chart.dial_a)}
            y1="8"
            y2={HEIGHT - BOTTOM}
          />
          <line className="cursor" x1={scale.x(amperes)} x2={scale.x(amperes)} y1="8" y2={HEIGHT - BOTTOM} />
        </svg>
      </div>
      <div className="size-legend">
        <p>
          At <strong>{amperes.toPrecision(3)} A</strong>
        </p>
        <ul aria-label="Read from the chart">
          {chart.curves.map(({ name }) => (
            <li key={name} className={name}>
              <i aria-hidden />
              {NAMES[name] ?? name}
              <span>{read.find((one) => one.key === name)?.words ?? ""}</span>
            </li>
          ))}
        </ul>
        {chart.marks.map((mark) => (
          <p key={mark} className="caution">
            {mark}
          </p>
        ))}
        <Move chart={chart} />
      </div>
    </div>
  );
}

/** Dial and time of the start, moved by hand: the curves follow. */
function Move({ chart }: { chart: Told }) {
  const dial = useSizing((state) => state.data.fields["dial"] ?? "");
  const start = useSizing((state) => state.data.fields["start_time"] ?? "");
  // A slider stands where the hand is, not where the answer that is on its way will put it.
  const dialA = Number(dial) > 0 ? Number(dial) : chart.dial_a;
  const startS = Number(start) > 0 ? Number(start) : chart.start_s;
  return (
    <div className="size-move">
      <label>
        Dial
        <input
          type="range"
          min={Math.log(0.1)}
          max={Math.log(1000)}
          step="0.01"
          value={Math.log(dialA)}
          aria-valuetext={`${dialA.toPrecision(3)} A`}
          onChange={(event) => fill("dial", Math.exp(Number(event.target.value)).toPrecision(3))}
        />
      </label>
      <label>
        Start time
        <input
          type="range"
          min={Math.log(0.1)}
          max={Math.log(60)}
          step="0.02"
          value={Math.log(startS ?? 60)}
          aria-valuetext={startS === null ? "never" : `${startS.toPrecision(3)} s`}
          onChange={(event) => fill("start_time", Math.exp(Number(event.target.value)).toPrecision(3))}
        />
      </label>
      {(dial || start) && (
        <button
          type="button"
          onClick={() => {
            fill("dial", "");
            fill("start_time", "");
          }}
        >
          As worked out
        </button>
      )}
    </div>
  );
}

interface Scale {
  readonly least: number;
  readonly most: number;
  readonly x: (amperes: number) => number;
  readonly y: (seconds: number) => number;
  readonly amperes: (x: number) => number;
}

function scaleOf(chart: Told): Scale {
  const least = chart.dial_a * 0.7;
  const most = Math.max(chart.dial_a * 30, ...chart.curves.map(({ points }) => points.at(-1)?.[0] ?? 0));
  const long = Math.log(most / least);
  const high = Math.log(TIMES.at(-1) ?? 1000) - Math.log(0.01);
  const clip = (value: number): number => Math.min(HEIGHT - BOTTOM, Math.max(8, value));
  return {
    least,
    most,
    x: (amperes) => LEFT + (Math.log(amperes / least) / long) * (WIDTH - LEFT - 8),
    y: (seconds) =>
      clip(HEIGHT - BOTTOM - ((Math.log(seconds) - Math.log(0.01)) / high) * (HEIGHT - BOTTOM - 8)),
    amperes: (x) => least * Math.exp((Math.min(1, Math.max(0, (x - LEFT) / (WIDTH - LEFT - 8))) || 0) * long),
  };
}

function Grid({ scale }: { scale: Scale }) {
  const marks = [1, 2, 5]
    .flatMap((digit) => [0.1, 1, 10, 100, 1000, 10_000].map((power) => digit * power))
    .filter((amperes) => amperes > scale.least && amperes < scale.most);
  return (
    <g className="grid">
      {TIMES.map((seconds) => (
        <g key={seconds}>
          <line x1={LEFT} x2={WIDTH - 8} y1={scale.y(seconds)} y2={scale.y(seconds)} />
          <text x={LEFT - 6} y={scale.y(seconds) + 4} textAnchor="end">
            {seconds} s
          </text>
        </g>
      ))}
      {marks.map((amperes) => (
        <g key={amperes}>
          <line x1={scale.x(amperes)} x2={scale.x(amperes)} y1="8" y2={HEIGHT - BOTTOM} />
          <text x={scale.x(amperes)} y={HEIGHT - 8} textAnchor="middle">
            {amperes} A
          </text>
        </g>
      ))}
    </g>
  );
}

/** What each curve says at a current: the time between its two nearest points, on logarithmic scales. */
function readAt(curves: readonly Curve[], amperes: number): { key: string; name: string; words: string }[] {
  return curves.map(({ name, points }) => {
    const ordered = name === "start" || name === "cable" ? [...points].sort((p, q) => p[0] - q[0]) : points;
    const after = ordered.findIndex(([a]) => a >= amperes);
    const [one, other] = [ordered[after - 1], ordered[after]];
    const title = NAMES[name] ?? name;
    if (!one || !other) return { key: name, name: title, words: after === 0 ? "never" : "" };
    const share = Math.log(amperes / one[0]) / Math.log(other[0] / one[0]) || 0;
    const seconds = Math.exp((1 - share) * Math.log(one[1]) + share * Math.log(other[1]));
    return { key: name, name: title, words: `${seconds.toPrecision(3)} s` };
  });
}
