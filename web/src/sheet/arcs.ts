import type { XY } from "./symbols/shapes";

const STEPS = 12;

/** Points along arcs of a circle that are written as a path, "M x y A r r 0 large sweep x y ...". */
export function arcPoints(d: string): XY[] {
  const [start = "", ...arcs] = d.replace(/^M/, "").split("A");
  const points: XY[] = [pair(start)];
  for (const arc of arcs) {
    const figures = arc.trim().split(/[ ,]+/).map(Number);
    const [r = 0, , , large = 0, sweep = 0, x = 0, y = 0] = figures;
    points.push(...alongArc(points.at(-1) ?? [0, 0], [x, y], r, large === sweep ? -1 : 1, sweep === 1));
  }
  return points;
}

const pair = (words: string): XY => {
  const [x = 0, y = 0] = words.trim().split(/[ ,]+/).map(Number);
  return [x, y];
};

/** From one point to another about the centre on the given side of the chord. */
function alongArc([ax, ay]: XY, [bx, by]: XY, radius: number, side: number, clockwise: boolean): XY[] {
  const [mx, my, chord] = [(ax + bx) / 2, (ay + by) / 2, Math.hypot(bx - ax, by - ay)];
  const r = Math.max(radius, chord / 2);
  const height = side * Math.sqrt(Math.max(0, r * r - (chord * chord) / 4));
  const [cx, cy] = [mx - (height * (by - ay)) / chord, my + (height * (bx - ax)) / chord];
  const from = Math.atan2(ay - cy, ax - cx);
  let turn = Math.atan2(by - cy, bx - cx) - from;
  if (clockwise && turn < 0) turn += 2 * Math.PI;
  if (!clockwise && turn > 0) turn -= 2 * Math.PI;
  return Array.from({ length: STEPS }, (_, step): XY => {
    const angle = from + (turn * (step + 1)) / STEPS;
    return [cx + r * Math.cos(angle), cy + r * Math.sin(angle)];
  });
}
