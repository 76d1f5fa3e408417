import type { End } from "../circuit/types";
import { findTerminal, type Layout } from "./layout";

/** A probe tip on its terminal, with its letter so that colour alone does not tell them apart. */
export function ProbeTip(props: { layout: Layout; end: End | null; hand: "red" | "black" }) {
  const found = props.end && findTerminal(props.layout, props.end);
  if (!found) return null;
  const { page, terminal } = found;
  const [x, y] = [terminal.x + page.shift.x, terminal.y + page.shift.y];
  const side = props.hand === "red" ? -1 : 1;
  const [hx, hy] = [x + side * 1.5, y - 1.5];
  return (
    <g pointerEvents="none">
      <path className={`probe-lead ${props.hand}`} d={`M${x} ${y}L${hx} ${hy}`} />
      <circle className={`probe-tip ${props.hand}`} cx={hx} cy={hy} r={0.9} />
      <text className="probe-letter" x={hx} y={hy + 0.38}>
        {props.hand === "red" ? "R" : "B"}
      </text>
    </g>
  );
}
