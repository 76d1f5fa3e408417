import type { Frame, State } from "../circuit/types";
import type { BenchState, Line } from "./state";

const MOST_LINES = 6;

/** The lines that are kept when something is done at a moment before the latest one. */
export function linesAfter(state: BenchState, atUs: number, end: State | null): readonly Line[] {
  const { lines, frames, chatters, headUs, hands, faults } = state;
  const lost = frames.some((frame) => frame.time_us > atUs && frame.time_us <= headUs);
  if (!lost) return lines;
  const id = Math.max(0, ...lines.map((line) => line.id)) + 1;
  return [...lines, { id, leftUs: atUs, headUs, frames, chatters, end, hands, faults }].slice(-MOST_LINES);
}

/** When something happened next, or last, as seen from a moment; undefined when nothing did. */
export function eventTime(
  frames: readonly Frame[],
  fromUs: number,
  way: "next" | "previous",
): number | undefined {
  if (way === "next") return frames.find((frame) => frame.time_us > fromUs)?.time_us;
  const now = frames.findLastIndex((frame) => frame.time_us <= fromUs);
  const holds = frames[now];
  return holds && holds.time_us < fromUs ? holds.time_us : frames[now - 1]?.time_us;
}
