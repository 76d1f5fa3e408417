import { Button, ButtonGroup, Flex, HStack, Text } from "@chakra-ui/react";
import { ArrowLeftRight, Pin as PinIcon } from "lucide-react";
import { useMemo, useState } from "react";
import { useBench, useTheBench } from "../../bench/context";
import { handsOf, LETTERS, measureOf } from "../../bench/instruments";
import { type Hand, largestCurrent } from "../../bench/state";
import type { Circuit } from "../../circuit/types";
import { useDocument } from "../../job/document";
import { MapTable } from "./MapTable";

/** Where the probes or the jaw are, and what can be done with them. */
export function MeterHands({ circuit }: { circuit: Circuit }) {
  const { meters } = useTheBench();
  const instrument = useBench((state) => state.instrument);
  const ready = useBench((state) => measureOf(state) !== null);
  const any = useBench((state) => Boolean(state.red ?? state.black ?? state.third) || state.jaw.length > 0);
  const full = useBench((state) => state.pins.length >= LETTERS.length);
  const loaded = useBench((state) => state.loaded);
  const hands = handsOf(instrument);
  return (
    <>
      {hands.length > 0 ? (
        <Flex gap="2">
          {hands.map((hand) => (
            <ProbeChip key={hand} hand={hand} circuit={circuit} />
          ))}
        </Flex>
      ) : (
        <Jaw circuit={circuit} />
      )}
      <HStack gap="2" wrap="wrap">
        {EXPLAINED.has(instrument) && (
          <Button size="sm" colorPalette="accent" disabled={!ready} onClick={() => void meters.askWhy()}>
            Why?
          </Button>
        )}
        {hands.length === 2 && (
          <Button
            size="sm"
            variant="outline"
            disabled={!ready}
            onClick={() => meters.swap()}
            aria-label="Exchange the probes"
          >
            <ArrowLeftRight size={15} />
          </Button>
        )}
        {instrument === "voltmeter" && (
          <Button
            size="sm"
            variant="outline"
            disabled={!ready || full}
            onClick={() => meters.pin()}
            aria-label="Leave a meter here"
            title="Leave a meter here"
          >
            <PinIcon size={15} />
          </Button>
        )}
        {instrument === "voltmeter" && <MapButton circuit={circuit} />}
        {instrument === "clamp" && <FlowButton />}
        {instrument === "two_pole" && (
          <Button
            size="sm"
            variant={loaded ? "solid" : "outline"}
            aria-pressed={loaded}
            onClick={() => meters.load(!loaded)}
          >
            Both buttons
          </Button>
        )}
        <Button size="sm" variant="outline" disabled={!any} onClick={() => meters.lift()}>
          Take off
        </Button>
      </HStack>
      {!ready && (
        <Text fontSize="line" color="var(--soft)">
          {hands.length
            ? `Click a terminal on the sheet, or move the cursor there and press R${hands.length > 2 ? ", B or T" : " or B"}. The hand whose turn it is is marked.`
            : "Click a wire on the sheet, or move the cursor there and press Enter. Several wires add up."}
        </Text>
      )}
    </>
  );
}

/** Every terminal to the black probe: as figures on the sheet, and as a table. */
function MapButton({ circuit }: { circuit: Circuit }) {
  const { meters } = useTheBench();
  const black = useBench((state) => state.black);
  const reference = useBench((state) => state.reference);
  const [table, setTable] = useState(false);
  return (
    <>
      <Switch
        on={reference !== null}
        disabled={!black && !reference}
        title="Every terminal to the black probe"
        act={() => meters.showMap(reference ? null : black)}
      >
        Map
      </Switch>
      {reference && (
        <Button size="sm" variant="outline" onClick={() => setTable(true)}>
          Table
        </Button>
      )}
      {table && <MapTable circuit={circuit} onClose={() => setTable(false)} />}
    </>
  );
}

/** Where current flows, and how much, on every wire of the sheet. */
function FlowButton() {
  const { meters } = useTheBench();
  const flow = useBench((state) => state.flow);
  return (
    <Switch on={flow} title="The current of every wire" act={() => meters.showFlow(!flow)}>
      Flow
    </Switch>
  );
}

/** A button that says whether something is shown. */
function Switch(props: {
  on: boolean;
  disabled?: boolean;
  title: string;
  act: () => void;
  children: string;
}) {
  const { on, disabled = false, title, act, children } = props;
  return (
    <Button
      size="sm"
      {...(on ? { colorPalette: "accent" } : {})}
      variant={on ? "solid" : "outline"}
      aria-pressed={on}
      disabled={disabled}
      title={title}
      onClick={act}
    >
      {children}
    </Button>
  );
}

/** Instruments that have a reason to give. */
const EXPLAINED: ReadonlySet<string> = new Set([
  "voltmeter",
  "low_impedance",
  "two_pole",
  "ohmmeter",
  "clamp",
]);

const HANDS: Readonly<Record<Hand, string>> = { red: "Red", black: "Black", third: "Third" };

function ProbeChip({ hand, circuit }: { hand: Hand; circuit: Circuit }) {
  const { meters } = useTheBench();
  const end = useBench((state) => state[hand]);
  const next = useBench((state) => state.hand === hand);
  const catalogue = useDocument((document) => document.catalogue);
  const name = end && catalogue.designations(circuit)(end);
  return (
    <button
      type="button"
      className={`probe-chip ${hand}${next ? " next" : ""}`}
      aria-pressed={next}
      aria-label={`${HANDS[hand]} probe${name ? ` on ${name}` : ", not placed"}`}
      onClick={() => meters.chooseHand(hand)}
    >
      <span className="probe-dot" aria-hidden />
      {name ?? "–"}
    </button>
  );
}

/** The conductors in the jaw of the clamp. */
function Jaw({ circuit }: { circuit: Circuit }) {
  const { meters } = useTheBench();
  const jaw = useBench((state) => state.jaw);
  const turned = useBench((state) => state.turned);
  const frames = useBench((state) => state.frames);
  const headUs = useBench((state) => state.headUs);
  const [only] = jaw;
  const largest = useMemo(
    () => (only && jaw.length === 1 ? largestCurrent({ frames, headUs }, only) : undefined),
    [frames, headUs, jaw, only],
  );
  const catalogue = useDocument((document) => document.catalogue);
  const named = catalogue.designations(circuit);
  return (
    <Flex gap="2" wrap="wrap" aria-label="In the jaw" role="group" fontSize="line">
      {largest && (
        <Text w="100%" data-testid="largest">
          Largest so far {largest.amperes.toFixed(2)} A, at {(largest.atUs / 1e6).toFixed(3)} s
        </Text>
      )}
      {jaw.map((id) => {
        const wire = circuit.conductors.find((conductor) => conductor.id === id);
        const name = wire ? `${named(wire.a)} to ${named(wire.b)}` : id;
        return (
          <ButtonGroup key={id} size="xs" variant="outline" attached>
            <Button aria-label={`Take the wire ${name} out of the jaw`} onClick={() => meters.clamp(id)}>
              {name} ×
            </Button>
            {jaw.length > 1 && (
              <Button
                aria-label={`The wire ${name} enters the jaw the other way`}
                aria-pressed={turned.includes(id)}
                onClick={() => meters.turn(id)}
              >
                {turned.includes(id) ? "Turned" : "Turn"}
              </Button>
            )}
          </ButtonGroup>
        );
      })}
    </Flex>
  );
}
