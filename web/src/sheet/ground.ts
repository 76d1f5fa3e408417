import type { Box } from "./placed";
import type { XY } from "./symbols/shapes";

/** Side of the squares by which it is looked up what lies somewhere, in modules. */
const SQUARE = 4;
/** A line takes so much to either side. */
export const HALF_LINE = 0.1;
/** Length of the pieces that a slanting line is taken in. */
const PIECE = 0.4;

/**
 * What of a sheet is taken, by lines and by words. Edges and weights lie in arrays of their own, since a sheet of three
 * hundred parts has some ten thousand of them and is looked at with every edit.
 */
export class Ground {
  private readonly left: number[] = [];
  private readonly top: number[] = [];
  private readonly right: number[] = [];
  private readonly bottom: number[] = [];
  private readonly weight: number[] = [];
  private readonly squares = new Map<number, number[]>();

  take({ left, top, right, bottom }: Box, weight: number): void {
    this.put(left, top, right, bottom, weight);
  }

  /** Lines from point to point; a slanting one in short pieces. */
  takeLine(points: readonly XY[], weight: number, dx = 0, dy = 0): void {
    for (let at = 1; at < points.length; at += 1) {
      const [a, b] = [points[at - 1], points[at]];
      if (a && b) this.takeStretch(a[0] + dx, a[1] + dy, b[0] + dx, b[1] + dy, weight);
    }
  }

  private takeStretch(ax: number, ay: number, bx: number, by: number, weight: number): void {
    const straight = ax === bx || ay === by;
    const count = straight ? 1 : Math.max(1, Math.ceil(Math.hypot(bx - ax, by - ay) / PIECE));
    const [stepX, stepY] = [(bx - ax) / count, (by - ay) / count];
    for (let step = 0; step < count; step += 1) {
      const [x0, y0] = [ax + stepX * step, ay + stepY * step];
      const [x1, y1] = [x0 + stepX, y0 + stepY];
      this.put(
        Math.min(x0, x1) - HALF_LINE,
        Math.min(y0, y1) - HALF_LINE,
        Math.max(x0, x1) + HALF_LINE,
        Math.max(y0, y1) + HALF_LINE,
        weight,
      );
    }
  }

  private put(left: number, top: number, right: number, bottom: number, weight: number): void {
    const index = this.left.length;
    this.left.push(left);
    this.top.push(top);
    this.right.push(right);
    this.bottom.push(bottom);
    this.weight.push(weight);
    const [lastX, lastY] = [Math.floor(right / SQUARE), Math.floor(bottom / SQUARE)];
    for (let x = Math.floor(left / SQUARE); x <= lastX; x += 1)
      for (let y = Math.floor(top / SQUARE); y <= lastY; y += 1) {
        const there = this.squares.get(squareAt(x, y));
        if (there) there.push(index);
        else this.squares.set(squareAt(x, y), [index]);
      }
  }

  /** Is nothing in a box? */
  isFree(box: Box): boolean {
    const [lastX, lastY] = [Math.floor(box.right / SQUARE), Math.floor(box.bottom / SQUARE)];
    for (let x = Math.floor(box.left / SQUARE); x <= lastX; x += 1)
      for (let y = Math.floor(box.top / SQUARE); y <= lastY; y += 1)
        for (const index of this.squares.get(squareAt(x, y)) ?? NONE)
          if (this.meets(index, box)) return false;
    return true;
  }

  /** How much of a box is taken already: a figure to compare, zero where it is free. */
  cost(box: Box): number {
    const met = new Set<number>();
    const [lastX, lastY] = [Math.floor(box.right / SQUARE), Math.floor(box.bottom / SQUARE)];
    for (let x = Math.floor(box.left / SQUARE); x <= lastX; x += 1)
      for (let y = Math.floor(box.top / SQUARE); y <= lastY; y += 1)
        for (const index of this.squares.get(squareAt(x, y)) ?? NONE)
          if (this.meets(index, box)) met.add(index);
    let sum = 0;
    for (const index of met) sum += (this.weight[index] ?? 0) * (0.2 + overlap(this.boxAt(index), box));
    return sum;
  }

  private meets(index: number, { left, top, right, bottom }: Box): boolean {
    return (
      (this.left[index] ?? 0) < right &&
      (this.right[index] ?? 0) > left &&
      (this.top[index] ?? 0) < bottom &&
      (this.bottom[index] ?? 0) > top
    );
  }

  private boxAt(index: number): Box {
    const at = (edge: readonly number[]): number => edge[index] ?? 0;
    return { left: at(this.left), top: at(this.top), right: at(this.right), bottom: at(this.bottom) };
  }
}

const NONE: readonly number[] = [];
const squareAt = (x: number, y: number): number => (x + 16_384) * 32_768 + y + 16_384;

/** The area that two boxes have in common. */
export function overlap(a: Box, b: Box): number {
  const width = Math.min(a.right, b.right) - Math.max(a.left, b.left);
  const height = Math.min(a.bottom, b.bottom) - Math.max(a.top, b.top);
  return width > 0 && height > 0 ? width * height : 0;
}
