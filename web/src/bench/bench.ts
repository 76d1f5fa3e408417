import { create } from "zustand";
import { type ActionRequest, api, asProblem, type Problem } from "../api/client";
import type { Catalogue } from "../circuit/catalogue";
import {
  type Circuit,
  type End,
  type Explanation,
  endKey,
  type Frame,
  type Reading,
  type Run,
  type State,
  sameEnd,
} from "../circuit/types";

/**
 * The running circuit: frames from the core, played back against the clock. The core answers a
 * whole stretch ahead; only a hand on the bench asks it again.
 */
interface BenchState {
  /** All that happened since the circuit was put under power, oldest first. */
  readonly frames: readonly Frame[];
  readonly chatters: Run["chatters"];
  /** Index of the frame that holds now. */
  readonly now: number;
  readonly red: End | null;
  readonly black: End | null;
  /** The hand that puts its probe down next. */
  readonly hand: "red" | "black";
  readonly explanation: Explanation | null;
  readonly speed: number;
  readonly problem: Problem | null;
  /** Momentary operations held down, as "device/operation". */
  readonly held: ReadonlySet<string>;
}

export const useBench = create<BenchState>(() => ({
  frames: [],
  chatters: [],
  now: 0,
  red: null,
  black: null,
  hand: "red",
  explanation: null,
  speed: 1,
  problem: null,
  held: new Set(),
}));

const { getState: get, setState: set } = useBench;

/** How far ahead the core is asked; asked again when the clock comes near the end of it. */
const AHEAD_US = 60_000_000;
const ASK_AGAIN_US = 5_000_000;
const HISTORY_FRAMES = 2_000;

let circuit: Circuit | null = null;
let end: State | null = null;
let clock = { atUs: 0, atMs: 0 };
let queue: Promise<void> = Promise.resolve();
let session = 0;

/** Simulated time now, in microseconds. */
export function nowUs(): number {
  return Math.round(clock.atUs + (performance.now() - clock.atMs) * 1000 * get().speed);
}

function setClock(atUs: number): void {
  clock = { atUs, atMs: performance.now() };
}

export function currentFrame({ frames, now }: BenchState): Frame | undefined {
  return frames[now];
}

export const useFrame = (): Frame | undefined => useBench(currentFrame);

/** Put a circuit under power, from the beginning. Probes stay where their terminals still exist. */
export function startBench(next: Circuit, catalogue: Catalogue): void {
  session += 1;
  circuit = next;
  end = null;
  setClock(0);
  const there = (probe: End | null): End | null => {
    const device = next.devices.find((candidate) => candidate.id === probe?.device);
    return probe && device && catalogue.terminals(device).includes(probe.terminal) ? probe : null;
  };
  const { red, black } = get();
  set({
    frames: [],
    chatters: [],
    now: 0,
    explanation: null,
    problem: null,
    held: new Set(),
    red: there(red),
    black: there(black),
  });
  ask([], () => null, 0);
}

/** Is this the circuit on the bench, unchanged but for how it is drawn? */
export const isOnBench = (other: Circuit): boolean =>
  circuit !== null &&
  circuit.devices === other.devices &&
  circuit.conductors === other.conductors &&
  circuit.strays === other.strays;

/** The circuit on the bench is drawn otherwise now: terminals are called by other markings. */
export function redraw(other: Circuit): void {
  circuit = other;
}

export function setSpeed(speed: number): void {
  setClock(nowUs());
  set({ speed });
}

/** A hand works a device: now, on whatever state holds now. */
export function operate(device: string, operation: string, value: boolean): void {
  const { held } = get();
  const key = `${device}/${operation}`;
  const next = new Set(held);
  if (value) next.add(key);
  else next.delete(key);
  set({ held: next });
  const atUs = nowUs();
  ask([{ at_us: atUs, device, operation, value }], () => frameAt(atUs)?.state ?? null, atUs);
}

function frameAt(timeUs: number): Frame | undefined {
  return get().frames.findLast((frame) => frame.time_us <= timeUs);
}

/** Ask the core for what follows; requests go one after the other, so that none is lost. */
function ask(actions: ActionRequest[], from: () => State | null, fromUs: number): void {
  const mine = session;
  queue = queue.then(async () => {
    if (!circuit || mine !== session) return;
    try {
      const answer = await runBeyond(mine, circuit, actions, from(), fromUs);
      if (mine === session) take(answer, fromUs);
    } catch (error) {
      if (mine === session) set({ problem: asProblem(error) });
    }
  });
}

