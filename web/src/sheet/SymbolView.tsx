import { memo } from "react";
import type { Shape, SymbolDrawing } from "./symbols/shapes";

interface Props {
  readonly drawing: SymbolDrawing;
  /** Whether each branch of the part conducts, in order; undefined draws the part at rest. */
  readonly closed?: readonly boolean[] | undefined;
}

/** The strokes of a symbol, its contacts as they are. */
export const SymbolView = memo(function SymbolView({ drawing, closed }: Props) {
  return (
    <>
      {drawing.shapes.map((shape, index) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: the strokes of a symbol never change order
        <Stroke key={index} shape={shape} closed={closed} />
      ))}
    </>
  );
});

const path = (points: readonly (readonly [number, number])[]): string =>
  `M${points.map(([x, y]) => `${x} ${y}`).join("L")}`;

function Stroke({ shape, closed }: { shape: Shape; closed: Props["closed"] }) {
  switch (shape.kind) {
    case "line": {
      const classes = `stroke${shape.light ? " light" : ""}${shape.dashed ? " dashed" : ""}`;
      return <path className={classes} d={path(shape.points)} />;
    }
    case "circle":
      return (
        <circle
          className={shape.fills ? "disc fills" : "disc"}
          cx={shape.at[0]}
          cy={shape.at[1]}
          r={shape.r}
        />
      );
    case "arc":
      return <path className="stroke" d={shape.d} />;
    case "blade": {
      const conducts = closed?.[shape.branch] ?? shape.nc;
      const atRest = conducts === shape.nc;
      const from = atRest ? shape.pivot : (shape.lifts ?? shape.pivot);
      return <path className="stroke blade" d={path([from, atRest ? shape.rest : shape.moved])} />;
    }
    case "bridge":
      return closed?.[shape.branch] ? <path className="stroke blade" d={path(shape.points)} /> : null;
    case "text": {
      // It tells one relay from another: on a small view it is drawn larger than its symbol asks, about the same middle.
      const size = `max(${shape.size}px, calc(var(--sheet-legible, 0px) * var(--per-px, 0)))`;
      return (
        <text className="glyph" x={shape.at[0]} y={shape.at[1]} dy="0.36em" style={{ fontSize: size }}>
          {shape.text}
        </text>
      );
    }
  }
}
