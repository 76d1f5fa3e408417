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

const IDLE: BenchState = {
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
};

/** How far ahead the core is asked; asked again when the clock comes near the end of it. */
const AHEAD_US = 60_000_000;
const ASK_AGAIN_US = 5_000_000;
const HISTORY_FRAMES = 2_000;

/** A bench of its own: several may be on a page, each with its circuit, its clock and its probes. */
export class Bench {
  /** The state, as a hook of the screen. */
  readonly use = create<BenchState>(() => IDLE);
  /** Momentary operations that stay held without a hand. */
  readonly latched = new Set<string>();
  private circuit: Circuit | null = null;
  private end: State | null = null;
  private clock = { atUs: 0, atMs: 0 };
  private queue: Promise<void> = Promise.resolve();
  private session = 0;

  private get = (): BenchState => this.use.getState();
  private set = (change: Partial<BenchState>): void => this.use.setState(change);

  /** Simulated time now, in microseconds. */
  nowUs(): number {
    return Math.round(this.clock.atUs + (performance.now() - this.clock.atMs) * 1000 * this.get().speed);
  }

  private setClock(atUs: number): void {
    this.clock = { atUs, atMs: performance.now() };
  }

  /** Put a circuit under power, from the beginning. Probes stay where their terminals still exist. */
  start(next: Circuit, catalogue: Catalogue): void {
    this.session += 1;
    this.latched.clear();
    this.circuit = next;
    this.end = null;
    this.setClock(0);
    const there = (probe: End | null): End | null => {
      const device = next.devices.find((candidate) => candidate.id === probe?.device);
      return probe && device && catalogue.terminals(device).includes(probe.terminal) ? probe : null;
    };
    const { red, black } = this.get();
    this.set({
      frames: [],
      chatters: [],
      now: 0,
      explanation: null,
      problem: null,
      held: new Set(),
      red: there(red),
      black: there(black),
    });
    this.ask([], () => null, 0);
  }

  /** Is this the circuit on the bench, unchanged but for how it is drawn? */
  holds(other: Circuit): boolean {
    const { circuit } = this;
    return (
      circuit !== null &&
      circuit.devices === other.devices &&
      circuit.conductors === other.conductors &&
      circuit.strays === other.strays
    );
  }

  /** The circuit on the bench is drawn otherwise now: terminals are called by other markings. */
  redraw(other: Circuit): void {
    this.circuit = other;
  }

  setSpeed(speed: number): void {
    this.setClock(this.nowUs());
    this.set({ speed });
  }

  /** A hand works a device: now, on whatever state holds now. */
  operate(device: string, operation: string, value: boolean): void {
    const { held } = this.get();
    const key = `${device}/${operation}`;
    const next = new Set(held);
    if (value) next.add(key);
    else next.delete(key);
    this.set({ held: next });
    const atUs = this.nowUs();
    this.ask([{ at_us: atUs, device, operation, value }], () => this.frameAt(atUs)?.state ?? null, atUs);
  }

  private frameAt(timeUs: number): Frame | undefined {
    return this.get().frames.findLast((frame) => frame.time_us <= timeUs);
  }

  /** Ask the core for what follows; requests go one after the other, so that none is lost. */
  private ask(actions: ActionRequest[], from: () => State | null, fromUs: number): void {
    const mine = this.session;
    this.queue = this.queue.then(async () => {
      const { circuit } = this;
      if (!circuit || mine !== this.session) return;
      try {
        const answer = await this.runBeyond(mine, circuit, actions, from(), fromUs);
        if (mine === this.session) this.take(answer, fromUs);
      } catch (error) {
        if (mine === this.session) this.set({ problem: asProblem(error) });
      }
    });
  }

  /** A run that reaches `beyondUs`, and so all actions: of a circuit that changes fast the core tells in pages. */
  private async runBeyond(
    mine: number,
    whose: Circuit,
    actions: ActionRequest[],
    from: State | null,
    beyondUs: number,
  ): Promise<Run> {
    const until_us = beyondUs + AHEAD_US;
    const answer = await api.run(whose, { state: from, actions, until_us, probes: this.probePairs() });
    const { end } = answer;
    const further = end.time_us > (from?.time_us ?? -1);
    if (end.time_us >= beyondUs || !further || mine !== this.session) return answer;
    const left = actions.filter((action) => action.at_us > end.time_us);
    const rest = await this.runBeyond(mine, whose, left, end, beyondUs);
    return {
      ...rest,
      frames: [...answer.frames, ...rest.frames.slice(1)],
      chatters: [...answer.chatters, ...rest.chatters],
    };
  }

