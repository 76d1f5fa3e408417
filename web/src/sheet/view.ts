import type { End, PartRef, Point } from "../circuit/types";
import { storePerJob } from "../common/session";
import type { InUse, Room } from "./arrange";
import type { Hit } from "./page";

import type { Window } from "./window";

/** What is being placed: a new device by its first part, or a further part of one that exists. */
export interface Tool {
  readonly title: string;
  readonly kind: string;
  readonly part: string;
  readonly params?: Record<string, boolean | number | string>;
  readonly device?: string;
}

export type Selection =
  | { readonly kind: "parts"; readonly parts: readonly PartRef[] }
  | { readonly kind: "wire"; readonly conductor: string }
  | null;

/** The view and the gesture in progress: never saved, never undone. */
interface ViewState {
  readonly tool: Tool | null;
  readonly wireFrom: End | null;
  readonly selection: Selection;
  /** Does a click add to the selection without a key held, as a finger needs it? */
  readonly adding: boolean;
  readonly hover: Hit | null;
  /** Parts under way: which, on which sheet, from where, and how far they have come. */
  readonly drag: { parts: readonly PartRef[]; sheet: string; from: Point; by: Point } | null;
  /** A box being drawn around parts of a sheet. */
  readonly box: { sheet: string; from: Point; to: Point } | null;
  /** Wires being pulled: their new ways. */
  readonly pull: { sheet: string; routes: Record<string, [number, number][]> } | null;
  /** A wire taken hold of by key, to be pulled by the cursor. */
  readonly grip: (Hit & { readonly kind: "wire" }) | null;
  /** Keyboard cursor: a sheet and a place on its grid. */
  readonly cursor: { sheet: string; at: Point } | null;
  /** Where the board was asked to go, and how often anything was asked. */
  readonly goTo: { readonly sheet: string; readonly at: Point; readonly count: number } | null;
  /** The sheets in use, the room for them, and what was come near to; null shows all of them. */
  readonly sheet: InUse;
  readonly room: Room;
  readonly near: Window | null;
  /** What is shown below the sheets. */
  readonly below: "panel" | "states" | "description" | null;
  /** What was last said to a screen reader. */
  readonly said: string;
}

const AT_EASE: ViewState = {
  tool: null,
  wireFrom: null,
  selection: null,
  adding: false,
  hover: null,
  drag: null,
  box: null,
  pull: null,
  grip: null,
  cursor: null,
  goTo: null,
  sheet: undefined,
  room: { width: 800, height: 560 },
  near: null,
  below: null,
  said: "",
};

export const useView = storePerJob<ViewState>(() => AT_EASE);

export const setView = (change: Partial<ViewState>): void => useView.setState(change);
export const resetView = (): void => useView.setState(AT_EASE);
/** Let go of whatever is in hand. */
export const letGo = (): void =>
  useView.setState({
    tool: null,
    wireFrom: null,
    drag: null,
    box: null,
    pull: null,
    grip: null,
    adding: false,
  });

/** The parts that are selected, in the order in which they were chosen. */
export const selectedParts = (selection: Selection): readonly PartRef[] =>
  selection?.kind === "parts" ? selection.parts : [];

/** Move cursor and view to a place on a sheet. */
export const goTo = (sheet: string, at: Point): void =>
  useView.setState(({ goTo: before, sheet: inUse }) => ({
    ...(inUse === "all" ? {} : { sheet }),
    cursor: { sheet, at },
    goTo: { sheet, at, count: (before?.count ?? 0) + 1 },
  }));

export const samePart = (a: PartRef, b: PartRef): boolean => a.device === b.device && a.part === b.part;

/** Select a part alone, or add it to what is selected and take it out again. */
export function choosePart(part: PartRef, add: boolean): void {
  const chosen = selectedParts(useView.getState().selection);
  if (!add) setView({ selection: { kind: "parts", parts: [part] } });
  else if (chosen.some((other) => samePart(other, part))) {
    const rest = chosen.filter((other) => !samePart(other, part));
    setView({ selection: rest.length ? { kind: "parts", parts: rest } : null });
  } else setView({ selection: { kind: "parts", parts: [...chosen, part] } });
}
