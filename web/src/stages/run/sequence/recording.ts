import type { ActionRequest, Sequence } from "../../../api/client";
import type { Catalogue } from "../../../circuit/catalogue";
import type { Circuit } from "../../../circuit/types";
import { randomId } from "../../../common/randomId";
import { perJob, storePerJob } from "../../../common/session";

export type Step = Sequence["steps"][number];

/** A sequence that is being made or changed; `id` is null until the job has it, `basedOn` the version that it had. */
export interface SequenceDraft {
  readonly id: number | null;
  readonly basedOn: number;
  readonly name: string;
  readonly steps: readonly Step[];
}

interface Sequences {
  readonly draft: SequenceDraft | null;
  /** The moment since which hands are recorded, while they are. */
  readonly recordsFromUs: number | null;
}

export const useSequences = storePerJob<Sequences>(() => ({ draft: null, recordsFromUs: null }));

const saves = perJob(() => ({ writer: randomId(), serial: 0 }));

/** What the next save of a sequence carries. */
export function nextSave(basedOn: number): { based_on: number; writer: string; serial: number } {
  const mine = saves.here();
  mine.serial += 1;
  return { based_on: basedOn, ...mine };
}

export const setSequences = (change: Partial<Sequences>): void => useSequences.setState(change);

export function changeSteps(steps: readonly Step[]): void {
  const { draft } = useSequences.getState();
  if (draft) setSequences({ draft: { ...draft, steps } });
}

/** Hands closer together than this are one step. */
const TOGETHER_US = 150_000;
const LEAST_S = 0.05;

/** What hands did from a moment to another, as steps: those of one moment together, then a wait until the next. */
export function stepsOf(
  hands: readonly ActionRequest[],
  fromUs: number,
  toUs: number,
  named: (hand: ActionRequest) => { readonly label: string; readonly words: string },
): Step[] {
  const groups: ActionRequest[][] = [];
  for (const hand of hands) {
    if (hand.at_us < fromUs || hand.at_us > toUs) continue;
    const last = groups.at(-1);
    if (last?.[0] && hand.at_us - last[0].at_us < TOGETHER_US) last.push(hand);
    else groups.push([hand]);
  }
  const first = groups[0]?.[0]?.at_us ?? toUs;
  const steps: Step[] = [];
  if (first - fromUs > LEAST_S * 1e6) steps.push(stepOf("Nothing is touched", [], first - fromUs));
  groups.forEach((group, index) => {
    const [begins, next] = [group[0]?.at_us ?? 0, groups[index + 1]?.[0]?.at_us ?? toUs];
    const words = group.map((hand) => named(hand).words).join(", ");
    const done = group.map((hand): [string, string, boolean] => [
      named(hand).label,
      hand.operation,
      hand.value ?? true,
    ]);
    steps.push(stepOf(words, done, next - begins));
  });
  return steps;
}

function stepOf(text: string, done: Step["do"], waitUs: number): Step {
  const wait = Math.min(3600, Math.max(LEAST_S, waitUs / 1e6));
  return {
    text: text.slice(0, 200),
    do: done ?? [],
    faults: null,
    wait_s: Number(wait.toFixed(3)),
    expect: {},
  };
}

/** The hands of steps on devices of a circuit, from a moment on, and when the last step is over. */
export function handsOfSteps(
  steps: readonly Step[],
  circuit: Circuit,
  fromUs = 0,
): { readonly hands: ActionRequest[]; readonly endUs: number } {
  let atUs = fromUs;
  const hands: ActionRequest[] = [];
  for (const step of steps) {
    for (const [label, operation, value] of step.do ?? []) {
      const device = circuit.devices.find((one) => one.label === label);
      if (device) hands.push({ at_us: atUs, device: device.id, operation, value });
    }
    atUs += Math.round((step.wait_s ?? 0.5) * 1e6);
  }
  return { hands, endUs: atUs };
}

/** A hand in words: "S1 press", "S1 let go", "Q1 switch off". */
export function handWords(
  circuit: Circuit,
  catalogue: Catalogue,
  hand: ActionRequest,
): { readonly label: string; readonly words: string } {
  const device = circuit.devices.find(({ id }) => id === hand.device);
  const known = catalogue.kind(device?.kind ?? "")?.operations.find(({ name }) => name === hand.operation);
  const label = device?.label ?? hand.device;
  if (known?.style === "momentary" && !hand.value) return { label, words: `${label} let go` };
  const ends = known?.style === "toggle" ? (hand.value ? " on" : " off") : "";
  return { label, words: `${label} ${(known?.title ?? hand.operation).toLowerCase()}${ends}` };
}
