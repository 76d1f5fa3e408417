/** A place on the board, on which the sheets lie side by side, in modules. */
export interface BoardPoint {
  readonly x: number;
  readonly y: number;
  readonly of?: "board";
}

/** A place on the screen, in pixels. */
export interface ScreenPoint {
  readonly x: number;
  readonly y: number;
  readonly of?: "screen";
}

/** What is seen of the board, in modules. */
export interface Window {
  readonly x: number;
  readonly y: number;
  readonly width: number;
  readonly height: number;
}

/** Least width of the view, in modules. */
const NARROWEST = 14;

/** By how much more is shown for a turn of the wheel: towards oneself more, away from oneself less. */
export const wheelFactor = (deltaY: number): number => Math.min(Math.max(1.0015 ** deltaY, 0.8), 1.25);

/** More or less of the drawing, up to twice the `whole`; the place that is named stays where it is on the screen. */
export function zoomed(shown: Window, at: BoardPoint, factor: number, whole: Window): Window {
  const width = Math.min(Math.max(shown.width * factor, NARROWEST), whole.width * 2);
  const share = width / shown.width;
  return {
    x: at.x - (at.x - shown.x) * share,
    y: at.y - (at.y - shown.y) * share,
    width,
    height: shown.height * share,
  };
}

/** The view with a place in its middle, no wider than so many modules. */
export function around(shown: Window, at: BoardPoint, widest: number): Window {
  const width = Math.min(shown.width, widest);
  const height = (shown.height * width) / shown.width;
  return { x: at.x - width / 2, y: at.y - height / 2, width, height };
}

/** The view as it is while a place lies within it; else with the place in its middle. */
export function following(shown: Window, at: BoardPoint): Window {
  const within =
    at.x > shown.x && at.x < shown.x + shown.width && at.y > shown.y && at.y < shown.y + shown.height;
  return within ? shown : around(shown, at, shown.width);
}
