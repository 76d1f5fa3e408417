import { Button, HStack, Input, Stack, Text, Textarea } from "@chakra-ui/react";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, asProblem, type PredictionSheet } from "../../../api/client";
import { useBench, useTheBench } from "../../../bench/context";
import type { BenchFault } from "../../../bench/faults";
import type { Catalogue } from "../../../circuit/catalogue";
import { isCoil } from "../../../circuit/purpose";
import type { Circuit } from "../../../circuit/types";
import { useDocument } from "../../../job/document";
import { Positions } from "./Positions";
import { changeDraft, useUnderWay } from "./underWay";

type Halt = PredictionSheet["states"][number];

const MOST_DEVICES = 12;
const CLAMPS = "PQRSTUVW";

/** A sheet from what stands on the bench: the meters that were left, the hands so far, and the moments asked about. */
export function MakeSheet(props: { job: number; circuit: Circuit; onDone: (id: number | null) => void }) {
  const { job, circuit, onDone } = props;
  const bench = useTheBench();
  const pins = useBench((state) => state.pins);
  const queries = useQueryClient();
  const draft = useUnderWay((state) => state.draft);
  const { title, states, about, hints, told } = draft;
  const catalogue = useDocument((document) => document.catalogue);
  const faults = useBench((state) => state.faults).filter(({ on }) => on);
  const [problem, setProblem] = useState("");
  const devices = useAsked(circuit);
  const ask = (): void => {
    const at_us = bench.nowUs();
    const rest = states.filter((state) => state.at_us !== at_us);
    const added = [...rest, { title: `State ${states.length + 1}`, at_us }];
    changeDraft({ states: added.sort((p, q) => p.at_us - q.at_us) });
  };
  const sheetOf = (): PredictionSheet => ({
    format: "wiretrace/prediction-sheet",
    version: 3,
    title: title.trim() || circuit.title || "Prediction sheet",
    meters: pins.map(({ letter, red, black }) => ({ letter, red, black })),
    clamps: draft.currents ? motorWires(circuit, catalogue) : [],
    devices: [...devices],
    hands: bench.use.getState().hands.filter(({ at_us }) => at_us <= (states.at(-1)?.at_us ?? 0)),
    states: [...states],
    faults: faults.map(({ fault }) => fault),
    told,
    asks_next: draft.asksNext,
    next: draft.asksNext ? draft.next.trim() : "",
    hints,
    counts: about ? "about" : "exact",
  });
  const save = async (): Promise<void> => {
    const sheet = sheetOf();
    try {
      const line = await api.keepPrediction(job, sheet, circuit);
      await queries.invalidateQueries({ queryKey: ["predictions", job] });
      onDone(line.id);
    } catch (error) {
      setProblem(asProblem(error).detail);
    }
  };
  return (
    <Stack as="section" aria-label="New prediction sheet" p="3" gap="2" fontSize="line">
      <Input
        size="sm"
        aria-label="Title of the sheet"
        placeholder="What is asked"
        maxLength={200}
        value={title}
        onChange={(event) => changeDraft({ title: event.target.value })}
      />
      <Asked letters={pins.map(({ letter }) => letter)} />
      <Button size="sm" variant="outline" disabled={states.length >= 12} onClick={ask}>
        Ask about this moment
      </Button>
      <StateList states={states} onChange={(changed) => changeDraft({ states: changed })} />
      <Positions
        sheet={sheetOf}
        circuit={circuit}
        states={states.length > 0}
        ready={pins.length > 0 && states.length > 0}
      />
      <WithFaults faults={faults} />
      <Choices motors={motorWires(circuit, catalogue).length > 0} />
      {problem && <p className="caution">{problem}</p>}
      <HStack>
        <Button
          size="sm"
          colorPalette="accent"
          disabled={!pins.length || !states.length}
          onClick={() => void save()}
        >
          Keep the sheet
        </Button>
        <Button size="sm" variant="outline" onClick={() => onDone(null)}>
          Back
        </Button>
      </HStack>
    </Stack>
  );
}

/** Which meters are asked about. */
function Asked({ letters }: { letters: readonly string[] }) {
  return (
    <Text color={letters.length ? "var(--ink)" : "var(--warn)"}>
      {letters.length
        ? `${letters.length > 1 ? "Meters" : "Meter"} ${letters.join(", ")} ${letters.length > 1 ? "are" : "is"} asked about.`
        : "No meter is left in the circuit yet: put the probes down and leave one, up to eight."}
    </Text>
  );
}

