import { memo } from "react";
import type { Catalogue } from "../circuit/catalogue";
import type { PlacedPart } from "./placed";
import { SymbolView } from "./SymbolView";

export interface PartLook {
  readonly closed: readonly boolean[] | undefined;
  readonly active: boolean;
  readonly attention: boolean;
  readonly chatters: boolean;
  readonly says: string;
  /** Of a motor its direction and speed. */
  readonly turning: string | undefined;
  /** Is this what an eye sees and nothing more, its contacts drawn at rest? */
  readonly sight?: boolean;
}

interface Props {
  readonly part: PlacedPart;
  readonly catalogue: Catalogue;
  readonly look: PartLook | undefined;
  readonly selected: boolean;
  readonly pointed: boolean;
  readonly workable: boolean;
  readonly marked: boolean;
  readonly changed: boolean;
}

/** One part on a sheet: its symbol and how it stands. */
export const PartView = memo(function PartView({
  part,
  catalogue,
  look,
  selected,
  pointed,
  workable,
  marked,
  changed,
}: Props) {
  const { drawing, device, placement } = part;
  const [left, top, right, bottom] = drawing.body;
  const colour = catalogue.params(device)["colour"];
  const lens = typeof colour === "string" && part.part.does === "shows" ? `var(--lens-${colour})` : undefined;
  const [lx, ly] = drawing.label.at;
  const classes = ["part"];
  if (look?.sight) classes.push("sight");
  if (look?.active) classes.push("active");
  if (look?.attention) classes.push("attention");
  if (look?.chatters) classes.push("chatters");
  if (changed) classes.push("changed");
  if (selected) classes.push("selected");
  if (pointed) classes.push("pointed");
  if (workable) classes.push("workable");
  return (
    <g
      className={classes.join(" ")}
      transform={`translate(${placement.x} ${placement.y})`}
      style={lens ? ({ "--lens": lens } as React.CSSProperties) : undefined}
      role="img"
      aria-label={`${device.label} ${part.part.title}${look?.says ? `, ${look.says}` : ""}`}
    >
      <rect className="halo" x={left} y={top} width={right - left} height={bottom - top} rx={0.3} />
      <SymbolView drawing={drawing} closed={look?.closed} />
      {look?.turning && (
        <text
          className="caption turning"
          x={bottom > 5 ? right - 1.4 : right + 0.4}
          y={bottom > 9 ? 6.9 : bottom - 0.6}
        >
          {look.turning}
        </text>
      )}
      {marked && (
        <path className="found-mark" d={foundMark(lx, ly, drawing.label.align, device.label.length)} />
      )}
    </g>
  );
});

/** A triangle above the designation; in a rung, where the note stands above, before it. */
function foundMark(x: number, y: number, align: "start" | "middle" | "end", letters: number): string {
  if (align === "middle") return `M${x - 0.4 * letters - 1.1} ${y - 1}l0.65 1h-1.3z`;
  return `M${x + (align === "end" ? -1 : 1)} ${y - 2.2}l0.65 1h-1.3z`;
}
