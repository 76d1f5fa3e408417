import type { DeviceReason, End, Explanation, Point } from "../circuit/types";
import { findTerminal } from "./layout";
import type { Layout } from "./page";

/** The way of each probe on the board: along wires and through the parts that it passes. */
export function traceLines(layout: Layout, explanation: Explanation): { red: string; black: string } {
  return { red: pathOf(layout, explanation.red), black: pathOf(layout, explanation.black) };
}

interface Way {
  readonly terminals: readonly End[];
  readonly conductors: readonly string[];
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

/** The ways that a device is fed by: whole ones, those that are open somewhere, and the places where they are. */
export function leadLines(
  layout: Layout,
  reason: DeviceReason,
): { whole: string; open: string; gaps: string } {
  const lines = (whole: boolean): string =>
    reason.ways.map((way) => (way.whole === whole ? pathOf(layout, way) : "")).join("");
  const missing = new Set(reason.missing.map(({ place }) => place));
  const gaps = reason.ways.flatMap((way) =>
    way.terminals.flatMap((end, index) => {
      const next = way.terminals[index + 1];
      return next && next.device === end.device && missing.has(end.device)
        ? [throughPart(layout, end, next)]
        : [];
    }),
  );
  const wires = linesOf(layout, [...missing]);
  return { whole: lines(true), open: lines(false), gaps: asPath([...gaps, ...wires]) };
}

function pathOf(layout: Layout, path: Way): string {
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

/** From one terminal of a part to another; nothing where two parts of one device are joined by a wire. */
function throughPart(layout: Layout, a: End, b: End): Point[] {
  const [from, to] = [findTerminal(layout, a), findTerminal(layout, b)];
  if (!from || !to || from.terminal.owner.key !== to.terminal.owner.key) return [];
  return [from, to].map(({ terminal, page }) => ({
    x: terminal.x + page.shift.x,
    y: terminal.y + page.shift.y,
  }));
}
