import type { Layout, Page } from "./page";

import { SMALL } from "./type";

/** What a person can read, in pixels. */
export const LEGIBLE_PX = 10;
/** Room around the sheets, and between them, in modules. */
export const MARGIN = 1;
const GAP = 2;

/** The view of the board on the screen, in pixels. */
export interface Room {
  readonly width: number;
  readonly height: number;
}

/** All sheets, or one of them by its id; undefined leaves it to what can be read. */
export type InUse = string | "all" | undefined;

/** How large a module is on the screen when all of a layout is in view, in pixels. */
export const scaleIn = (room: Room, { width, height }: { width: number; height: number }): number =>
  Math.min(room.width / (width + 2 * MARGIN), room.height / (height + 2 * MARGIN));

const widthOf = ({ frame }: Page): number => frame.right - frame.left;
const heightOf = ({ frame }: Page): number => frame.bottom - frame.top;

/** The sheets in use, side by side or one below the other, by what makes them larger. */
export function arranged(layout: Layout, inUse: InUse, room: Room): Layout {
  const all = larger(layout, room);
  if (layout.pages.length < 2 || inUse === "all") return all;
  const one = layout.pages.find(({ sheet }) => sheet.id === inUse);
  if (one) return placed(layout, [one], "beside");
  if (scaleIn(room, all) * SMALL >= LEGIBLE_PX) return all;
  const control = layout.pages.find(({ sheet }) => sheet.kind === "control") ?? layout.pages[0];
  return control ? placed(layout, [control], "beside") : all;
}

function larger(layout: Layout, room: Room): Layout {
  const [beside, below] = [placed(layout, layout.pages, "beside"), placed(layout, layout.pages, "below")];
  return scaleIn(room, below) > scaleIn(room, beside) ? below : beside;
}

function placed(layout: Layout, pages: readonly Page[], how: "beside" | "below"): Layout {
  let [x, y, width, height] = [0, 0, 1, 1];
  const put = pages.map((page): Page => {
    const shift = { x: x - page.frame.left, y: y - page.frame.top };
    width = Math.max(width, x + widthOf(page));
    height = Math.max(height, y + heightOf(page));
    if (how === "beside") x += widthOf(page) + GAP;
    else y += heightOf(page) + GAP;
    return shift.x === page.shift.x && shift.y === page.shift.y ? page : { ...page, shift };
  });
  return { ...layout, pages: put, width, height };
}
