import { create } from "zustand";
import { type ActionRequest, api, asProblem } from "../api/client";
import type { Catalogue } from "../circuit/catalogue";
import type { Circuit, Frame, Run, State } from "../circuit/types";
import { type BenchFault, type Fault, withFault } from "./faults";
import { Meters } from "./meters";
import { eventTime, linesAfter } from "./past";
import { type BenchState, currentFrame, IDLE, type Line } from "./state";

/** How far ahead the core is asked; asked again when the clock comes near the end of it. */
const AHEAD_US = 60_000_000;
const ASK_AGAIN_US = 5_000_000;
const HISTORY_FRAMES = 2_000;
/** The latest moment shown is noted in steps, not at every frame of the screen. */
const HEAD_STEP_US = 50_000;

/**
 * A bench of its own: several may be on a page, each with its circuit, its clock and its probes. Frames from the core
 * are played back against the clock. The core answers a whole stretch ahead; only a hand on the bench asks it again.
 */
export class Bench {
  /** The state, as a hook of the screen. */
  readonly use = create<BenchState>(() => IDLE);
  /** Momentary operations that stay held without a hand. */
  readonly latched = new Set<string>();
  readonly meters = new Meters(this);
  circuit: Circuit | null = null;
  private catalogue: Catalogue | null = null;
  private end: State | null = null;
  private clock = { atUs: 0, atMs: 0 };
  private queue: Promise<void> = Promise.resolve();
  /** Where a sequence that is played ends. */
  private playsUntilUs: number | null = null;
  private session = 0;
  /** The faults under which each frame was worked out, by its state. */
  private under = new WeakMap<State, readonly Fault[]>();

  private get = (): BenchState => this.use.getState();
  private set = (change: Partial<BenchState>): void => this.use.setState(change);

  /** Simulated time now, in microseconds. */
  nowUs(): number {
    const { paused, speed } = this.get();
    const passed = paused ? 0 : (performance.now() - this.clock.atMs) * 1000 * speed;
    return Math.round(this.clock.atUs + passed);
  }

  private setClock(atUs: number): void {
    this.clock = { atUs, atMs: performance.now() };
  }

