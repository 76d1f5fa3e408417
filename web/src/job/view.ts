import { create } from "zustand";
import type { End, Point } from "../circuit/types";
import type { Hit } from "../sheet/layout";

/** What is being placed: a new device by its first part, or a further part of one that exists. */
export interface Tool {
  readonly title: string;
  readonly kind: string;
  readonly part: string;
  readonly params?: Record<string, boolean | number | string>;
  readonly device?: string;
}

export type Selection =
  | { readonly kind: "part"; readonly device: string; readonly part: string }
  | { readonly kind: "wire"; readonly conductor: string }
  | null;

/** The view and the gesture in progress: never saved, never undone. */
interface ViewState {
  readonly tool: Tool | null;
  readonly wireFrom: End | null;
  readonly selection: Selection;
  readonly hover: Hit | null;
  /** A part under way: which, on which sheet, from where, and how far it has come. */
  readonly drag: { device: string; part: string; sheet: string; from: Point; by: Point } | null;
  /** Keyboard cursor: a sheet and a place on its grid. */
  readonly cursor: { sheet: string; at: Point } | null;
  /** What was last said to a screen reader. */
  readonly said: string;
}

const AT_EASE: ViewState = {
  tool: null,
  wireFrom: null,
  selection: null,
  hover: null,
  drag: null,
  cursor: null,
  said: "",
};

export const useView = create<ViewState>(() => AT_EASE);

export const setView = (change: Partial<ViewState>): void => useView.setState(change);
export const resetView = (): void => useView.setState(AT_EASE);
/** Let go of whatever is in hand. */
export const letGo = (): void => useView.setState({ tool: null, wireFrom: null, drag: null });
