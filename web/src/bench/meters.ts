import { api, asProblem } from "../api/client";
import type { Catalogue } from "../circuit/catalogue";
import { type Circuit, type End, endKey, type Probes, sameEnd } from "../circuit/types";
import { handsOf, LETTERS, measureOf } from "./instruments";
import {
  type BenchState,
  currentFrame,
  type Hand,
  IDLE,
  type Instrument,
  readingOf,
  type Surroundings,
} from "./state";

/** Maps that stand side by side at most, beside that of the moment. */
const MOST_MAPS = 6;

/** The instruments of a bench: where the hands put them, and what they show. */
export class Meters {
  private asking = false;
  private mapping = false;

  constructor(private readonly bench: Surroundings) {}

  private get = (): BenchState => this.bench.use.getState();
  private set = (change: Partial<BenchState>): void => this.bench.use.setState(change);

  /** Where the meters of the bench stand in another circuit: only where their terminals still exist. */
  kept(next: Circuit, catalogue: Catalogue): Partial<BenchState> {
    const devices = new Map(next.devices.map((device) => [device.id, device]));
    const wires = new Set(next.conductors.map(({ id }) => id));
    const is = (end: End): boolean => {
      const device = devices.get(end.device);
      return device !== undefined && catalogue.terminals(device).includes(end.terminal);
    };
    const there = (probe: End | null): End | null => (probe && is(probe) ? probe : null);
    const { red, black, third, jaw, pins, reference } = this.get();
    return {
      reference: there(reference),
      potentials: null,
      keptMaps: [],
      red: there(red),
      black: there(black),
      third: there(third),
      jaw: jaw.filter((id) => wires.has(id)),
      pins: pins.filter((pin) => is(pin.red) && is(pin.black)),
      shown: null,
      explanation: null,
    };
  }

  /** Pairs whose readings come with every frame: the voltmeter in the hand, and those that were left. */
  pairs(): Probes[] {
    const { red, black, instrument, pins } = this.get();
    const own = red && black && instrument === "voltmeter" ? [{ red, black }] : [];
    return [...own, ...pins.map(({ red, black }) => ({ red, black }))];
  }

  choose(instrument: Instrument): void {
    const hands = handsOf(instrument);
    const hand = hands.find((one) => this.get()[one] === null) ?? "red";
    this.set({ instrument, hand, shown: null, explanation: null });
    void this.refresh();
  }

  /** Put a probe down: with the hand whose turn it is, or with the one named. */
  probe(target: End, hand = this.get().hand): void {
    const hands = handsOf(this.get().instrument);
    const next = hands[(hands.indexOf(hand) + 1) % hands.length] ?? "red";
    this.moved({ [hand]: target, hand: next });
  }

  /** Put a conductor into the jaw of the clamp, or take it out. */
  clamp(conductor: string): void {
    const { jaw, turned } = this.get();
    this.moved({ jaw: toggled(jaw, conductor), turned: turned.filter((id) => id !== conductor) });
  }

  /** Let a conductor enter the jaw the other way. */
  turn(conductor: string): void {
    this.moved({ turned: toggled(this.get().turned, conductor) });
  }

  lift(): void {
    const { red, black, third, jaw, turned, hand } = IDLE;
    this.moved({ red, black, third, jaw, turned, hand });
  }

  chooseHand(hand: Hand): void {
    this.set({ hand });
  }

  swap(): void {
    const { red, black } = this.get();
    this.moved({ red: black, black: red });
  }

  showFlow(flow: boolean): void {
    this.set({ flow });
  }

  load(loaded: boolean): void {
    this.moved({ loaded });
  }

  /** Leave a voltmeter where the probes stand, under the next free letter. */
  pin(): void {
    const { red, black, pins } = this.get();
    const letter = [...LETTERS].find((one) => !pins.some((pin) => pin.letter === one));
    if (!red || !black || !letter) return;
    const all = [...pins, { letter, red, black }];
    this.moved({ pins: all.sort((p, q) => p.letter.localeCompare(q.letter)) });
  }

  /** Leave these voltmeters and no others. */
  leave(pins: BenchState["pins"]): void {
    this.moved({ pins });
  }

  unpin(letter: string): void {
    this.set({ pins: this.get().pins.filter((pin) => pin.letter !== letter) });
  }

  private moved(change: Partial<BenchState>): void {
    this.set({ ...change, shown: null, explanation: null });
    void this.refresh();
  }

  /** Fetch what the present frame came without: the probes moved since, or another instrument is in the hand. */
  async refresh(): Promise<void> {
    await Promise.all([this.readPairs(), this.readInstrument(), this.readMap()]);
  }

  /** Show the potential of every terminal to this one, or no longer. */
  showMap(reference: End | null): void {
    this.set({ reference, potentials: null, keptMaps: [] });
    void this.readMap();
  }

