import { memo } from "react";
import type { SymbolDrawing } from "./symbols/shapes";

interface Props {
  readonly drawing: SymbolDrawing;
  /** Whether each branch of the part conducts, in order; undefined draws the part at rest. */
  readonly closed?: readonly boolean[] | undefined;
}

const path = (points: readonly (readonly [number, number])[]): string =>
  `M${points.map(([x, y]) => `${x} ${y}`).join("L")}`;

/** The strokes of a symbol, its contacts as they are. */
export const SymbolView = memo(function SymbolView({ drawing, closed }: Props) {
  return drawing.shapes.map((shape, index) => {
    // biome-ignore lint/suspicious/noArrayIndexKey: the strokes of a symbol never change order
    const key = index;
    switch (shape.kind) {
      case "line":
        return (
          <path
            key={key}
            className={`stroke${shape.light ? " light" : ""}${shape.dashed ? " dashed" : ""}`}
            d={path(shape.points)}
          />
        );
      case "circle":
        return (
          <circle
            key={key}
            className={shape.fills ? "disc fills" : "disc"}
            cx={shape.at[0]}
            cy={shape.at[1]}
            r={shape.r}
          />
        );
      case "arc":
        return <path key={key} className="stroke" d={shape.d} />;
      case "blade": {
        const conducts = closed?.[shape.branch] ?? shape.nc;
        return (
          <path
            key={key}
            className="stroke blade"
            d={path([shape.pivot, conducts === shape.nc ? shape.rest : shape.moved])}
          />
        );
      }
      case "text":
        return (
          <text
            key={key}
            className="glyph"
            x={shape.at[0]}
            y={shape.at[1] + shape.size * 0.36}
            fontSize={shape.size}
          >
            {shape.text}
          </text>
        );
    }
  });
});
