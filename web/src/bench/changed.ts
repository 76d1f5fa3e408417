import type { Frame } from "../circuit/types";

/** What changed less than this ago is marked, in time of the person who looks. */
const MARKED_US = 700_000;

type Seen = Frame["devices"][string] | undefined;

const differs = (a: Seen, b: Seen): boolean =>
  a !== b && (a?.status !== b?.status || JSON.stringify(a?.closed) !== JSON.stringify(b?.closed));

/**
 * Devices that have just changed: while time runs those of the last moments, where it stands still those of the last
 * event.
 */
export function changedAt(
  frames: readonly Frame[],
  now: number,
  how: { readonly paused: boolean; readonly speed: number },
): ReadonlySet<string> {
  const frame = frames[now];
  if (!frame) return new Set();
  const since = how.paused ? frame.time_us - 1 : frame.time_us - MARKED_US * how.speed;
  const before = frames.findLast(({ time_us }) => time_us <= since);
  if (!before) return new Set();
  return new Set(Object.keys(frame.devices).filter((id) => differs(before.devices[id], frame.devices[id])));
}
