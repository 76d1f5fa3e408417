import type { Box } from "./placed";
import type { XY } from "./symbols/shapes";

/** Side of the squares by which it is looked up what lies somewhere, in modules. */
const SQUARE = 4;
/** A line takes so much to either side. */
export const HALF_LINE = 0.1;

interface Taken extends Box {
  readonly weight: number;
}

/** What of a sheet is taken, by lines and by words. */
export class Ground {
  private readonly squares = new Map<number, Taken[]>();

  take(box: Box, weight: number): void {
    const taken = { ...box, weight };
    for (const square of squaresOf(box)) {
      const there = this.squares.get(square);
      if (there) there.push(taken);
      else this.squares.set(square, [taken]);
    }
  }

  /** Lines from point to point; a slanting one in short pieces. */
  takeLine(points: readonly XY[], weight: number): void {
    for (let at = 1; at < points.length; at += 1) {
      const [a, b] = [points[at - 1], points[at]];
      if (a && b) for (const piece of pieces(a, b)) this.take(piece, weight);
    }
  }

  /** How much of a box is taken already: a figure to compare, zero where it is free. */
  cost(box: Box): number {
    let sum = 0;
    for (const taken of this.near(box)) sum += taken.weight * (0.2 + overlap(taken, box));
    return sum;
  }

  private near(box: Box): Set<Taken> {
    const found = new Set<Taken>();
    for (const square of squaresOf(box))
      for (const taken of this.squares.get(square) ?? []) if (overlap(taken, box) > 0) found.add(taken);
    return found;
  }
}

function* squaresOf(box: Box): Iterable<number> {
  for (let x = Math.floor(box.left / SQUARE); x <= Math.floor(box.right / SQUARE); x += 1)
    for (let y = Math.floor(box.top / SQUARE); y <= Math.floor(box.bottom / SQUARE); y += 1)
      yield (x + 16_384) * 32_768 + y + 16_384;
}

export function overlap(a: Box, b: Box): number {
  const width = Math.min(a.right, b.right) - Math.max(a.left, b.left);
  const height = Math.min(a.bottom, b.bottom) - Math.max(a.top, b.top);
  return width > 0 && height > 0 ? width * height : 0;
}

const PIECE = 0.4;

function pieces([ax, ay]: XY, [bx, by]: XY): Box[] {
  const straight = ax === bx || ay === by;
  const count = straight ? 1 : Math.max(1, Math.ceil(Math.hypot(bx - ax, by - ay) / PIECE));
  return Array.from({ length: count }, (_, step) => {
    const [s, t] = [step / count, (step + 1) / count];
    const [x0, x1] = [ax + (bx - ax) * s, ax + (bx - ax) * t];
    const [y0, y1] = [ay + (by - ay) * s, ay + (by - ay) * t];
    return {
      left: Math.min(x0, x1) - HALF_LINE,
      right: Math.max(x0, x1) + HALF_LINE,
      top: Math.min(y0, y1) - HALF_LINE,
      bottom: Math.max(y0, y1) + HALF_LINE,
    };
  });
}