  /** Put a circuit under power, from the beginning. Probes stay where their terminals still exist. */
  start(next: Circuit, catalogue: Catalogue): void {
    this.session += 1;
    this.playsUntilUs = null;
    this.latched.clear();
    this.circuit = next;
    this.catalogue = catalogue;
    this.end = null;
    this.setClock(0);
    this.set({
      ...this.meters.kept(next, catalogue),
      why: null,
      frames: [],
      chatters: [],
      now: 0,
      headUs: 0,
      hands: [],
      lines: [],
      problem: null,
      held: new Set(),
      faults: [],
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

  /** Let time stand still, or go on. */
  pause(paused: boolean): void {
    const now = this.nowUs();
    this.set({ paused });
    this.setClock(now);
  }

  /** Stand still at a moment that was: everything is shown as it was then. */
  goTo(timeUs: number): void {
    this.playsUntilUs = null;
    const first = this.get().frames[0]?.time_us ?? 0;
    this.pause(true);
    this.setClock(Math.max(first, Math.round(timeUs)));
    this.tick();
  }

  /** Stand still where something happened next, or last. */
  step(way: "next" | "previous"): void {
    const to = eventTime(this.get().frames, this.nowUs(), way);
    if (to !== undefined) this.goTo(to);
  }

  /** Take up a course of events that was left, where it had come to. */
  takeUp(line: Line): void {
    const { lines } = this.get();
    const kept = linesAfter(this.get(), line.leftUs, this.end);
    this.session += 1;
    this.end = line.end;
    this.set({
      frames: line.frames,
      chatters: line.chatters,
      headUs: line.headUs,
      hands: line.hands,
      faults: line.faults,
      lines: (kept.length > lines.length ? kept : lines).filter(({ id }) => id !== line.id),
      held: new Set(),
    });
    this.goTo(line.headUs);
  }

  /** Work the circuit anew with these hands, and with faults that are in it all the time, and stand still at a moment. */
  replay(hands: readonly ActionRequest[], atUs: number, faults: readonly BenchFault[] = []): void {
    this.session += 1;
    this.end = null;
    this.set({
      frames: [],
      chatters: [],
      now: 0,
      headUs: atUs,
      hands,
      lines: [],
      held: new Set(),
      faults,
    });
    this.pause(true);
    this.setClock(atUs);
    this.ask([...hands.filter((hand) => hand.at_us <= atUs)], () => null, atUs);
  }

  /** Work the circuit anew with these hands, from the beginning and as time runs. */
  play(hands: readonly ActionRequest[], untilUs: number): void {
    this.replay(hands, untilUs);
    this.setClock(0);
    // Time runs once the core has answered, and stands still at the end; another circuit has no frames by then.
    void this.queue.then(() => {
      if (!this.get().frames.length) return;
      this.setClock(0);
      this.set({ headUs: 0, paused: false });
      this.setClock(0);
      this.playsUntilUs = untilUs;
    });
  }

  /** Put a fault in, now. */
  putFault(fault: Fault, words: string): void {
    this.change(withFault(this.get().faults, fault, words));
  }

  /** Let a fault come or go, now. */
  switchFault(id: number, on: boolean): void {
    this.change(this.get().faults.map((one) => (one.id === id ? { ...one, on } : one)));
  }

  takeOutFault(id: number): void {
    this.change(this.get().faults.filter((one) => one.id !== id));
  }

  /** The faults that are there from now on. */
  private activeFaults(): readonly Fault[] {
    return this.get().faults.flatMap(({ fault, on }) => (on ? [fault] : []));
  }

  /** The faults that were there in a frame: what a meter showed then does not change with what is put in later. */
  faultsIn(frame: Frame): readonly Fault[] {
    return this.under.get(frame.state) ?? [];
  }

  /** Other faults from now on. */
  private change(faults: readonly BenchFault[]): void {
    const atUs = this.nowUs();
    this.keepLine(atUs);
    this.set({ faults });
    this.ask([], () => this.stateFor(atUs), atUs);
  }

  /** The state from which to go on at a moment. Where other faults come or go then, it is worked out up to then first. */
  private async stateFor(atUs: number): Promise<State | null> {
    const frame = this.get().frames.findLast(({ time_us }) => time_us <= atUs);
    if (!frame || !this.circuit) return null;
    const [was, is] = [this.faultsIn(frame), this.activeFaults()];
    if (frame.time_us === atUs || JSON.stringify(was) === JSON.stringify(is)) return frame.state;
    const body = { state: frame.state, actions: [], until_us: atUs, probes: [], faults: was };
    return (await api.run(this.circuit, body)).end;
  }

  private keepLine(atUs: number): void {
    this.playsUntilUs = null;
    const lines = linesAfter(this.get(), atUs, this.end);
    const hands = this.get().hands.filter((hand) => hand.at_us <= atUs);
    this.set({ lines, hands, headUs: atUs });
  }

  /** Is the supply switched off somewhere, and locked there? Where nothing can be locked: is nothing live? */
  lockedOff(): boolean {
    const frame = currentFrame(this.get());
    const locks = (this.circuit?.devices ?? []).flatMap(({ id, kind }) =>
      (this.catalogue?.kind(kind)?.operations ?? []).flatMap(({ name, locks_off }) =>
        locks_off ? [frame?.devices[id]?.on[name] ?? false] : [],
      ),
    );
    const live = Object.values(frame?.terminals ?? {}).some((terminals) =>
      Object.values(terminals).some(({ standing }) => standing === "live"),
    );
    return locks.length > 0 ? locks.some((locked) => locked) : !live;
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
    this.keepLine(atUs);
    const hand = { at_us: atUs, device, operation, value };
    this.set({ hands: [...this.get().hands, hand] });
    this.ask([hand], () => this.stateFor(atUs), atUs);
  }

  /** Ask the core for what follows; requests go one after the other, so that none is lost. */
  private ask(
    actions: ActionRequest[],
    from: () => State | null | Promise<State | null>,
    fromUs: number,
  ): void {
    const mine = this.session;
    this.queue = this.queue.then(async () => {
      const { circuit } = this;
      if (!circuit || mine !== this.session) return;
      try {
        const answer = await this.runBeyond(mine, circuit, actions, await from(), fromUs);
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
    const [probes, faults] = [this.meters.pairs(), this.activeFaults()];
    const answer = await api.run(whose, { state: from, actions, until_us, probes, faults });
    for (const { state } of answer.frames) this.under.set(state, faults);
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

  private take(answer: Run, fromUs: number): void {
    const { frames, chatters } = this.get();
    const shown = currentFrame(this.get());
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
    // A reason is of the moment that it was asked for, as that was.
    if (currentFrame(this.get())?.state !== shown?.state) this.set({ explanation: null });
    void this.meters.refresh();
  }

  /** Move on to the frame that holds now; called at every frame of the screen. */
  tick(): void {
    const { frames, now } = this.get();
    const time = this.nowUs();
    if (this.playsUntilUs !== null && time >= this.playsUntilUs) {
      this.goTo(this.playsUntilUs);
      return;
    }
    let at = Math.min(now, Math.max(frames.length - 1, 0));
    while (at > 0 && (frames[at]?.time_us ?? 0) > time) at -= 1;
    while (at + 1 < frames.length && (frames[at + 1]?.time_us ?? Infinity) <= time) at += 1;
    if (time > this.get().headUs + HEAD_STEP_US) this.set({ headUs: time });
    if (at !== now) {
      this.set({ now: at, explanation: null });
      void this.meters.refresh();
    }
    const from = this.end;
    if (from && time > from.time_us - ASK_AGAIN_US) {
      this.end = null;
      this.ask([], () => from, from.time_us);
    }
  }
}
