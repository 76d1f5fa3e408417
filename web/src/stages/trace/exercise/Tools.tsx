import { Box, Button, Flex, Input, NativeSelect, Text } from "@chakra-ui/react";
import { useState } from "react";
import { handsOf, INSTRUMENTS } from "../../../bench/instruments";
import type { Hand, Instrument } from "../../../bench/state";
import type { End } from "../../../circuit/types";
import { useDocument } from "../../../job/document";
import type { Views } from "../../stage";
import { askHint, end, marksOf, name, prove, setExercise, take, useExercise, useMeasure } from "./exercise";
import { FaultFinder } from "./Setting";

/** What the hands hold: an instrument, the steps of safe working, hints, and the answer. */
export function Tools({ circuit }: Views) {
  const open = useExercise((state) => state.open);
  if (!open) return <HowItGoes />;
  if (open.ended_at) return null;
  return (
    <section className="exercise-tools" aria-label="Tools">
      <Meter circuit={circuit} />
      <Safety />
      <Wires circuit={circuit} />
      <Notes />
      <Hints />
      <Answer circuit={circuit} />
    </section>
  );
}

const HOW = [
  "The work order tells what the operator saw. The fault is in the circuit, and nobody tells where.",
  "Work the panel on the left, put the probes on the sheet, read. Everything takes the time that it takes at a panel.",
  "Ohms, wires and armatures only after switching off, locking off, and proving dead: tester, dead, tester again.",
  "Name the fault when you know it, run the sequence to prove the repair, and see how a best path would have gone.",
];

function HowItGoes() {
  return (
    <section className="exercise-tools" aria-label="Tools">
      <h2>How it goes</h2>
      <ol className="how-it-goes">
        {HOW.map((words) => (
          <li key={words}>{words}</li>
        ))}
      </ol>
    </section>
  );
}

const PROBES: readonly (readonly [Hand, string])[] = [
  ["red", "Red"],
  ["black", "Black"],
  ["third", "Third"],
];

function Meter({ circuit }: { circuit: Views["circuit"] }) {
  const state = useExercise();
  const measure = useMeasure();
  const named = useDocument((document) => document.catalogue).designations(circuit);
  const told = INSTRUMENTS.find(({ name }) => name === state.instrument);
  const last = state.open?.entries.findLast(({ shown }) => shown !== null);
  const at = (end: End | null): string => (end ? named(end) : "nowhere");
  return (
    <>
      <NativeSelect.Root size="sm">
        <NativeSelect.Field
          aria-label="Instrument"
          fontWeight="600"
          value={state.instrument}
          onChange={(event) => setExercise({ instrument: event.target.value as Instrument, hand: "red" })}
        >
          {INSTRUMENTS.map(({ name, title }) => (
            <option key={name} value={name}>
              {title}
            </option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
      <Flex gap="3" wrap="wrap" fontSize="line">
        {state.instrument === "clamp"
          ? `${state.jaw.length || "No"} wires in the jaw`
          : PROBES.filter(([hand]) => handsOf(state.instrument).includes(hand)).map(([hand, words]) => (
              <span key={hand} className={`probe-at ${hand}${state.hand === hand ? " next" : ""}`}>
                {words}: {at(state[hand])}
              </span>
            ))}
        {state.instrument === "two_pole" && (
          <Button
            size="xs"
            variant={state.loaded ? "solid" : "outline"}
            aria-pressed={state.loaded}
            onClick={() => setExercise({ loaded: !state.loaded })}
          >
            Both buttons
          </Button>
        )}
      </Flex>
      <Button
        colorPalette="accent"
        disabled={!measure || state.busy}
        onClick={() => measure && void take({ kind: "read", measure })}
      >
        Read it
      </Button>
      <Box className="exercise-figure" aria-live="polite">
        <span data-testid="reading">{last?.shown ? last.shown.display : "- - -"}</span>
        <span>{last?.shown?.unit}</span>
        <small>
          {last
            ? `No. ${last.number}: ${last.words}`
            : "Put the probes on terminals of the sheet, then read."}
          {last?.shown?.note ? `. ${last.shown.note}` : ""}
        </small>
      </Box>
      <Text fontSize="note" color="var(--soft)">
        {told?.caution && <strong className="caution">{told.caution} </strong>}A simulation, not a test.
      </Text>
    </>
  );
}

/** The steps of safe working after switching off and locking off, and standing by. */
function Safety() {
  const { busy, red, black } = useExercise();
  const act = (words: string, work: () => void, disabled = false) => (
    <Button size="xs" variant="outline" disabled={busy || disabled} onClick={work}>
      {words}
    </Button>
  );
  return (
    <>
      <h2>Safe working, and time</h2>
      <Flex gap="2" wrap="wrap">
        {act("Prove the tester", () => void take({ kind: "prove_tester" }))}
        {act(
          "Prove dead",
          () => red && black && void take({ kind: "prove_dead", red, black }),
          !red || !black,
        )}
        {act("Wait 5 s", () => void take({ kind: "wait", seconds: 5 }))}
        {act("Wait 1 min", () => void take({ kind: "wait", seconds: 60 }))}
      </Flex>
    </>
  );
}

/** What is done with the wire or device that was pointed at, and with a bridge between the probes. */
function Wires({ circuit }: { circuit: Views["circuit"] }) {
  const { busy, picked, open, red, black } = useExercise();
  const named = useDocument((document) => document.catalogue).designations(circuit);
  if (!open) return null;
  const { lifted, ruledOut } = marksOf(open);
  const wire = circuit.conductors.find(({ id }) => id === picked);
  const device = circuit.devices.find(({ id }) => id === picked);
  const what = wire ? `Wire ${named(wire.a)} to ${named(wire.b)}` : (device?.label ?? "");
  const bridged = open.entries.findLast(({ step }) => step?.kind === "bridge")?.step;
  const bridge = bridged?.kind === "bridge" && bridged.on ? bridged : null;
  const act = (words: string, work: () => void, disabled = false) => (
    <Button size="xs" variant="outline" disabled={busy || disabled} onClick={work}>
      {words}
    </Button>
  );
  return (
    <>
      <h2>Wires and places</h2>
      <Text fontSize="line">{what || "Click a wire or a symbol on the sheet."}</Text>
      <Flex gap="2" wrap="wrap">
        {wire &&
          act(lifted.includes(wire.id) ? "Put the wire back" : "Lift the wire", () => {
            void take({ kind: "lift", wire: wire.id, off: !lifted.includes(wire.id) });
          })}
        {picked &&
          what &&
          act(ruledOut.has(picked) ? "Not ruled out any more" : "Rule it out", () => {
            void take({ kind: "rule_out", place: picked, out: !ruledOut.has(picked) });
          })}
        {bridge
          ? act("Take the bridge out", () => void take({ ...bridge, on: false }))
          : act(
              "Bridge between the probes",
              () => red && black && void take({ kind: "bridge", red, black, on: true }),
              !red || !black,
            )}
      </Flex>
    </>
  );
}

function Notes() {
  const busy = useExercise((state) => state.busy);
  const [text, setText] = useState("");
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        void take({ kind: "note", text });
        setText("");
      }}
    >
      <Flex gap="2">
        <Input
          size="sm"
          aria-label="Note"
          placeholder="A note"
          value={text}
          maxLength={1000}
          onChange={(event) => setText(event.target.value)}
        />
        <Button size="sm" variant="outline" type="submit" disabled={busy || !text.trim()}>
          Write
        </Button>
      </Flex>
    </form>
  );
}

