import { create } from "zustand";
import { keep, kept } from "../../common/store";

/** What Trace is about: a hidden fault on the screen, or a real panel beside it. */
export type Mode = "exercise" | "panel";

const PLACE = "wiretrace-trace-mode";

export const useMode = create<{ readonly mode: Mode }>(() => ({
  mode: kept("localStorage", PLACE) === "panel" ? "panel" : "exercise",
}));

export function setMode(mode: Mode): void {
  keep("localStorage", PLACE, mode);
  useMode.setState({ mode });
}