/** A run that reaches `beyondUs`, and so all actions: of a circuit that changes fast the core tells in pages. */
async function runBeyond(
  mine: number,
  whose: Circuit,
  actions: ActionRequest[],
  from: State | null,
  beyondUs: number,
): Promise<Run> {
  const until_us = beyondUs + AHEAD_US;
  const answer = await api.run(whose, { state: from, actions, until_us, probes: probePairs() });
  const { end } = answer;
  const further = end.time_us > (from?.time_us ?? -1);
  if (end.time_us >= beyondUs || !further || mine !== session) return answer;
  const left = actions.filter((action) => action.at_us > end.time_us);
  const rest = await runBeyond(mine, whose, left, end, beyondUs);
  return {
    ...rest,
    frames: [...answer.frames, ...rest.frames.slice(1)],
    chatters: [...answer.chatters, ...rest.chatters],
  };
}

function probePairs(): { red: End; black: End }[] {
  const { red, black } = get();
  return red && black ? [{ red, black }] : [];
}

function take(answer: Run, fromUs: number): void {
  const { frames, chatters } = get();
  // What was foreseen beyond this moment is no longer true; the answer's first frame repeats the present.
  const begins = answer.frames[0]?.time_us ?? fromUs;
  const kept = frames.filter((frame) => frame.time_us < begins);
  const all = [...kept, ...answer.frames].slice(-HISTORY_FRAMES);
  end = answer.end;
  const ended = chatters.flatMap((c) =>
    c.since_us < fromUs ? [{ ...c, until_us: Math.min(c.until_us, fromUs) }] : [],
  );
  set({ frames: all, chatters: [...ended, ...answer.chatters], problem: null });
  tick();
  void refreshReading();
}

/** Move on to the frame that holds now; called at every frame of the screen. */
export function tick(): void {
  const { frames, now } = get();
  const time = nowUs();
  let at = Math.min(now, Math.max(frames.length - 1, 0));
  while (at > 0 && (frames[at]?.time_us ?? 0) > time) at -= 1;
  while (at + 1 < frames.length && (frames[at + 1]?.time_us ?? Infinity) <= time) at += 1;
  if (at !== now) {
    set({ now: at, explanation: null });
    void refreshReading();
  }
  if (end && time > end.time_us - ASK_AGAIN_US) {
    const from = end;
    end = null;
    ask([], () => from, from.time_us);
  }
}

/** Put a probe down: with the hand whose turn it is, or with the one named. */
export function probe(target: End, hand = get().hand): void {
  const other = hand === "red" ? "black" : "red";
  set({ [hand]: target, hand: other, explanation: null });
  void refreshReading();
}

export function liftProbes(): void {
  set({ red: null, black: null, hand: "red", explanation: null });
}

export const chooseHand = (hand: "red" | "black"): void => set({ hand });

export function swapProbes(): void {
  const { red, black } = get();
  set({ red: black, black: red, explanation: null });
  void refreshReading();
}

/** The reading of the probes in the present frame, when the core has given it. */
export function currentReading(state: BenchState): Reading | undefined {
  const { red, black } = state;
  const frame = currentFrame(state);
  if (!red || !black || !frame) return undefined;
  return frame.readings.find((reading) => sameEnd(reading.red, red) && sameEnd(reading.black, black));
}

/** Fetch the reading of the present frame if it came without (the probes moved since). */
async function refreshReading(): Promise<void> {
  const state = get();
  const frame = currentFrame(state);
  const probes = probePairs();
  if (!circuit || !frame || !probes.length || currentReading(state)) return;
  try {
    const { readings } = await api.read(circuit, { state: frame.state, probes });
    set(({ frames }) => ({
      frames: frames.map((f) => (f === frame ? { ...f, readings } : f)),
      problem: null,
    }));
  } catch (error) {
    set({ problem: asProblem(error) });
  }
}

/** Ask why the meter shows what it shows. */
export async function askWhy(): Promise<void> {
  const frame = currentFrame(get());
  const [probes] = probePairs();
  if (!circuit || !frame || !probes) return;
  try {
    const explanation = await api.explain(circuit, { state: frame.state, probes });
    // It holds for that moment and those probes alone.
    const [there] = probePairs();
    const same = there && sameEnd(there.red, probes.red) && sameEnd(there.black, probes.black);
    if (same && currentFrame(get())?.time_us === frame.time_us) set({ explanation, problem: null });
  } catch (error) {
    set({ problem: asProblem(error) });
  }
}

/** Devices that chatter at this moment. */
export function chatteringNow(chatters: Run["chatters"], timeUs: number): ReadonlySet<string> {
  return new Set(
    chatters.filter((c) => c.since_us <= timeUs && timeUs < c.until_us).flatMap((c) => c.devices),
  );
}

export const probeOn = (
  { red, black }: Pick<BenchState, "red" | "black">,
  target: End,
): "red" | "black" | undefined =>
  red && endKey(red) === endKey(target)
    ? "red"
    : black && endKey(black) === endKey(target)
      ? "black"
      : undefined;
