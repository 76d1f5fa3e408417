import { Button } from "@chakra-ui/react";
import { useCallback, useEffect, useRef, useState } from "react";
import { flushSync } from "react-dom";
import type { Point } from "../circuit/types";
import { type Hit, hitAt, hitOnPage, type Layout, type Page } from "./layout";
import { setView, useView } from "./view";
import {
  around,
  type BoardPoint,
  following,
  type ScreenPoint,
  type Window,
  wheelFactor,
  zoomed as zoomedAt,
} from "./window";

interface Props {
  readonly layout: Layout;
  readonly label: string;
  readonly placing: boolean;
  /** A mouse that is pulled over empty paper draws a box; a finger still moves the sheet. */
  readonly boxes?: boolean;
  readonly children: React.ReactNode;
  /** A press begins on something, by pointer or by Enter or space at the cursor. */
  readonly onPress: (hit: Hit, how: { latch: boolean; byKey: boolean }) => void;
  /** The press ends, where it began or elsewhere. */
  readonly onRelease: (hit: Hit | undefined, how: { byKey: boolean }) => void;
  readonly onHover: (hit: Hit | undefined) => void;
  /** A key that the board itself has no use for. Returns whether it was used. */
  readonly onKey: (key: string, hit: Hit | undefined) => boolean;
  readonly describe: (hit: Hit) => string;
}

/** Where a pan began, on the screen, and what was shown then. */
interface Pan {
  readonly from: ScreenPoint;
  readonly window: Window;
}

const MARGIN = 1.5;
/** A finger that moves less than this taps, in pixels. */
const TAP_PX = 6;
/** By how much a key or a button brings the drawing nearer. */
const STEP = 1.4;
/** The drawing is twice as wide and high as what is seen of it, so that it can slide by a quarter of itself. */
const SLACK = 0.22;
const ARROWS: Readonly<Record<string, readonly [number, number]>> = {
  ArrowUp: [0, -1],
  ArrowDown: [0, 1],
  ArrowLeft: [-1, 0],
  ArrowRight: [1, 0],
};

