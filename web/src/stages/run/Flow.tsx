import { useBench, useFrame } from "../../bench/context";
import type { Point } from "../../circuit/types";
import type { Layout } from "../../sheet/page";

/** Amperes below which a wire is said to carry nothing. */
const NOTHING_A = 0.005;

/** Where current flows: wires that carry any, and how much, at the middle of their longest stretch. */
export function Flow({ layout }: { layout: Layout }) {
  const flow = useBench((state) => state.flow && state.instrument === "clamp");
  const currents = useFrame()?.conductors_a;
  if (!flow || !currents) return null;
  return (
    <g className="flow" pointerEvents="none">
      {layout.pages.flatMap(({ wiring, shift }) =>
        wiring.runs.map(({ conductor, points }) => {
          const amperes = currents[conductor.id] ?? 0;
          if (amperes < NOTHING_A) return null;
          const line = points.map(({ x, y }) => `${x + shift.x} ${y + shift.y}`).join("L");
          const at = middleOf(points);
          return (
            <g key={conductor.id} data-flow={conductor.id}>
              <path d={`M${line}`} />
              <text x={at.x + shift.x + 0.4} y={at.y + shift.y + 0.4}>
                {amperes >= 10 ? amperes.toFixed(1) : amperes.toFixed(2)} A
              </text>
            </g>
          );
        }),
      )}
    </g>
  );
}

/** The middle of the longest stretch of a wire. */
function middleOf(points: readonly Point[]): Point {
  let [best, longest] = [points[0] ?? { x: 0, y: 0 }, -1];
  points.forEach((b, index) => {
    const a = points[index - 1];
    const long = a ? Math.abs(b.x - a.x) + Math.abs(b.y - a.y) : -1;
    if (a && long > longest) [best, longest] = [{ x: (a.x + b.x) / 2, y: (a.y + b.y) / 2 }, long];
  });
  return best;
}
