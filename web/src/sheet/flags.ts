import type { XY } from "./symbols/shapes";
import type { Flag } from "./wiring";

export interface FlagLine {
  /** Corner points of the stub, and of the mark at its end. */
  readonly stub: readonly XY[];
  readonly mark: readonly XY[];
  /** Where it branches off a wire that goes on, if it does. */
  readonly dot?: { readonly x: number; readonly y: number };
  readonly text: {
    readonly x: number;
    readonly y: number;
    readonly align: "start" | "middle" | "end";
    readonly step: number;
  };
}

export const pathOf = (points: readonly XY[]): string => `M${points.map(([x, y]) => `${x} ${y}`).join("L")}`;

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
    const [fy, fx] = [y + vertical, past + side * 0.9];
    return {
      stub: [
        [x, y],
        [x, fy],
        [fx, fy],
      ],
      ...(alone ? {} : { dot: { x, y: fy } }),
      mark: triangle([fx, fy], [side, 0]),
      text: { x: fx + side, y: fy + 0.45, align: left ? "end" : "start", step: 1.45 },
    };
  }
  const down = at.leaves === "down" ? 1 : -1;
  const fy = y + down * (flag.far ? 2.9 : 1.5);
  return {
    stub: [
      [x, y],
      [x, fy],
    ],
    mark: triangle([x, fy], [0, down]),
    text: { x, y: fy + (down > 0 ? 1.7 : -1), align: "middle", step: 1.45 * down },
  };
}

/** Off a wire that goes on along its rung: upwards, where no branch leads. */
function besideRung(x: number, y: number, leaves: "left" | "right"): FlagLine {
  const side = leaves === "left" ? -1 : 1;
  const [fx, fy] = [x + side, y - 1.8];
  return {
    stub: [
      [x, y],
      [fx, y],
      [fx, fy],
    ],
    dot: { x: fx, y },
    mark: triangle([fx, fy], [0, -1]),
    text: { x: fx + side * 0.7, y: fy + 0.1, align: side < 0 ? "end" : "start", step: -1.45 },
  };
}

/** A mark that points on, from the end of the stub. */
function triangle([x, y]: XY, [dx, dy]: XY): XY[] {
  const back = (side: number): XY => [x + side * dy * 0.35, y + side * dx * 0.35];
  return [back(1), [x + dx * 0.7, y + dy * 0.7], back(-1), back(1)];
}