  /** Let the map of this moment stand beside those of later ones. */
  keepMap(): void {
    const { potentials, keptMaps } = this.get();
    if (potentials) this.set({ keptMaps: [...keptMaps, potentials].slice(-MOST_MAPS) });
  }

  /** As with instruments: while time runs the next question is about the moment that holds then. */
  private async readMap(): Promise<void> {
    const { circuit } = this.bench;
    const { reference, potentials } = this.get();
    const frame = currentFrame(this.get());
    if (!reference || !circuit || !frame || this.mapping || potentials?.of.state === frame.state) return;
    this.mapping = true;
    try {
      const answer = await api.map(circuit, {
        state: frame.state,
        reference,
        faults: this.bench.faultsIn(frame),
      });
      const volts = new Map(answer.potentials.map(({ end, display }) => [endKey(end), display]));
      if (this.get().reference === reference) this.set({ potentials: { of: frame, volts } });
    } catch (error) {
      this.set({ problem: asProblem(error), reference: null });
      return;
    } finally {
      this.mapping = false;
    }
    void this.readMap();
  }

  private async readPairs(): Promise<void> {
    const { circuit } = this.bench;
    const frame = currentFrame(this.get());
    const missing = this.pairs().filter(({ red, black }) => !readingOf(this.get(), red, black));
    if (!circuit || !frame || !missing.length) return;
    try {
      const faults = this.bench.faultsIn(frame);
      const { readings } = await api.read(circuit, { state: frame.state, probes: missing, faults });
      const frames = this.get().frames.map((f) =>
        f.time_us === frame.time_us && f.state === frame.state
          ? { ...f, readings: [...f.readings, ...readings] }
          : f,
      );
      this.set({ frames, problem: null });
    } catch (error) {
      this.set({ problem: asProblem(error) });
    }
  }

  /** One question at a time: while time runs the next one is about the moment that holds then. */
  private async readInstrument(): Promise<void> {
    const what = measureOf(this.get());
    const { circuit } = this.bench;
    const frame = currentFrame(this.get());
    if (!what || what.instrument === "voltmeter" || !circuit || !frame || this.asking) return;
    const key = JSON.stringify(what);
    if (this.get().shown?.key === key && this.get().shown?.of.state === frame.state) return;
    this.asking = true;
    try {
      const faults = this.bench.faultsIn(frame);
      const { measured } = await api.measure(circuit, {
        state: frame.state,
        measures: [what],
        why: false,
        faults,
      });
      const [one] = measured;
      if (one && JSON.stringify(measureOf(this.get())) === key)
        this.set({ shown: { ...one, of: frame, key }, problem: null });
    } catch (error) {
      this.set({ problem: asProblem(error) });
      return;
    } finally {
      this.asking = false;
    }
    void this.readInstrument();
  }

  /** Ask why the instrument in the hand shows what it shows. */
  async askWhy(): Promise<void> {
    const { instrument } = this.get();
    await (instrument === "clamp" || instrument === "ohmmeter" ? this.askReason() : this.askPaths());
  }

  private async askReason(): Promise<void> {
    const { circuit } = this.bench;
    const what = measureOf(this.get());
    const frame = currentFrame(this.get());
    if (!circuit || !what || !frame) return;
    try {
      const faults = this.bench.faultsIn(frame);
      const { measured } = await api.measure(circuit, {
        state: frame.state,
        measures: [what],
        why: true,
        faults,
      });
      const [one] = measured;
      const key = JSON.stringify(what);
      if (one && JSON.stringify(measureOf(this.get())) === key)
        this.set({ shown: { ...one, of: frame, key } });
    } catch (error) {
      this.set({ problem: asProblem(error) });
    }
  }

  private async askPaths(): Promise<void> {
    const { circuit } = this.bench;
    const frame = currentFrame(this.get());
    const { red, black } = this.get();
    if (!circuit || !frame || !red || !black) return;
    try {
      const faults = this.bench.faultsIn(frame);
      const explanation = await api.explain(circuit, { state: frame.state, probes: { red, black }, faults });
      // It holds for that moment and those probes alone.
      const there = this.get();
      const same = there.red && there.black && sameEnd(there.red, red) && sameEnd(there.black, black);
      if (same && currentFrame(there)?.time_us === frame.time_us) this.set({ explanation, problem: null });
    } catch (error) {
      this.set({ problem: asProblem(error) });
    }
  }
}

/** Which letters stand on a terminal, for the sheet to show. */
const toggled = (ids: readonly string[], id: string): string[] =>
  ids.includes(id) ? ids.filter((one) => one !== id) : [...ids, id];

export const pinsOn = ({ pins }: Pick<BenchState, "pins">, at: End): string =>
  pins
    .filter(({ red, black }) => endKey(red) === endKey(at) || endKey(black) === endKey(at))
    .map(({ letter }) => letter)
    .join("");
