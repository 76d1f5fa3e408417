import type { Catalogue } from "../circuit/catalogue";
import { findNets } from "../circuit/nets";
import { type Circuit, type End, endKey, type Point, shownSheets } from "../circuit/types";
import { arranged } from "./arrange";
import { captionsOf, withCaptions } from "./captions";
import type { Hit, Layout, Page } from "./page";
import { type Box, bodyOf, frameOf, type PlacedTerminal, placedParts, placedTerminals } from "./placed";
import { crossReferences, scaleCaptions, scaleOf } from "./references";
import type { BoardPoint } from "./window";
import { type Run, wireSheet } from "./wiring";

export const TITLE_HEIGHT = 3;
/** Where it is not known what room there is. */
const BROAD = { width: 1000, height: 1 };

/** All sheets of a circuit side by side; what did not change since `before` stays as it was. */
export function layOut(circuit: Circuit, catalogue: Catalogue, before?: Layout): Layout {
  const nets = findNets(circuit);
  const drawn = shownSheets(circuit).map((sheet) => {
    const old = before?.pages.find((page) => page.sheet.id === sheet.id);
    const parts = placedParts(circuit, sheet, catalogue, old?.parts);
    return { sheet, parts, terminals: placedTerminals(parts), old };
  });
  const designation = catalogue.designations(circuit);
  const sheetOf = new Map<string, string>();
  for (const { sheet, terminals } of drawn) for (const end of terminals.keys()) sheetOf.set(end, sheet.title);
  const wired = drawn.map((page) => {
    const wiring = wireSheet(
      circuit,
      page.sheet,
      page.parts,
      page.terminals,
      sheetOf,
      designation,
      nets,
      page.old?.wiring,
    );
    return { ...page, wiring, frame: withRuns(frameOf(page.parts, page.sheet), wiring.runs) };
  });
  const references = crossReferences(wired);
  const pages = wired.map(({ old, ...page }): Page => {
    const lists = references.lists.get(page.sheet.id) ?? [];
    const scale = scaleOf(page.sheet, page.parts, page.frame);
    const told = { scale: scaleCaptions(scale), lists, coils: references.coils };
    const captions = captionsOf({ ...page, ...told, ...(old ? { before: old } : {}) });
    const frame = withCaptions(page.frame, captions);
    // The title stands within the frame, above the drawing.
    const titled = { ...frame, top: frame.top - TITLE_HEIGHT };
    const shift = { x: -titled.left, y: -titled.top };
    return { ...page, frame: titled, shift, captions };
  });
  return arranged({ pages, width: 1, height: 1, coils: references.coils }, "all", BROAD);
}

/** The frame with all wires well within it. */
function withRuns(frame: Box, runs: readonly Run[]): Box {
  const points = runs.flatMap((run) => run.points);
  const [xs, ys] = [points.map(({ x }) => x), points.map(({ y }) => y)];
  return {
    left: Math.min(frame.left, ...xs.map((x) => x - 1)),
    top: Math.min(frame.top, ...ys.map((y) => y - 1)),
    right: Math.max(frame.right, ...xs.map((x) => x + 1)),
    bottom: Math.max(frame.bottom, ...ys.map((y) => y + 1)),
  };
}

const TERMINAL_REACH = 0.85;
const WIRE_REACH = 0.6;

/** What lies under a point of the board; undefined beside the pages. */
export function hitAt(layout: Layout, board: BoardPoint): Hit | undefined {
  const page = layout.pages.find(({ frame, shift }) => {
    const [x, y] = [board.x - shift.x, board.y - shift.y];
    return x >= frame.left && x <= frame.right && y >= frame.top && y <= frame.bottom;
  });
  return page && hitOnPage(page, { x: board.x - page.shift.x, y: board.y - page.shift.y });
}

export function hitOnPage(page: Page, place: Point): Hit {
  const at = { x: Math.round(place.x), y: Math.round(place.y) };
  const near = [...page.terminals.values()]
    .map((terminal) => ({ terminal, away: Math.hypot(terminal.x - place.x, terminal.y - place.y) }))
    .sort((p, q) => p.away - q.away)[0];
  if (near && near.away <= TERMINAL_REACH) return { kind: "terminal", page, at, terminal: near.terminal };
  const part = page.parts.find((candidate) => {
    const box = bodyOf(candidate);
    return place.x >= box.left && place.x <= box.right && place.y >= box.top && place.y <= box.bottom;
  });
  if (part) return { kind: "part", page, at, part };
  const run = page.wiring.runs.find(({ points }) =>
    points.some((b, i) => i > 0 && onStretch(points[i - 1], b, place)),
  );
  return run ? { kind: "wire", page, at, run } : { kind: "paper", page, at };
}

function onStretch(a: Point | undefined, b: Point, { x, y }: Point): boolean {
  if (!a) return false;
  const [left, right] = [Math.min(a.x, b.x) - WIRE_REACH, Math.max(a.x, b.x) + WIRE_REACH];
  const [top, bottom] = [Math.min(a.y, b.y) - WIRE_REACH, Math.max(a.y, b.y) + WIRE_REACH];
  return x >= left && x <= right && y >= top && y <= bottom;
}

/** Where a terminal is drawn, if it is. */
export function findTerminal(layout: Layout, end: End): { page: Page; terminal: PlacedTerminal } | undefined {
  for (const page of layout.pages) {
    const terminal = page.terminals.get(endKey(end));
    if (terminal) return { page, terminal };
  }
  return undefined;
}