/** The drawing board: all sheets, with zoom, pan, pointer and keyboard cursor. */
export function Board(props: Props) {
  const { layout } = props;
  const svg = useRef<SVGSVGElement>(null);
  const [zoomed, setZoomed] = useState<Window | null>(null);
  const goTo = useView((view) => view.goTo);
  const gone = useRef(goTo?.count);
  const pan = useRef<Pan | null>(null);
  const cursor = useView((view) => view.cursor);
  const said = useView((view) => view.said);
  const whole = {
    x: -MARGIN,
    y: -MARGIN,
    width: layout.width + 2 * MARGIN,
    height: layout.height + 2 * MARGIN,
  };
  const shown = zoomed ?? whole;

  const boardPoint = useCallback((event: OnScreen): BoardPoint => {
    const matrix = svg.current?.getScreenCTM()?.inverse();
    if (!matrix) return { x: 0, y: 0 };
    const { x, y } = new DOMPoint(event.clientX, event.clientY).matrixTransform(matrix);
    return { x, y };
  }, []);
  const cursorHit = (): Hit | undefined => {
    const page = layout.pages.find(({ sheet }) => sheet.id === cursor?.sheet);
    return page && cursor ? hitOnPage(page, cursor.at) : undefined;
  };
  const moveCursor = (page: Page, at: Point): void => {
    const { frame } = page;
    const inside = {
      x: Math.min(Math.max(at.x, frame.left), frame.right),
      y: Math.min(Math.max(at.y, frame.top), frame.bottom),
    };
    const hit = hitOnPage(page, inside);
    setView({ cursor: { sheet: page.sheet.id, at: inside }, hover: hit, said: props.describe(hit) });
    props.onHover(hit);
    if (zoomed) setZoomed(following(zoomed, onBoard(page, inside)));
  };
  useEffect(() => {
    const page = layout.pages.find(({ sheet }) => sheet.id === goTo?.sheet);
    if (!page || !goTo || goTo.count === gone.current) return;
    gone.current = goTo.count;
    setZoomed(around(shown, onBoard(page, goTo.at), CLOSE_UP));
  });

  const sheets = layout.pages.map(({ sheet }) => sheet.id).join();
  const drawn = useRef(sheets);
  useEffect(() => {
    // A view of other sheets would show some place of these.
    if (drawn.current !== sheets) setZoomed(null);
    drawn.current = sheets;
  }, [sheets]);

  const onKeyDown = (event: React.KeyboardEvent): void => {
    const [first] = layout.pages;
    if (!first || event.repeat || event.ctrlKey || event.metaKey) {
      if (!(event.key in ARROWS)) return;
    }
    const page = layout.pages.find(({ sheet }) => sheet.id === cursor?.sheet);
    const step = ARROWS[event.key];
    const hit = cursorHit();
    let used = true;
    if (step && page && cursor) {
      const far = event.shiftKey ? 4 : 1;
      moveCursor(page, { x: cursor.at.x + step[0] * far, y: cursor.at.y + step[1] * far });
    } else if (step && first) moveCursor(first, { x: 8, y: 8 });
    else if ((event.key === "Enter" || event.key === " ") && hit)
      props.onPress(hit, { latch: event.shiftKey, byKey: true });
    else if ((event.key === "n" || event.key === "p") && first)
      jump(layout, cursor, event.key === "n" ? 1 : -1, moveCursor);
    else if (event.key === "s" && first) {
      const index = layout.pages.findIndex(({ sheet }) => sheet.id === cursor?.sheet);
      moveCursor(layout.pages[(index + 1) % layout.pages.length] ?? first, { x: 8, y: 8 });
    } else if (event.key === "+" || event.key === "-") zoom(middle(), event.key === "+" ? 1 / STEP : STEP);
    else if (event.key === "0") setZoomed(null);
    else used = props.onKey(event.key, hit);
    if (used) event.preventDefault();
  };

  const zoom = (at: BoardPoint, factor: number): void => setZoomed(zoomedAt(shown, at, factor, whole));
  const middle = (): BoardPoint =>
    cursor && cursorPage
      ? onBoard(cursorPage, cursor.at)
      : { x: shown.x + shown.width / 2, y: shown.y + shown.height / 2 };

  /** The drawing slides as a picture; it is drawn anew when it comes to rest, or near its edge. */
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
  const settle = (event: OnScreen | undefined): Window | undefined => {
    const [start, drawing] = [pan.current, svg.current];
    pan.current = null;
    if (!start || !drawing) return undefined;
    const unit = 1 / (drawing.getScreenCTM()?.a ?? 1);
    const [dx, dy] = event ? awayFrom(start.from, event) : [0, 0];
    const window = { ...start.window, x: start.window.x - dx * unit, y: start.window.y - dy * unit };
    if (dx || dy) flushSync(() => setZoomed(window));
    drawing.style.transform = "";
    return window;
  };

  const cursorPage = layout.pages.find(({ sheet }) => sheet.id === cursor?.sheet);
  return (
    <div className="board-window">
      <svg
        ref={svg}
        className={props.placing ? "board placing" : "board"}
        viewBox={`${shown.x - shown.width / 2} ${shown.y - shown.height / 2} ${shown.width * 2} ${shown.height * 2}`}
        role="application"
        aria-label={props.label}
        aria-describedby="board-keys"
        // biome-ignore lint/a11y/noNoninteractiveTabindex: the board has a keyboard cursor
        tabIndex={0}
        onKeyDown={onKeyDown}
        onKeyUp={(event) => {
          if (event.key === "Enter" || event.key === " ") props.onRelease(cursorHit(), { byKey: true });
        }}
        onBlur={() => props.onRelease(undefined, { byKey: true })}
        onPointerDown={(event) => {
          const at = boardPoint(event);
          const hit = hitAt(layout, at);
          svg.current?.setPointerCapture(event.pointerId);
          const boxes = props.boxes && hit && event.pointerType !== "touch" && !event.altKey;
          if (event.button === 1 || !hit || (hit.kind === "paper" && !props.placing && !boxes))
            pan.current = { from: placeOf(event), window: shown };
          if (hit && event.button === 0 && !(pan.current && props.boxes))
            props.onPress(hit, { latch: event.shiftKey, byKey: false });
        }}
        onPointerMove={(event) => {
          if (pan.current && event.buttons) slide(event);
          else props.onHover(hitAt(layout, boardPoint(event)));
        }}
        onPointerUp={(event) => {
          const start = pan.current;
          settle(event);
          const hit = hitAt(layout, boardPoint(event));
          // A tap on paper, which might have become a pan, is a press after all.
          const still = start && Math.hypot(...awayFrom(start.from, event)) < TAP_PX;
          if (still && props.boxes && hit) props.onPress(hit, { latch: event.shiftKey, byKey: false });
          props.onRelease(hit, { byKey: false });
        }}
        onPointerCancel={() => {
          settle(undefined);
          props.onRelease(undefined, { byKey: false });
        }}
        onPointerLeave={() => props.onHover(undefined)}
        onWheel={(event) => {
          zoom(boardPoint(event), wheelFactor(event.deltaY));
        }}
        onDoubleClick={() => setZoomed(null)}
      >
        {props.children}
        {cursor && cursorPage && (
          <rect
            className="cursor"
            x={cursor.at.x + cursorPage.shift.x - 0.7}
            y={cursor.at.y + cursorPage.shift.y - 0.7}
            width={1.4}
            height={1.4}
            rx={0.2}
          />
        )}
      </svg>
      <FitButtons layout={layout} onFit={setZoomed} onZoom={(factor) => zoom(middle(), factor)} />
      <p id="board-keys" className="unseen">
        Arrow keys move the cursor, with shift four steps. N and P go to the next and the previous terminal, S
        to the next sheet. Plus and minus come nearer and go farther, zero shows all. Enter or space acts at
        the cursor. In a drawing M moves a part or pulls a wire, X selects one more, slash finds a device or
        takes up a part.
      </p>
      <p className="unseen" aria-live="polite">
        {said}
      </p>
    </div>
  );
}