const HINTS = ["Where to think", "What to measure", "Why that"] as const;

function Hints() {
  const { busy, progress, open } = useExercise();
  const last = open?.entries.at(-1);
  return (
    <>
      <h2>Hints: each costs time and marks</h2>
      <Flex gap="2" wrap="wrap">
        {HINTS.map((words, index) => (
          <Button
            key={words}
            size="xs"
            variant="outline"
            disabled={busy}
            onClick={() => void askHint(index + 1)}
          >
            {words}
          </Button>
        ))}
      </Flex>
      <Thinking progress={progress} />
      {last?.kind === "hint" && (
        <p className="exercise-told" role="status">
          {last.text}
        </p>
      )}
    </>
  );
}

/** What every fault would have shown is being worked out: how far it is. */
export function Thinking({ progress }: { progress: { done: number; all: number } | null }) {
  if (!progress) return null;
  return (
    <>
      <progress value={progress.done} max={progress.all} aria-label="Faults followed" />
      <Text fontSize="note" color="var(--soft)">
        What each fault would have shown: {progress.done} of {progress.all}
      </Text>
    </>
  );
}

function Answer({ circuit }: { circuit: Views["circuit"] }) {
  const { busy, open } = useExercise();
  const last = open?.entries.at(-1);
  const told = last && (last.kind === "answer" || last.kind === "proof") ? last : null;
  return (
    <>
      <h2>What is wrong</h2>
      {!open?.mended && <FaultFinder circuit={circuit} onFind={(fault) => void name(fault)} />}
      {told && (
        <p className={`exercise-told${told.right ? " right" : " wrong"}`} role="status">
          {told.text}
        </p>
      )}
      <Flex gap="2" wrap="wrap">
        <Button
          size="sm"
          variant={open?.mended ? "solid" : "outline"}
          colorPalette="accent"
          disabled={busy}
          onClick={() => void prove()}
        >
          Run the sequence
        </Button>
        <Button size="sm" variant="outline" disabled={busy} onClick={() => void end()}>
          {open?.mended ? "End" : "Give up and see"}
        </Button>
      </Flex>
    </>
  );
}
