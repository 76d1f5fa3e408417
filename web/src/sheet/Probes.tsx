import type { End } from "../circuit/types";
import { findTerminal, type Layout } from "./layout";

/** A probe tip on its terminal, with its letter so that colour alone does not tell them apart. */
export function ProbeTip(props: { layout: Layout; end: End | null; hand: "red" | "black" }) {
  const found = props.end && findTerminal(props.layout, props.end);
  if (!found) return null;
  const { page, terminal } = found;
  const [x, y] = [terminal.x + page.shift.x, terminal.y + page.shift.y];
  const side = props.hand === "red" ? -1 : 1;
  return (
    <g className={`probe-tip ${props.hand}`} pointerEvents="none">
      <path
        className={`probe-tip ${props.hand}`}
        d={`M${x} ${y}L${x + side * 0.75} ${y - 1.5}A 1 1 0 1 ${side < 0 ? 1 : 0} ${x + side * 1.75} ${y - 0.75}Z`}
      />
      <text className="probe-letter" x={x + side * 1.55} y={y - 1.2}>
        {props.hand === "red" ? "R" : "B"}
      </text>
    </g>
  );
}
