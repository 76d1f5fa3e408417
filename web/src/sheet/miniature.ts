import type { Catalogue } from "../circuit/catalogue";
import type { Circuit } from "../circuit/types";
import { drawnPages } from "./drawing";
import { layOut } from "./layout";

/** A small drawing of a sheet: its size in modules, and its lines as a path. */
export interface Miniature {
  readonly width: number;
  readonly height: number;
  readonly path: string;
}

/** Longer paths are not kept and not drawn: of a sheet of hundreds of parts nothing could be made out. */
const LONGEST = 40_000;

const short = (value: number): number => Math.round(value * 10) / 10;

/** The control sheet of a circuit in little, or the first that it has; without words. */
export function miniatureOf(circuit: Circuit, catalogue: Catalogue): Miniature {
  const layout = layOut(circuit, catalogue);
  const index = layout.pages.findIndex(({ sheet, parts }) => sheet.kind === "control" && parts.length > 0);
  const [page] = drawnPages({ ...layout, pages: layout.pages.slice(Math.max(0, index)) });
  const drawn = (page?.strokes ?? []).filter(
    ({ kind, r }) => kind === "line" || (kind === "circle" && r > 0.5),
  );
  if (drawn.length === 0) return { width: 48, height: 24, path: "" };
  const points = drawn.flatMap((stroke) => stroke.points);
  const [xs, ys] = [points.map(([x]) => x), points.map(([, y]) => y)];
  const [left, top] = [least(xs) - ROOM, least(ys) - ROOM];
  let path = "";
  for (const { kind, points: line, r } of drawn) {
    const [[x, y] = [0, 0]] = line;
    if (kind === "line") path += `M${line.map(([a, b]) => `${short(a - left)} ${short(b - top)}`).join("L")}`;
    else
      path += `M${short(x - left - r)} ${short(y - top)}a${r} ${r} 0 1 0 ${2 * r} 0a${r} ${r} 0 1 0 ${-2 * r} 0`;
    if (path.length > LONGEST) break;
  }
  return { width: short(most(xs) + ROOM - left), height: short(most(ys) + ROOM - top), path };
}

/** Room around the drawing, in modules. */
const ROOM = 2;
const least = (values: readonly number[]): number => values.reduce((a, b) => Math.min(a, b));
const most = (values: readonly number[]): number => values.reduce((a, b) => Math.max(a, b));
