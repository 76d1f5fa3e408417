import { keep, kept } from "../common/store";

const KEY = "wiretrace-mode";

export type Mode = "light" | "dark";

/** The look to begin with: as chosen before, else as the system has it. */
export function firstMode(): Mode {
  const chosen = kept("localStorage", KEY);
  if (chosen === "light" || chosen === "dark") return chosen;
  return matchMedia("(prefers-color-scheme: dark)").matches ? "dark" : "light";
}

export function showMode(mode: Mode): void {
  document.documentElement.classList.toggle("dark", mode === "dark");
}

export function chooseMode(mode: Mode): void {
  keep("localStorage", KEY, mode);
  showMode(mode);
}
