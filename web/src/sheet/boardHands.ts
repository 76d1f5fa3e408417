import type { KeyboardEvent, MouseEvent, PointerEvent, ReactNode, WheelEvent } from "react";
import type { Point } from "../circuit/types";
import { awayFrom, type BoardWindow, usePan } from "./boardWindow";
import { hitAt, hitOnPage } from "./layout";
import type { Hit, Layout, Page } from "./page";
import { setView, useView } from "./view";
import { wheelFactor } from "./window";

export interface BoardProps {
  readonly layout: Layout;
  readonly label: string;
  readonly placing: boolean;
  /** A mouse that is pulled over empty paper draws a box; a finger still moves the sheet. */
  readonly boxes?: boolean;
  /** What lies on the board, for the sheets that are in view. */
  readonly children: (shown: Layout) => ReactNode;
  /** What is said below the sheets. */
  readonly status?: ReactNode;
  /** A press begins on something, by pointer or by Enter or space at the cursor. */
  readonly onPress: (hit: Hit, how: { latch: boolean; byKey: boolean }) => void;
  /** The press ends, where it began or elsewhere. */
  readonly onRelease: (hit: Hit | undefined, how: { byKey: boolean }) => void;
  readonly onHover: (hit: Hit | undefined) => void;
  /** A key that the board itself has no use for. Returns whether it was used. */
  readonly onKey: (key: string, hit: Hit | undefined) => boolean;
  readonly describe: (hit: Hit) => string;
}

/** A finger that moves less than this taps, in pixels. */
const TAP_PX = 6;
/** By how much a key or a button brings the drawing nearer. */
export const STEP = 1.4;
const ARROWS: Readonly<Record<string, readonly [number, number]>> = {
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
};

/** The pointer: it presses, hovers, pans, and its wheel zooms. */
export function usePointer(props: BoardProps, layout: Layout, window: BoardWindow) {
  const pan = usePan(window);
  return {
    onPointerDown: (event: PointerEvent): void => {
      const hit = hitAt(layout, window.place(event));
      window.svg.current?.setPointerCapture(event.pointerId);
      const boxes = props.boxes && hit && event.pointerType !== "touch" && !event.altKey;
      if (event.button === 1 || !hit || (hit.kind === "paper" && !props.placing && !boxes)) pan.begin(event);
      if (hit && event.button === 0 && !(pan.began() && props.boxes))
        props.onPress(hit, { latch: event.shiftKey, byKey: false });
    },
    onPointerMove: (event: PointerEvent): void => {
      if (pan.began() && event.buttons) pan.slide(event);
      else props.onHover(hitAt(layout, window.place(event)));
    },
    onPointerUp: (event: PointerEvent): void => {
      const start = pan.began();
      pan.settle(event);
      const hit = hitAt(layout, window.place(event));
      // A tap on paper, which might have become a pan, is a press after all.
      const still = start && Math.hypot(...awayFrom(start, event)) < TAP_PX;
      if (still && props.boxes && hit) props.onPress(hit, { latch: event.shiftKey, byKey: false });
      props.onRelease(hit, { byKey: false });
    },
    onPointerCancel: (): void => {
      pan.settle(undefined);
      props.onRelease(undefined, { byKey: false });
    },
    onPointerLeave: (): void => props.onHover(undefined),
    onWheel: (event: WheelEvent): void => window.zoom(window.place(event), wheelFactor(event.deltaY)),
    onDoubleClick: (event: MouseEvent): void => window.fit(hitAt(layout, window.place(event))),
  };
}

/** The keyboard: a cursor that goes from place to place and acts there. */
export function useCursorKeys(props: BoardProps, layout: Layout, window: BoardWindow) {
  const cursor = useView((view) => view.cursor);
  const page = layout.pages.find(({ sheet }) => sheet.id === cursor?.sheet);
  const hitHere = (): Hit | undefined => (page && cursor ? hitOnPage(page, cursor.at) : undefined);
  const moveTo = (to: Page, at: Point): void => {
    const { frame } = to;
    const inside = {
      x: Math.min(Math.max(at.x, frame.left), frame.right),
      y: Math.min(Math.max(at.y, frame.top), frame.bottom),
    };
    const hit = hitOnPage(to, inside);
    setView({ cursor: { sheet: to.sheet.id, at: inside }, hover: hit, said: props.describe(hit) });
    props.onHover(hit);
    window.follow(to, inside);
  };
  const byArrow = ([dx, dy]: readonly [number, number], far: number, first: Page): void => {
    if (page && cursor) moveTo(page, { x: cursor.at.x + dx * far, y: cursor.at.y + dy * far });
    else moveTo(first, { x: 8, y: 8 });
  };
  const nextSheet = (first: Page): void => {
    const { pages } = props.layout;
    const index = pages.findIndex(({ sheet }) => sheet.id === (page ?? first).sheet.id);
    const next = pages[page ? (index + 1) % pages.length : index] ?? first;
    if (!layout.pages.some(({ sheet }) => sheet.id === next.sheet.id))
      setView({ sheet: next.sheet.id, near: null });
    moveTo(next, { x: 8, y: 8 });
  };
  const onKeyDown = (event: KeyboardEvent): void => {
    const [first] = layout.pages;
    const { key } = event;
    const step = ARROWS[key];
    if ((!first || event.repeat || event.ctrlKey || event.metaKey) && !step) return;
    const hit = hitHere();
    if (step && first) byArrow(step, event.shiftKey ? 4 : 1, first);
    else if ((key === "Enter" || key === " ") && hit)
      props.onPress(hit, { latch: event.shiftKey, byKey: true });
    else if ((key === "n" || key === "p") && first) jump(layout, cursor, key === "n" ? 1 : -1, moveTo);
    else if (key === "s" && first) nextSheet(first);
    else if (key === "+" || key === "-") window.zoom(window.middle(), key === "+" ? 1 / STEP : STEP);
    else if (key === "0") window.show(null);
    else if (key === "f") window.fit(hit);
    else if (!props.onKey(key, hit)) return;
    event.preventDefault();
  };
  return {
    onKeyDown,
    onKeyUp: (event: KeyboardEvent): void => {
      if (event.key === "Enter" || event.key === " ") props.onRelease(hitHere(), { byKey: true });
    },
    onBlur: (): void => props.onRelease(undefined, { byKey: true }),
  };
}

/** Go to the next or previous terminal, sheet by sheet, from left to right and top to bottom. */
function jump(
  layout: Layout,
  cursor: { sheet: string; at: Point } | null,
  by: 1 | -1,
  go: (page: Page, at: Point) => void,
): void {
  const all = layout.pages.flatMap((page) =>
    [...page.terminals.values()]
      .sort((p, q) => p.x - q.x || p.y - q.y)
      .map((terminal) => ({ page, x: terminal.x, y: terminal.y })),
  );
  const here = all.findIndex(
    ({ page, x, y }) => page.sheet.id === cursor?.sheet && x === cursor.at.x && y === cursor.at.y,
  );
  const next = all[(here + by + all.length) % all.length];
  if (next) go(next.page, { x: next.x, y: next.y });
}
