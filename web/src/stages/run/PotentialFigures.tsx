import { useBench } from "../../bench/context";
import { endKey } from "../../circuit/types";
import type { Layout } from "../../sheet/page";

import type { PlacedTerminal } from "../../sheet/placed";

/** The hot and cold map: at each terminal of the sheets its volts to the reference. */
export function PotentialFigures({ layout }: { layout: Layout }) {
  const volts = useBench((state) => state.potentials?.volts);
  const reference = useBench((state) => state.reference);
  if (!volts) return null;
  return (
    <g className="potentials" pointerEvents="none">
      {layout.pages.flatMap(({ terminals, shift }) =>
        [...terminals.values()].map((terminal) => {
          const key = endKey(terminal.end);
          const { x, y, align } = placeOf(terminal);
          const here = reference !== null && endKey(reference) === key;
          return (
            <text
              key={`${key}/${terminal.x}/${terminal.y}`}
              x={x + shift.x}
              y={y + shift.y}
              textAnchor={align}
              data-potential={key}
            >
              {here ? "ref" : rounded(volts.get(key))}
            </text>
          );
        }),
      )}
    </g>
  );
}

/** On the side of a terminal where its number does not stand. */
function placeOf({ x, y, leaves }: PlacedTerminal): {
  x: number;
  y: number;
  align: "start" | "middle" | "end";
} {
  if (leaves === "up") return { x: x - 0.35, y: y - 0.25, align: "end" };
  if (leaves === "down") return { x: x - 0.35, y: y + 1.05, align: "end" };
  return { x: x + (leaves === "left" ? -0.3 : 0.3), y: y - 0.35, align: leaves === "left" ? "end" : "start" };
}

/** Whole volts from ten on: what fits at a terminal. */
const rounded = (display: string | undefined): string =>
  !display ? "–" : Math.abs(Number(display)) >= 10 ? Number(display).toFixed(0) : Number(display).toFixed(1);
