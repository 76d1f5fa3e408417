import { type RefObject, useEffect, useLayoutEffect, useRef } from "react";
import { flushSync } from "react-dom";
import type { Point } from "../circuit/types";
import { MARGIN } from "./arrange";
import type { Hit, Layout, Page } from "./page";

import { setView, useView } from "./view";
import { around, type BoardPoint, following, type ScreenPoint, type Window, zoomed } from "./window";

/** The drawing is twice as wide and high as what is seen of it, so that it can slide by a quarter of itself. */
const SLACK = 0.22;
/** Width of the view after going to a place, in modules. */
const CLOSE_UP = 44;

interface OnScreen {
  readonly clientX: number;
  readonly clientY: number;
}

export const onBoard = ({ shift }: Page, at: Point): BoardPoint => ({ x: at.x + shift.x, y: at.y + shift.y });
const placeOf = (event: OnScreen): ScreenPoint => ({ x: event.clientX, y: event.clientY });

/** How far the pointer has come, in pixels. */
export const awayFrom = (from: ScreenPoint, event: OnScreen): [number, number] => [
  event.clientX - from.x,
  event.clientY - from.y,
];

export interface BoardWindow {
  readonly svg: RefObject<SVGSVGElement | null>;
  readonly frame: RefObject<HTMLDivElement | null>;
  /** How large a module is, in pixels. */
  readonly scale: number;
  /** What is seen of the board. */
  readonly shown: Window;
  readonly show: (window: Window | null) => void;
  /** Keep a place in sight, if not all is. */
  readonly follow: (page: Page, at: Point) => void;
  readonly zoom: (at: BoardPoint, factor: number) => void;
  /** Come near to what was pointed at; the whole again when already near, or from beside the sheets. */
  readonly fit: (hit: Hit | undefined) => void;
  readonly middle: () => BoardPoint;
  /** Where an event is on the board. */
  readonly place: (event: OnScreen) => BoardPoint;
}

const show = (near: Window | null): void => setView({ near });

/** Keeps the view told of the room that there is for the sheets. */
function useRoom(): RefObject<HTMLDivElement | null> {
  const frame = useRef<HTMLDivElement>(null);
  useLayoutEffect(() => {
    const box = frame.current;
    if (!box) return undefined;
    const tell = (): void => {
      const { clientWidth: width, clientHeight: height } = box;
      const { room } = useView.getState();
      if (width && height && (width !== room.width || height !== room.height))
        setView({ room: { width, height } });
    };
    tell();
    const observer = new ResizeObserver(tell);
    observer.observe(box);
    return () => observer.disconnect();
  }, []);
  return frame;
}

/** Which part of the board is seen: all of it, or what was zoomed to, or gone to. */
export function useBoardWindow(layout: Layout): BoardWindow {
  const svg = useRef<SVGSVGElement>(null);
  const frame = useRoom();
  const room = useView((view) => view.room);
  const near = useView((view) => view.near);
  const whole = {
    x: -MARGIN,
    y: -MARGIN,
    width: layout.width + 2 * MARGIN,
    height: layout.height + 2 * MARGIN,
  };
  const shown = near ?? whole;
  const goTo = useView((view) => view.goTo);
  const cursor = useView((view) => view.cursor);
  const gone = useRef(goTo?.count);
  const pageOf = (sheet: string | undefined) => layout.pages.find((page) => page.sheet.id === sheet);
  useEffect(() => {
    const page = pageOf(goTo?.sheet);
    if (!page || !goTo || goTo.count === gone.current) return;
    gone.current = goTo.count;
    show(around(shown, onBoard(page, goTo.at), CLOSE_UP));
  });
  const sheets = layout.pages.map(({ sheet }) => sheet.id).join();
  const drawn = useRef(sheets);
  useEffect(() => {
    // A view of other sheets would show some place of these.
    if (drawn.current !== sheets) show(null);
    drawn.current = sheets;
  }, [sheets]);
  const place = (event: OnScreen): BoardPoint => {
    const matrix = svg.current?.getScreenCTM()?.inverse();
    if (!matrix) return { x: 0, y: 0 };
    const { x, y } = new DOMPoint(event.clientX, event.clientY).matrixTransform(matrix);
    return { x, y };
  };
  const middle = (): BoardPoint => {
    const page = pageOf(cursor?.sheet);
    if (page && cursor) return onBoard(page, cursor.at);
    return { x: shown.x + shown.width / 2, y: shown.y + shown.height / 2 };
  };
  return {
    svg,
    frame,
    scale: Math.min(room.width / shown.width, room.height / shown.height),
    shown,
    show,
    follow: (page, at) => near && show(following(near, onBoard(page, at))),
    fit: (hit) =>
      show(near || !hit || hit.kind === "paper" ? null : around(shown, onBoard(hit.page, hit.at), CLOSE_UP)),
    zoom: (at, factor) => show(zoomed(shown, at, factor, whole)),
    middle,
    place,
  };
}

/** Where a pan began, on the screen, and what was shown then. */
interface Pan {
  readonly from: ScreenPoint;
  readonly window: Window;
}

/** Sliding the drawing: it slides as a picture, and is drawn anew when it comes to rest, or near its edge. */
export function usePan({ svg, shown, show }: BoardWindow) {
  const pan = useRef<Pan | null>(null);
  const settle = (event: OnScreen | undefined): Window | undefined => {
    const [start, drawing] = [pan.current, svg.current];
    pan.current = null;
    if (!start || !drawing) return undefined;
    const unit = 1 / (drawing.getScreenCTM()?.a ?? 1);
    const [dx, dy] = event ? awayFrom(start.from, event) : [0, 0];
    const window = { ...start.window, x: start.window.x - dx * unit, y: start.window.y - dy * unit };
    if (dx || dy) flushSync(() => show(window));
    drawing.style.transform = "";
    return window;
  };
  const slide = (event: OnScreen): void => {
    const drawing = svg.current;
    if (!pan.current || !drawing) return;
    const [dx, dy] = awayFrom(pan.current.from, event);
    drawing.style.transform = `translate(${dx}px, ${dy}px)`;
    const { width, height } = drawing.getBoundingClientRect();
    if (Math.abs(dx) < width * SLACK && Math.abs(dy) < height * SLACK) return;
    const window = settle(event);
    if (window) pan.current = { from: placeOf(event), window };
  };
  return {
    begin: (event: OnScreen): void => {
      pan.current = { from: placeOf(event), window: shown };
    },
    /** Where the pan that is going on began. */
    began: (): ScreenPoint | undefined => pan.current?.from,
    slide,
    settle,
  };
}
