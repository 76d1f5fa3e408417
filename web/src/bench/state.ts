import type { ActionRequest, Problem } from "../api/client";
import type { Schemas } from "../api/types";
import {
  type Circuit,
  type DeviceReason,
  type End,
  type Explanation,
  endKey,
  type Frame,
  type Reading,
  type Run,
  type State,
  sameEnd,
} from "../circuit/types";
import type { BenchFault, Fault } from "./faults";

export type Measure = Schemas["MeasureRequest"]["measures"][number];
export type Instrument = Measure["instrument"];

/** What an instrument showed, and of which moment and place that was. */
type Measured = Schemas["Measured"];

/** What an instrument showed, and of which moment and place that was. */
export interface Shown extends Measured {
  readonly of: Frame;
  readonly key: string;
}

/** What stands at each terminal to a reference at a moment, by `endKey`; empty where nothing leads there. */
export interface PotentialMap {
  readonly of: Frame;
  readonly volts: ReadonlyMap<string, string>;
}

/** A voltmeter that stays where it is, as on a worksheet. */
export interface Pin {
  readonly letter: string;
  readonly red: End;
  readonly black: End;
}

/** A course of events that was left when somebody went back and did something else. */
export interface Line {
  readonly id: number;
  /** Where it was left, and how far it had come by then. */
  readonly leftUs: number;
  readonly headUs: number;
  readonly frames: readonly Frame[];
  readonly chatters: Run["chatters"];
  readonly end: State | null;
  readonly hands: readonly ActionRequest[];
  readonly faults: readonly BenchFault[];
}

/** Why a device stands as it does, at the moment for which it was asked. */
export interface DeviceWhy {
  readonly device: string;
  readonly of: Frame;
  readonly reason: DeviceReason;
}

/** All that stands on a bench: what happened and will happen, where the hands and meters are, what is broken. */
export interface BenchState {
  /** All that happened since the circuit was put under power, oldest first. */
  readonly frames: readonly Frame[];
  readonly chatters: Run["chatters"];
  /** Index of the frame that holds now. */
  readonly now: number;
  /** The latest moment that was shown: one can go back from there, and on again. */
  readonly headUs: number;
  readonly paused: boolean;
  readonly speed: number;
  /** What hands did on the way to now, oldest first. */
  readonly hands: readonly ActionRequest[];
  /** What happened otherwise before somebody went back and did something else. */
  readonly lines: readonly Line[];
  readonly problem: Problem | null;
  /** What a hand was kept from doing, and why. */
  readonly refused: string | null;
  /** Momentary operations held down, as "device/operation". */
  readonly held: ReadonlySet<string>;
  readonly faults: readonly BenchFault[];
  readonly red: End | null;
  readonly black: End | null;
  /** The third probe, of the tester that needs three. */
  readonly third: End | null;
  /** The hand that puts its probe down next. */
  readonly hand: Hand;
  readonly instrument: Instrument;
  /** Conductors in the jaw of the clamp. */
  readonly jaw: readonly string[];
  /** Those of them that enter it the other way. */
  readonly turned: readonly string[];
  /** Is the current of every conductor shown on the sheet? */
  readonly flow: boolean;
  /** Both buttons of the two-pole tester pressed. */
  readonly loaded: boolean;
  /** What an instrument other than the voltmeter shows at a moment. */
  readonly shown: Shown | null;
  readonly explanation: Explanation | null;
  /** Why a device stood as it did when that was asked. */
  readonly why: DeviceWhy | null;
  /** The terminal to which the potentials of all others are shown on the sheet, and these by terminal. */
  readonly reference: End | null;
  readonly potentials: PotentialMap | null;
  /** Maps of other moments that are to stand beside it. */
  readonly keptMaps: readonly PotentialMap[];
  /** Voltmeters left in the circuit, by letter. */
  readonly pins: readonly Pin[];
}

/** What the meters ask of the bench that they belong to. */
export interface Surroundings {
  readonly use: { getState(): BenchState; setState(change: Partial<BenchState>): void };
  readonly circuit: Circuit | null;
  /** The faults under which a frame was made. */
  faultsIn(frame: Frame): readonly Fault[];
}

export type Hand = "red" | "black" | "third";

export const IDLE: BenchState = {
  frames: [],
  chatters: [],
  now: 0,
  headUs: 0,
  paused: false,
  speed: 1,
  hands: [],
  lines: [],
  problem: null,
  refused: null,
  held: new Set(),
  faults: [],
  red: null,
  black: null,
  third: null,
  hand: "red",
  instrument: "voltmeter",
  jaw: [],
  turned: [],
  flow: false,
  loaded: false,
  shown: null,
  explanation: null,
  why: null,
  reference: null,
  potentials: null,
  keptMaps: [],
  pins: [],
};

export function currentFrame({ frames, now }: BenchState): Frame | undefined {
  return frames[now];
}

/** The reading of a voltmeter between two terminals in the present frame, when the core has given it. */
export const readingOf = (state: BenchState, red: End, black: End): Reading | undefined =>
  currentFrame(state)?.readings.find((one) => sameEnd(one.red, red) && sameEnd(one.black, black));

/** The reading of the probes in the present frame. */
export function currentReading(state: BenchState): Reading | undefined {
  const { red, black } = state;
  return red && black ? readingOf(state, red, black) : undefined;
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

/** The largest current of a conductor in what was shown so far, with its time. */
export function largestCurrent(
  { frames, headUs }: Pick<BenchState, "frames" | "headUs">,
  conductor: string,
): { readonly amperes: number; readonly atUs: number } | undefined {
  let best: { amperes: number; atUs: number } | undefined;
  for (const frame of frames) {
    const amperes = frame.conductors_a[conductor];
    if (frame.time_us <= headUs && amperes !== undefined && amperes > (best?.amperes ?? 0))
      best = { amperes, atUs: frame.time_us };
  }
  return best;
}
