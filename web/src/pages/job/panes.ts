import { create } from "zustand";
import { keep, kept } from "../../common/store";

/** What lies around the sheets: at their sides and below. */
export type Pane = "left" | "right" | "below";

/** How many panes there is room for beside the sheets: on a phone the one in use takes their place. */
export type Room = "phone" | "tablet" | "desk";

const KEPT = "wiretrace-folded";
const FOLDED: readonly Pane[] = keptFolds();

interface Panes {
  /** Those that are folded away on a desk; it is remembered. */
  readonly folded: readonly Pane[];
  /** The one that is open on a phone or a tablet; null shows the sheets alone. */
  readonly only: Pane | null;
}

export const usePanes = create<Panes>(() => ({ folded: FOLDED, only: null }));

/** Is a pane in sight? */
export function inSight({ folded, only }: Panes, pane: Pane, room: Room): boolean {
  return room === "desk" ? !folded.includes(pane) : only === pane;
}

/** Unfold a pane, or fold it away. */
export function togglePane(pane: Pane, room: Room): void {
  const { folded, only } = usePanes.getState();
  if (room !== "desk") {
    usePanes.setState({ only: only === pane ? null : pane });
    return;
  }
  const next = folded.includes(pane) ? folded.filter((other) => other !== pane) : [...folded, pane];
  usePanes.setState({ folded: next });
  keep("localStorage", KEPT, next.join(" "));
}

/** The sheets alone, on a small screen. */
export const showSheets = (): void => usePanes.setState({ only: null });

function keptFolds(): Pane[] {
  const words = (kept("localStorage", KEPT) ?? "").split(" ");
  return (["left", "right", "below"] as const).filter((pane) => words.includes(pane));
}
