import { useBench } from "../../bench/context";
import type { Frame } from "../../circuit/types";
import type { Layout } from "../../sheet/page";

import type { PlacedPart } from "../../sheet/placed";
import { useClock } from "./useClock";

/** Shorter times are over before anybody has read them. */
const LEAST_US = 300_000;

/** Parts at which a time is shown that runs: the coil of a timer, the heaters of an overload relay, poles that trip. */
const SHOWN_AT: ReadonlySet<string> = new Set(["operates", "feels current", "switches load"]);

/** Size of the bar, in modules. */
const [WIDE, HIGH] = [2.4, 1.3];

/** Times that run: how much is over, as a bar that fills, and the seconds that are left. */
export function Clocks({ layout }: { layout: Layout }) {
  const frames = useBench((state) => state.frames);
  const now = useBench((state) => state.now);
  const timeUs = useClock();
  const frame = frames[now];
  if (!frame) return null;
  return (
    <g className="clocks" pointerEvents="none">
      {layout.pages.flatMap(({ parts, shift }) =>
        parts.map((part) => {
          const dueUs = frame.devices[part.device.id]?.due_us ?? null;
          if (dueUs === null || !SHOWN_AT.has(part.part.does)) return null;
          const sinceUs = sinceWhen(frames, now, part.device.id, dueUs);
          if (dueUs - sinceUs < LEAST_US) return null;
          const over = Math.min(1, Math.max(0, (timeUs - sinceUs) / (dueUs - sinceUs)));
          const [x, y] = middleOf(part);
          return (
            <g
              key={part.key}
              transform={`translate(${x + shift.x} ${y + shift.y})`}
              data-clock={part.device.label}
            >
              <rect x={-WIDE / 2} y={-HIGH / 2} width={WIDE} height={HIGH} rx={0.3} />
              <rect className="over" x={-WIDE / 2} y={-HIGH / 2} width={WIDE * over} height={HIGH} rx={0.3} />
              <text y={0.36}>{Math.max(0, (dueUs - timeUs) / 1e6).toFixed(1)}</text>
            </g>
          );
        }),
      )}
    </g>
  );
}

/** Since when a time runs that is over at `dueUs`. */
function sinceWhen(frames: readonly Frame[], now: number, device: string, dueUs: number): number {
  let at = now;
  while (at > 0 && frames[at - 1]?.devices[device]?.due_us === dueUs) at -= 1;
  return frames[at]?.time_us ?? dueUs;
}

/** The middle of a symbol. */
function middleOf({ placement, drawing }: PlacedPart): [number, number] {
  const [left, top, right, bottom] = drawing.body;
  return [placement.x + (left + right) / 2, placement.y + (top + bottom) / 2];
}
