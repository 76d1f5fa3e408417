import type { Point } from "../../circuit/types";
import type { Hit } from "../../sheet/page";

type Way = [number, number][];

/** The new ways of all wires of a potential that share the stretch under a place, moved aside by some modules. */
export function pulled(hit: Hit & { kind: "wire" }, by: Point): Record<string, Way> {
  const { net } = hit.run;
  const here = stretchAt(hit.run.points, hit.at);
  if (here === undefined) return {};
  const upright = hit.run.points[here - 1]?.x === hit.run.points[here]?.x;
  const shift = upright ? by.x : by.y;
  if (shift === 0) return {};
  const routes: Record<string, Way> = {};
  for (const run of hit.page.wiring.runs) {
    if (run.net !== net) continue;
    const index = stretchAt(run.points, hit.at);
    const [a, b] = index === undefined ? [] : [run.points[index - 1], run.points[index]];
    if (index === undefined || !a || !b || (a.x === b.x) !== upright) continue;
    const way = aside(run.points, index, upright, shift);
    if (way) routes[run.conductor.id] = way.map(({ x, y }): [number, number] => [x, y]);
  }
  return routes;
}

/** The number of the point that ends the stretch on which a place lies. */
function stretchAt(points: readonly Point[], at: Point): number | undefined {
  const between = (v: number, a: number, b: number): boolean => v >= Math.min(a, b) && v <= Math.max(a, b);
  const index = points.findIndex((b, i) => {
    const a = points[i - 1];
    if (!a) return false;
    return a.x === b.x
      ? Math.abs(at.x - a.x) <= 0.6 && between(at.y, a.y, b.y)
      : Math.abs(at.y - a.y) <= 0.6 && between(at.x, a.x, b.x);
  });
  return index < 0 ? undefined : index;
}

/** One stretch moved aside; where it begins at a terminal, one module of it stays. */
function aside(points: readonly Point[], index: number, upright: boolean, by: number): Point[] | undefined {
  const [a, b] = [points[index - 1], points[index]];
  if (!a || !b) return undefined;
  const length = Math.abs(a.x - b.x) + Math.abs(a.y - b.y);
  const [first, last] = [index === 1, index === points.length - 1];
  if (length < Number(first) + Number(last) + 1) return undefined;
  const along = (from: Point, to: Point): Point => ({
    x: from.x + Math.sign(to.x - from.x),
    y: from.y + Math.sign(to.y - from.y),
  });
  const move = ({ x, y }: Point): Point => (upright ? { x: x + by, y } : { x, y: y + by });
  const [from, to] = [first ? along(a, b) : a, last ? along(b, a) : b];
  return [
    ...points.slice(0, index - 1),
    ...(first ? [a, from] : []),
    move(from),
    move(to),
    ...(last ? [to, b] : []),
    ...points.slice(index + 1),
  ];
}
