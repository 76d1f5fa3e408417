import type { Box } from "./placed";
import { POLE } from "./symbols/shapes";
import type { Flag } from "./wiring";

export interface FlagLine {
  readonly path: string;
  readonly mark: string;
  /** Where it branches off a wire that goes on, if it does. */
  readonly dot?: { readonly x: number; readonly y: number };
  readonly text: {
    readonly x: number;
    readonly y: number;
    readonly align: "start" | "middle" | "end";
    readonly step: number;
  };
}

/** Straight on where the terminal has no other wire; else to the side, out of that wire's way. */
export function flagLine(flag: Flag, alone: boolean): FlagLine {
  const { at } = flag;
  const { x, y } = at;
  if (!alone && (at.leaves === "left" || at.leaves === "right")) return besideRung(x, y, at.leaves);
  if (at.leaves === "left" || at.leaves === "right" || !alone) {
    const vertical = at.leaves === "down" ? 1 : at.leaves === "up" ? -1 : 0;
    const left = at.leaves === "left" || (vertical !== 0 && at.anchor.at[0] === 0);
    const side = left ? -1 : 1;
    // To the right a flag goes past the other poles of its device.
    const past = left || vertical === 0 ? x : Math.max(x, at.owner.placement.x + at.owner.drawing.body[2]);
    const [fy, fx] = [y + vertical, past + side * 1.8];
    return {
      path: `M${x} ${y}V${fy}H${fx}`,
      ...(alone ? {} : { dot: { x, y: fy } }),
      mark: `M${fx} ${fy - 0.35}L${fx + side * 0.7} ${fy}L${fx} ${fy + 0.35}Z`,
      text: { x: fx + side, y: fy + 0.32, align: left ? "end" : "start", step: 1.1 },
    };
  }
  const down = at.leaves === "down" ? 1 : -1;
  // The notes of neighbouring poles stand one above the other.
  const fy = y + down * (Math.round(at.anchor.at[0] / POLE) % 2 === 0 ? 1.5 : 2.9);
  return {
    path: `M${x} ${y}V${fy}`,
    mark: `M${x - 0.35} ${fy}L${x} ${fy + down * 0.7}L${x + 0.35} ${fy}Z`,
    text: { x, y: fy + (down > 0 ? 1.7 : -1), align: "middle", step: 1.1 * down },
  };
}

/** Off a wire that goes on along its rung: upwards, where no branch leads. */
function besideRung(x: number, y: number, leaves: "left" | "right"): FlagLine {
  const side = leaves === "left" ? -1 : 1;
  const [fx, fy] = [x + side, y - 1.8];
  return {
    path: `M${x} ${y}H${fx}V${fy}`,
    dot: { x: fx, y },
    mark: `M${fx - 0.35} ${fy}L${fx} ${fy - 0.7}L${fx + 0.35} ${fy}Z`,
    text: { x: fx + side * 0.7, y: fy + 0.1, align: side < 0 ? "end" : "start", step: -1.1 },
  };
}

/** Width of a letter of a flag's note, on average, in modules. */
const LETTER = 0.55;
const LETTERS = 13;

/** The frame with room for the notes of its flags. */
export function withFlags(frame: Box, flags: readonly Flag[], alone: (flag: Flag) => boolean): Box {
  let { left, right } = frame;
  for (const flag of flags) {
    const { x, align } = flagLine(flag, alone(flag)).text;
    const width = LETTER * LETTERS;
    if (align === "start") right = Math.max(right, Math.ceil(x + width));
    if (align === "end") left = Math.min(left, Math.floor(x - width));
  }
  return { ...frame, left, right };
}
