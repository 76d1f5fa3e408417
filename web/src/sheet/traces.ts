import type { End, Explanation, Point, ProbePath } from "../circuit/types";
import type { Layout } from "./layout";
import { findTerminal } from "./layout";

/** The way of each probe on the board: along wires and through the parts that it passes. */
export function traceLines(layout: Layout, explanation: Explanation): { red: string; black: string } {
  return { red: pathOf(layout, explanation.red), black: pathOf(layout, explanation.black) };
}

/** Conductors as they run on the board. */
export const wireLines = (layout: Layout, conductors: readonly string[]): string =>
  asPath(linesOf(layout, conductors));

function linesOf(layout: Layout, conductors: readonly string[]): Point[][] {
  const wires = new Set(conductors);
  return layout.pages.flatMap((page) =>
    page.wiring.runs
      .filter((run) => wires.has(run.conductor.id))
      .map((run) => run.points.map((p) => ({ x: p.x + page.shift.x, y: p.y + page.shift.y }))),
  );
}

function pathOf(layout: Layout, path: ProbePath): string {
  const lines = linesOf(layout, path.conductors);
  path.terminals.forEach((end, index) => {
    const next = path.terminals[index + 1];
    if (next && next.device === end.device) lines.push(throughPart(layout, end, next));
  });
  return asPath(lines);
}

const asPath = (lines: readonly Point[][]): string =>
  lines
    .filter((line) => line.length > 1)
    .map((line) => `M${line.map(({ x, y }) => `${x} ${y}`).join("L")}`)
    .join("");

function throughPart(layout: Layout, a: End, b: End): Point[] {
  return [a, b].flatMap((end) => {
    const found = findTerminal(layout, end);
    return found
      ? [{ x: found.terminal.x + found.page.shift.x, y: found.terminal.y + found.page.shift.y }]
      : [];
  });
}
