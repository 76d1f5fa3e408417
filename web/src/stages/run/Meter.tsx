import { Box, Button, Flex, Heading, HStack, NativeSelect, Stack, Text } from "@chakra-ui/react";
import { useBench, useTheBench } from "../../bench/context";
import { handsOf, INSTRUMENTS, measureOf } from "../../bench/instruments";
import { currentReading, type Instrument } from "../../bench/state";
import type { Circuit } from "../../circuit/types";
import { Faults } from "./Faults";
import { MeterHands } from "./MeterHands";
import { Pins } from "./Pins";
import { Predict } from "./predict/Predict";
import { setUnderWay, useUnderWay } from "./predict/underWay";
import { Reason } from "./Reason";
import { Sequences } from "./sequence/Sequences";
import { Why } from "./Why";

const PANES = [
  ["measure", "Measure"],
  ["predict", "Predict"],
  ["sequence", "Sequence"],
] as const;

/** What is measured, what is expected, or what is done step by step: one of them is in sight. */
export function Meter({ circuit }: { circuit: Circuit }) {
  const pane = useUnderWay((state) => state.pane);
  return (
    <>
      <HStack gap="0" p="2" pb="0" role="group" aria-label="Measure, predict, sequence">
        {PANES.map(([name, title]) => (
          <Button
            key={name}
            size="xs"
            variant={pane === name ? "subtle" : "ghost"}
            aria-pressed={pane === name}
            onClick={() => setUnderWay({ pane: name })}
          >
            {title}
          </Button>
        ))}
      </HStack>
      {pane === "measure" && <Measuring circuit={circuit} />}
      {pane === "predict" && <Predict circuit={circuit} />}
      {pane === "sequence" && <Sequences circuit={circuit} />}
    </>
  );
}

/** The instrument in the hand: large figure, where each probe stands, and why it shows that. */
function Measuring({ circuit }: { circuit: Circuit }) {
  const bench = useTheBench();
  const instrument = useBench((state) => state.instrument);
  const told = INSTRUMENTS.find(({ name }) => name === instrument);
  return (
    <>
      <Why circuit={circuit} />
      <Stack as="section" aria-label={told?.title ?? ""} gap="2" p="3">
        <Flex justify="space-between" align="center" gap="2">
          <Heading as="h2" className="unseen">
            {told?.title}
          </Heading>
          <NativeSelect.Root size="sm" flex="1">
            <NativeSelect.Field
              aria-label="Instrument"
              fontWeight="600"
              value={instrument}
              onChange={(event) => bench.meters.choose(event.target.value as Instrument)}
            >
              {INSTRUMENTS.map(({ name, title }) => (
                <option key={name} value={name}>
                  {title}
                </option>
              ))}
            </NativeSelect.Field>
            <NativeSelect.Indicator />
          </NativeSelect.Root>
          <Text fontSize="note" color="var(--soft)" maxW="92px">
            {told?.told}
          </Text>
        </Flex>
        <Figure />
        <MeterHands circuit={circuit} />
        <Reason circuit={circuit} />
        <Text fontSize="note" color="var(--soft)" borderTop="1px solid var(--rule)" pt="2">
          {told?.caution && <strong className="caution">{told.caution} </strong>}A prediction, not a test. On
          a real panel prove the tester, prove dead, and prove the tester again.
        </Text>
      </Stack>
      <Pins circuit={circuit} />
      <Faults circuit={circuit} />
    </>
  );
}

/** What the instrument shows. */
function Figure() {
  const { display, unit, note, refused, beeps } = useFigure();
  return (
    <Box bg="var(--paper)" border="1px solid var(--rule)" borderTop="4px solid var(--ink)" px="3" py="2">
      <Flex align="baseline" justify="flex-end" gap="2" fontFamily="mono">
        {beeps && (
          <Text fontSize="note" mr="auto" className="beeps">
            beeps
          </Text>
        )}
        <Text
          fontSize={display.length > 8 ? "large" : "figure"}
          lineHeight="1.2"
          data-testid="reading"
          aria-live="polite"
        >
          {display}
        </Text>
        <Text fontSize="unit">{unit}</Text>
      </Flex>
      <Text
        fontSize="note"
        color={refused ? "var(--warn)" : "var(--soft)"}
        textAlign="right"
        minH="18px"
        data-testid="note"
      >
        {note}
      </Text>
    </Box>
  );
}

const EMPTY = { display: "- - -", refused: false, beeps: false };

function useFigure() {
  const instrument = useBench((state) => state.instrument);
  const ready = useBench((state) => measureOf(state) !== null);
  const reading = useBench(currentReading);
  const shown = useBench((state) => state.shown);
  if (!ready) return { ...EMPTY, unit: UNITS[instrument] ?? "", note: ask(instrument) };
  if (instrument === "voltmeter") {
    const note = !reading
      ? ""
      : reading.joined
        ? `exactly ${exact(reading.voltage_v)} V ${reading.coupling}`
        : "No return path between the probes.";
    return { ...EMPTY, display: reading?.display ?? "…", unit: "V", note };
  }
  return shown ? shown.shown : { ...EMPTY, display: "…", unit: UNITS[instrument] ?? "", note: "" };
}

const UNITS: Partial<Record<Instrument, string>> = {
  voltmeter: "V",
  low_impedance: "V",
  ohmmeter: "Ω",
  clamp: "A",
};

const ask = (instrument: Instrument): string =>
  instrument === "clamp"
    ? "Click the conductors that go through the jaw."
    : handsOf(instrument).length === 3
      ? "Put three probes on terminals."
      : "Put both probes on terminals.";

/** Six figures; what is less than a microvolt is the rounding of the arithmetic. */
const exact = (volts: number): string => (Math.abs(volts) < 1e-6 ? "0" : volts.toPrecision(6));
