import type { Layout } from "./page";
import "./probes.css";
import type { End } from "../circuit/types";
import { findTerminal } from "./layout";

type Hand = "red" | "black" | "third";

const LETTERS: Readonly<Record<Hand, string>> = { red: "R", black: "B", third: "T" };
/** To which side of its terminal each probe leans, and how high. */
const LEANS: Readonly<Record<Hand, readonly [number, number]>> = {
  red: [-1.5, -1.5],
  black: [1.5, -1.5],
  third: [1.5, 1.5],
};

/** A probe tip on its terminal, with its letter so that colour alone does not tell them apart. */
export function ProbeTip(props: { layout: Layout; end: End | null; hand: Hand }) {
  const found = props.end && findTerminal(props.layout, props.end);
  if (!found) return null;
  const { page, terminal } = found;
  const [x, y] = [terminal.x + page.shift.x, terminal.y + page.shift.y];
  const [dx, dy] = LEANS[props.hand];
  const [hx, hy] = [x + dx, y + dy];
  return (
    <g pointerEvents="none">
      <path className={`probe-lead ${props.hand}`} d={`M${x} ${y}L${hx} ${hy}`} />
      <circle className={`probe-tip ${props.hand}`} cx={hx} cy={hy} r={0.9} />
      <text className="probe-letter" x={hx} y={hy + 0.38}>
        {LETTERS[props.hand]}
      </text>
    </g>
  );
}

/** The letter of a meter that was left in the circuit, at one of its terminals. */
export function PinMark(props: { layout: Layout; end: End; letter: string; hand: "red" | "black" }) {
  const found = findTerminal(props.layout, props.end);
  if (!found) return null;
  const { page, terminal } = found;
  const [x, y] = [terminal.x + page.shift.x, terminal.y + page.shift.y];
  return (
    <g pointerEvents="none" className={`pin-mark ${props.hand}`}>
      <path d={`M${x} ${y}l-0.9 1`} />
      <rect x={x - 2.1} y={y + 0.7} width={1.4} height={1.5} rx={0.25} />
      <text x={x - 1.4} y={y + 1.9}>
        {props.letter}
      </text>
    </g>
  );
}