  private probePairs(): { red: End; black: End }[] {
    const { red, black } = this.get();
    return red && black ? [{ red, black }] : [];
  }

  private take(answer: Run, fromUs: number): void {
    const { frames, chatters } = this.get();
    // What was foreseen beyond this moment is no longer true; the answer's first frame repeats the present.
    const begins = answer.frames[0]?.time_us ?? fromUs;
    const kept = frames.filter((frame) => frame.time_us < begins);
    const all = [...kept, ...answer.frames].slice(-HISTORY_FRAMES);
    this.end = answer.end;
    const ended = chatters.flatMap((c) =>
      c.since_us < fromUs ? [{ ...c, until_us: Math.min(c.until_us, fromUs) }] : [],
    );
    this.set({ frames: all, chatters: [...ended, ...answer.chatters], problem: null });
    this.tick();
    void this.refreshReading();
  }

  /** Move on to the frame that holds now; called at every frame of the screen. */
  tick(): void {
    const { frames, now } = this.get();
    const time = this.nowUs();
    let at = Math.min(now, Math.max(frames.length - 1, 0));
    while (at > 0 && (frames[at]?.time_us ?? 0) > time) at -= 1;
    while (at + 1 < frames.length && (frames[at + 1]?.time_us ?? Infinity) <= time) at += 1;
    if (at !== now) {
      this.set({ now: at, explanation: null });
      void this.refreshReading();
    }
    const from = this.end;
    if (from && time > from.time_us - ASK_AGAIN_US) {
      this.end = null;
      this.ask([], () => from, from.time_us);
    }
  }

  /** Put a probe down: with the hand whose turn it is, or with the one named. */
  probe(target: End, hand = this.get().hand): void {
    const other = hand === "red" ? "black" : "red";
    this.set({ [hand]: target, hand: other, explanation: null });
    void this.refreshReading();
  }

  liftProbes(): void {
    this.set({ red: null, black: null, hand: "red", explanation: null });
  }

  chooseHand(hand: "red" | "black"): void {
    this.set({ hand });
  }

  swapProbes(): void {
    const { red, black } = this.get();
    this.set({ red: black, black: red, explanation: null });
    void this.refreshReading();
  }

  /** Fetch the reading of the present frame if it came without (the probes moved since). */
  private async refreshReading(): Promise<void> {
    const { circuit } = this;
    const state = this.get();
    const frame = currentFrame(state);
    const probes = this.probePairs();
    if (!circuit || !frame || !probes.length || currentReading(state)) return;
    try {
      const { readings } = await api.read(circuit, { state: frame.state, probes });
      const frames = this.get().frames.map((f) => (f === frame ? { ...f, readings } : f));
      this.set({ frames, problem: null });
    } catch (error) {
      this.set({ problem: asProblem(error) });
    }
  }

  /** Ask why the meter shows what it shows. */
  async askWhy(): Promise<void> {
    const { circuit } = this;
    const frame = currentFrame(this.get());
    const [probes] = this.probePairs();
    if (!circuit || !frame || !probes) return;
    try {
      const explanation = await api.explain(circuit, { state: frame.state, probes });
      // It holds for that moment and those probes alone.
      const [there] = this.probePairs();
      const same = there && sameEnd(there.red, probes.red) && sameEnd(there.black, probes.black);
      if (same && currentFrame(this.get())?.time_us === frame.time_us)
        this.set({ explanation, problem: null });
    } catch (error) {
      this.set({ problem: asProblem(error) });
    }
  }
}

export function currentFrame({ frames, now }: BenchState): Frame | undefined {
  return frames[now];
}

/** The reading of the probes in the present frame, when the core has given it. */
export function currentReading(state: BenchState): Reading | undefined {
  const { red, black } = state;
  const frame = currentFrame(state);
  if (!red || !black || !frame) return undefined;
  return frame.readings.find((reading) => sameEnd(reading.red, red) && sameEnd(reading.black, black));
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
