import { api, asProblem } from "../api/client";
import type { Frame } from "../circuit/types";
import type { Bench } from "./bench";
import { currentFrame } from "./state";

/** So many moments at which something changed are looked back at. */
const MOST_BEFORE = 60;

/** What can be seen of the devices in a frame: frames in which a motor gathers speed and nothing else are left out. */
const seenIn = (frame: Frame): string =>
  JSON.stringify(Object.entries(frame.devices).map(([id, { says, closed }]) => [id, says, closed]));

/** The frames up to now in which something was to be seen, under the faults of now, oldest first. */
export function framesBefore(bench: Bench): Frame[] {
  const { frames, now } = bench.use.getState();
  const faults = JSON.stringify(bench.faultsIn(frames[now] as Frame));
  const found: Frame[] = [];
  let seen = "";
  for (const frame of frames.slice(0, now)) {
    if (JSON.stringify(bench.faultsIn(frame)) !== faults) found.length = 0;
    const looks = seenIn(frame);
    if (looks !== seen || !found.length) found.push(frame);
    seen = looks;
  }
  return found.slice(-MOST_BEFORE);
}

/** Ask why a device stands as it does now, and what made it so. */
export async function askDevice(bench: Bench, device: string): Promise<void> {
  const { circuit } = bench;
  const frame = currentFrame(bench.use.getState());
  if (!circuit || !frame) return;
  const hands = bench.use.getState().hands.filter(({ at_us }) => at_us <= bench.nowUs());
  try {
    const reason = await api.why(circuit, {
      state: frame.state,
      device,
      before: framesBefore(bench).map(({ state }) => state),
      actions: hands.slice(-500),
      faults: bench.faultsIn(frame),
    });
    if (bench.circuit === circuit) bench.use.setState({ why: { device, of: frame, reason }, problem: null });
  } catch (error) {
    bench.use.setState({ problem: asProblem(error) });
  }
}