/** What is wrong on the bench is asked about with it, told or not. */
function WithFaults({ faults }: { faults: readonly BenchFault[] }) {
  const told = useUnderWay((state) => state.draft.told);
  if (!faults.length)
    return (
      <Text color="var(--soft)">
        Asked about as it is drawn. A fault that is put in on the bench is asked about with it.
      </Text>
    );
  return (
    <>
      <Text>{`With what is wrong on the bench: ${faults.map(({ words }) => words).join("; ")}.`}</Text>
      <Choice
        checked={!told}
        onChange={(checked) => changeDraft({ told: !checked })}
        title="What is wrong is not told"
      />
    </>
  );
}

/** What else is asked, and how it counts. */
function Choices({ motors }: { motors: boolean }) {
  const { about, hints, currents, asksNext, next } = useUnderWay((state) => state.draft);
  return (
    <>
      {motors && (
        <Choice
          checked={currents}
          onChange={(checked) => changeDraft({ currents: checked })}
          title="Ask for the currents to the motors too"
        />
      )}
      <Choice
        checked={asksNext}
        onChange={(checked) => changeDraft({ asksNext: checked })}
        title="Ask at the end what to measure next, and why"
      />
      {asksNext && (
        <Textarea
          size="sm"
          rows={2}
          aria-label="What you would measure next, and why"
          placeholder="What you would measure: shown when the last state is compared"
          maxLength={500}
          value={next}
          onChange={(event) => changeDraft({ next: event.target.value })}
        />
      )}
      <Choice
        checked={about}
        onChange={(checked) => changeDraft({ about: checked })}
        title="Only full, part and none count"
      />
      <Choice
        checked={hints}
        onChange={(checked) => changeDraft({ hints: checked })}
        title="The state may be looked at before answering"
      />
    </>
  );
}

function Choice(props: { checked: boolean; onChange: (checked: boolean) => void; title: string }) {
  return (
    <label className="predict-about">
      <input
        type="checkbox"
        checked={props.checked}
        onChange={(event) => props.onChange(event.target.checked)}
      />
      {props.title}
    </label>
  );
}

function StateList(props: { states: readonly Halt[]; onChange: (states: readonly Halt[]) => void }) {
  const { states, onChange } = props;
  return (
    <ol className="predict-states" aria-label="States asked about">
      {states.map((state, index) => (
        <li key={state.at_us}>
          <Input
            size="xs"
            aria-label={`Name of state ${index + 1}`}
            value={state.title}
            maxLength={100}
            onChange={(event) =>
              onChange(states.map((one) => (one === state ? { ...one, title: event.target.value } : one)))
            }
          />
          <span>{(state.at_us / 1e6).toFixed(2)} s</span>
          <button
            type="button"
            aria-label={`Leave out ${state.title}`}
            onClick={() => onChange(states.filter((one) => one !== state))}
          >
            ×
          </button>
        </li>
      ))}
    </ol>
  );
}

/** A clamp around each wire to a winding of a motor, as many as have letters. */
function motorWires(circuit: Circuit, catalogue: Catalogue): PredictionSheet["clamps"] {
  const windings = new Set(
    circuit.devices.flatMap((device) => {
      const frame = catalogue.kind(device.kind)?.terminals.filter((one) => one.frame) ?? [];
      return catalogue
        .parts(device)
        .filter(({ does }) => does === "turns")
        .flatMap(({ terminals }) => terminals)
        .filter((terminal) => !frame.some(({ name }) => name === terminal))
        .map((terminal) => `${device.id}:${terminal}`);
    }),
  );
  return circuit.conductors
    .filter(({ a, b }) => [a, b].some(({ device, terminal }) => windings.has(`${device}:${terminal}`)))
    .slice(0, CLAMPS.length)
    .map(({ id }, at) => ({ letter: CLAMPS[at] ?? "", conductor: id }));
}

/** Devices that are to be predicted too: what a coil moves, and what shows something. */
function useAsked(circuit: Circuit): readonly string[] {
  const catalogue = useDocument((document) => document.catalogue);
  return circuit.devices
    .filter((device) => catalogue.parts(device).some((part) => isCoil(part) || part.does === "shows"))
    .map(({ id }) => id)
    .slice(0, MOST_DEVICES);
}
