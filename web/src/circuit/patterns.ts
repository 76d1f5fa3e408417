import type { Choices as AllChoices } from "./types";

export type Choices = Omit<AllChoices, "pattern">;

/** What can be made by rules. */
export const PATTERNS: readonly (readonly [AllChoices["pattern"], string])[] = [
  ["start-stop", "Start-stop"],
  ["two-wire", "Two-wire control"],
  ["hand-off-auto", "Hand-off-auto"],
  ["jog", "Jog and run"],
  ["reversing", "Interlocked reversing"],
  ["star-delta", "Star-delta"],
];

export const USUAL: Choices = {
  convention: "iec",
  mains: "400 V, 50 Hz",
  control: "phase and neutral",
  overload: "line side",
  stations: 1,
  lamps: true,
  emergency_stop: false,
  phase_monitor: false,
};
