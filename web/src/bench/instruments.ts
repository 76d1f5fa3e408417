import type { BenchState, Hand, Instrument, Measure } from "./state";

export const LETTERS = "ABCDEFGH";

/** How each instrument is called, what it is to the circuit, and the caution that goes with it. */
export const INSTRUMENTS: readonly {
  readonly name: Instrument;
  readonly title: string;
  readonly told: string;
  readonly caution?: string;
}[] = [
  { name: "voltmeter", title: "Voltmeter", told: "10 MΩ" },
  {
    name: "low_impedance",
    title: "Low-impedance voltmeter",
    told: "3.3 kΩ",
    caution: "Its own current may operate something.",
  },
  {
    name: "two_pole",
    title: "Two-pole tester",
    told: "200 kΩ, 7 kΩ with both buttons",
    caution: "Prove it on a known source before and after.",
  },
  {
    name: "ohmmeter",
    title: "Ohms, continuity",
    told: "a source of its own",
    caution: "Dead circuits only.",
  },
  {
    name: "diode",
    title: "Diode test",
    told: "1 mA, up to 2.5 V",
    caution: "Dead circuits only.",
  },
  { name: "clamp", title: "Current clamp", told: "around conductors" },
  {
    name: "phase_sequence",
    title: "Phase-sequence tester",
    told: "three probes",
    caution: "On live terminals. Local rules come first.",
  },
  {
    name: "insulation",
    title: "Insulation tester",
    told: "500 V direct",
    caution: "Dead circuits only. It destroys electronics; keep hands off while it tests.",
  },
];

/** The hands that an instrument has a probe for. */
export const handsOf = (instrument: Instrument): readonly Hand[] =>
  instrument === "clamp"
    ? []
    : instrument === "phase_sequence"
      ? ["red", "black", "third"]
      : ["red", "black"];

/** What is being measured, once every probe of the instrument stands somewhere. */
export function measureOf(
  state: Pick<BenchState, "instrument" | "red" | "black" | "third" | "jaw" | "turned" | "loaded">,
): Measure | null {
  const { instrument, red, black, third, jaw, turned, loaded } = state;
  if (instrument === "clamp")
    return jaw.length ? { instrument, conductors: [...jaw], turned: [...turned] } : null;
  if (!red || !black) return null;
  switch (instrument) {
    case "phase_sequence":
      return third ? { instrument, ends: [red, black, third] } : null;
    case "two_pole":
      return { instrument, red, black, loaded };
    case "insulation":
      return { instrument, red, black, test_v: 500 };
    case "voltmeter":
      return { instrument, red, black, coupling: "auto" };
    default:
      return { instrument, red, black };
  }
}