/** Width of the view after going to a place, in modules. */
const CLOSE_UP = 60;

interface OnScreen {
  readonly clientX: number;
  readonly clientY: number;
}

const placeOf = (event: OnScreen): ScreenPoint => ({ x: event.clientX, y: event.clientY });

/** How far the pointer has come, in pixels. */
const awayFrom = (from: ScreenPoint, event: OnScreen): [number, number] => [
  event.clientX - from.x,
  event.clientY - from.y,
];

const onBoard = ({ shift }: Page, at: Point): BoardPoint => ({ x: at.x + shift.x, y: at.y + shift.y });

/** Fit all sheets or one of them into the view, and come nearer or go farther: a finger has no wheel. */
function FitButtons(props: {
  layout: Layout;
  onFit: (window: Window | null) => void;
  onZoom: (factor: number) => void;
}) {
  const { layout, onFit, onZoom } = props;
  return (
    <div className="fit-buttons" role="group" aria-label="Fit into view">
      <Button size="xs" variant="ghost" aria-label="Nearer" onClick={() => onZoom(1 / STEP)}>
        +
      </Button>
      <Button size="xs" variant="ghost" aria-label="Farther" onClick={() => onZoom(STEP)}>
        −
      </Button>
      <Button size="xs" variant="ghost" onClick={() => onFit(null)}>
        All
      </Button>
      {layout.pages.map(({ sheet, frame, shift }) => (
        <Button
          key={sheet.id}
          size="xs"
          variant="ghost"
          onClick={() =>
            onFit({
              x: frame.left + shift.x - MARGIN,
              y: -MARGIN,
              width: frame.right - frame.left + 2 * MARGIN,
              height: frame.bottom + shift.y + 2 * MARGIN,
            })
          }
        >
          {sheet.title}
        </Button>
      ))}
    </div>
  );
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
