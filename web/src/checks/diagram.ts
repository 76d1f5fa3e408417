import type { Diagram } from "../api/types";

/** Sizes in the picture, in its own units. */
export const BOX = { width: 132, line: 15, pad: 8 };
const GAP = { column: 92, row: 46 };
const EDGE = 24;

export type MachineState = Diagram["states"][number];
export type Arrow = Diagram["arrows"][number];

export interface Placed {
  readonly state: MachineState;
  readonly x: number;
  readonly y: number;
  readonly height: number;
}

export interface Drawn {
  readonly arrow: Arrow;
  readonly path: string;
  /** Where its words stand. */
  readonly at: { readonly x: number; readonly y: number };
}

export interface Picture {
  readonly boxes: readonly Placed[];
  readonly arrows: readonly Drawn[];
  readonly width: number;
  readonly height: number;
}

const heightOf = (state: MachineState): number => state.lines.length * BOX.line + 2 * BOX.pad;

/** Boxes in the columns and rows that the core gives, arrows between them; those that lead back pass below. */
export function picture({ states, arrows }: Diagram): Picture {
  const tallest = Math.max(0, ...states.map(heightOf));
  const boxes = states.map((state) => ({
    state,
    x: EDGE + state.column * (BOX.width + GAP.column),
    y: EDGE + state.row * (tallest + GAP.row),
    height: heightOf(state),
  }));
  const byNumber = new Map(boxes.map((box) => [box.state.number, box]));
  const drawn = arrows.flatMap((arrow): Drawn[] => {
    const [of, to] = [byNumber.get(arrow.of), byNumber.get(arrow.to)];
    return of && to ? [arrowBetween(arrow, of, to, arrows)] : [];
  });
  return {
    boxes,
    arrows: drawn,
    width: Math.max(0, ...boxes.map(({ x }) => x + BOX.width)) + EDGE,
    height: Math.max(0, ...boxes.map(({ y, height }) => y + height)) + 2 * EDGE + GAP.row,
  };
}

/** Arrows at one side of a box share it, in the order in which they stand. */
function share(arrow: Arrow, all: readonly Arrow[], end: "of" | "to"): number {
  const same = all.filter((one) => one[end] === arrow[end]);
  return (same.indexOf(arrow) + 1) / (same.length + 1);
}

/** Between two boxes of a column: down from the one to the next, up along their right side. */
function within(arrow: Arrow, of: Placed, to: Placed, leaves: number, comes: number): Drawn {
  if (to.y > of.y) {
    const [x1, x2] = [of.x + leaves * BOX.width, to.x + comes * BOX.width];
    const [y1, y2] = [of.y + of.height, to.y];
    const path = `M${x1} ${y1} C${x1} ${y1 + 16} ${x2} ${y2 - 16} ${x2} ${y2}`;
    return { arrow, path, at: { x: (x1 + x2) / 2 + 4, y: (y1 + y2) / 2 + 4 } };
  }
  const [x, y1, y2] = [of.x + BOX.width, of.y + leaves * of.height, to.y + comes * to.height];
  const out = x + 26 + 10 * (of.state.row - to.state.row);
  return {
    arrow,
    path: `M${x} ${y1} C${out} ${y1} ${out} ${y2} ${x} ${y2}`,
    at: { x: x + 22, y: (y1 + y2) / 2 + 4 },
  };
}

function arrowBetween(arrow: Arrow, of: Placed, to: Placed, all: readonly Arrow[]): Drawn {
  const [leaves, comes] = [share(arrow, all, "of"), share(arrow, all, "to")];
  if (to.state.column > of.state.column) {
    const [x1, y1] = [of.x + BOX.width, of.y + leaves * of.height];
    const [x2, y2] = [to.x, to.y + comes * to.height];
    const bend = (x2 - x1) / 2;
    return {
      arrow,
      path: `M${x1} ${y1} C${x1 + bend} ${y1} ${x2 - bend} ${y2} ${x2} ${y2}`,
      at: { x: x1 + 8, y: y1 + (y2 - y1) * 0.12 - 4 },
    };
  }
  if (to.state.column === of.state.column) return within(arrow, of, to, leaves, comes);
  const [x1, y1] = [of.x + leaves * BOX.width, of.y + of.height];
  const [x2, y2] = [to.x + comes * BOX.width, to.y + to.height];
  const low = Math.max(y1, y2) + 18 + 10 * (of.state.column - to.state.column) + 14 * leaves;
  return {
    arrow,
    path: `M${x1} ${y1} C${x1} ${low} ${x2} ${low} ${x2} ${y2}`,
    at: { x: x1 - 4, y: y1 + 12 + 11 * leaves },
  };
}
