import { Box, Button, Flex, Heading, HStack, Stack, Text } from "@chakra-ui/react";
import { ArrowLeftRight } from "lucide-react";
import { currentReading } from "../../bench/bench";
import { useBench, useTheBench } from "../../bench/context";
import type { Circuit, End } from "../../circuit/types";
import { useDocument } from "../../job/document";

/** The voltmeter: large figure, where each probe stands, and why it reads that. */
export function Meter({ circuit }: { circuit: Circuit }) {
  const bench = useTheBench();
  const red = useBench((state) => state.red);
  const black = useBench((bench) => bench.black);
  const hand = useBench((bench) => bench.hand);
  const reading = useBench(currentReading);
  const explanation = useBench((bench) => bench.explanation);
  const both = red !== null && black !== null;
  return (
    <Stack as="section" aria-label="Voltmeter" gap="3" p="3">
      <Flex justify="space-between" align="baseline">
        <Heading as="h2" fontSize="head" fontWeight="600">
          Voltmeter
        </Heading>
        <Text fontSize="note" color="var(--soft)">
          {reading?.coupling ?? "AC or DC"}, 10 MΩ
        </Text>
      </Flex>
      <Box bg="var(--paper)" border="1px solid var(--rule)" borderTop="4px solid var(--ink)" px="3" py="2">
        <Flex align="baseline" justify="flex-end" gap="2" fontFamily="mono">
          <Text fontSize="figure" lineHeight="1.2" data-testid="reading" aria-live="polite">
            {both ? (reading?.display ?? "…") : "- - -"}
          </Text>
          <Text fontSize="unit">V</Text>
        </Flex>
        <Text fontSize="note" color="var(--soft)" textAlign="right" minH="18px">
          {!both && "Put both probes on terminals."}
          {reading && !reading.joined && "No return path between the probes."}
          {reading?.joined && `exactly ${exact(reading.voltage_v)} V`}
        </Text>
      </Box>
      <Flex gap="2">
        <ProbeChip hand="red" end={red} circuit={circuit} next={hand === "red"} />
        <ProbeChip hand="black" end={black} circuit={circuit} next={hand === "black"} />
      </Flex>
      <HStack gap="2">
        <Button size="sm" colorPalette="accent" disabled={!both} onClick={() => void bench.askWhy()}>
          Why?
        </Button>
        <Button
          size="sm"
          variant="outline"
          disabled={!both}
          onClick={() => bench.swapProbes()}
          aria-label="Exchange the probes"
        >
          <ArrowLeftRight size={15} />
        </Button>
        <Button size="sm" variant="outline" disabled={!red && !black} onClick={() => bench.liftProbes()}>
          Take off
        </Button>
      </HStack>
      {explanation && (
        <Box fontSize="body" lineHeight="1.45" aria-live="polite" data-testid="explanation">
          <Text borderLeft="4px solid var(--probe-red)" pl="2" mb="2">
            {explanation.sentences[0]}
          </Text>
          <Text borderLeft="4px solid var(--probe-black)" pl="2" mb="2">
            {explanation.sentences[1]}
          </Text>
          {explanation.influences.length > 0 && (
            <Text color="var(--soft)" fontSize="line">
              It changes when one of these changes over:{" "}
              {explanation.influences.map((item) => `${item.label} (${item.display} V)`).join(", ")}.
            </Text>
          )}
          {explanation.not_tried > 0 && (
            <Text color="var(--soft)" fontSize="line">
              Devices further away that were not tried: {explanation.not_tried}.
            </Text>
          )}
        </Box>
      )}
      {!both && (
        <Text fontSize="line" color="var(--soft)">
          Click a terminal on the sheet, or move the cursor there and press R or B. The hand whose turn it is
          is marked.
        </Text>
      )}
      <Text fontSize="note" color="var(--soft)" borderTop="1px solid var(--rule)" pt="2">
        A prediction, not a test. On a real panel prove the tester, prove dead, and prove the tester again.
      </Text>
    </Stack>
  );
}

/** Six figures; what is less than a microvolt is the rounding of the arithmetic. */
const exact = (volts: number): string => (volts < 1e-6 ? "0" : volts.toPrecision(6));

function ProbeChip(props: { hand: "red" | "black"; end: End | null; circuit: Circuit; next: boolean }) {
  const { hand, end } = props;
  const catalogue = useDocument((document) => document.catalogue);
  const name = end && catalogue.designations(props.circuit)(end);
  const bench = useTheBench();
  return (
    <button
      type="button"
      className={`probe-chip ${hand}${props.next ? " next" : ""}`}
      aria-pressed={props.next}
      aria-label={`${hand === "red" ? "Red" : "Black"} probe${name ? ` on ${name}` : ", not placed"}`}
      onClick={() => bench.chooseHand(hand)}
    >
      <span className="probe-dot" aria-hidden />
      {name ?? "–"}
    </button>
  );
}
