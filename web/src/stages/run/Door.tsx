import { Box, Flex, Heading, Stack, Text } from "@chakra-ui/react";
import { useRef } from "react";
import { useBench, useFrame, useTheBench } from "../../bench/context";
import { holdKey, letGoOf, press } from "../../bench/working";
import type { Catalogue } from "../../circuit/catalogue";
import type { Circuit, Device, Frame, Operation } from "../../circuit/types";

const PLACES = [
  ["door", "On the door"],
  ["plate", "On the mounting plate"],
  ["field", "In the field"],
] as const;

/** The hands' side of the circuit: everything that can be worked or seen, where it sits. */
export function Door({ circuit, catalogue }: { circuit: Circuit; catalogue: Catalogue }) {
  const frame = useFrame();
  return (
    <Stack as="section" aria-label="Operator's panel" gap="4" p="3">
      {PLACES.map(([place, title]) => {
        const devices = circuit.devices.filter((device) => {
          const kind = catalogue.kind(device.kind);
          return catalogue.mounting(device) === place && kind?.group !== "terminal";
        });
        return (
          devices.length > 0 && (
            <Box key={place}>
              <Heading as="h2" fontSize="line" fontWeight="600" color="var(--soft)" mb="2">
                {title}
              </Heading>
              <Stack gap="1">
                {devices.map((device) => (
                  <DeviceRow key={device.id} device={device} catalogue={catalogue} frame={frame} />
                ))}
              </Stack>
            </Box>
          )
        );
      })}
    </Stack>
  );
}

function DeviceRow({
  device,
  catalogue,
  frame,
}: {
  device: Device;
  catalogue: Catalogue;
  frame: Frame | undefined;
}) {
  const kind = catalogue.kind(device.kind);
  const seen = frame?.devices[device.id];
  const colour = catalogue.params(device)["colour"];
  const operations = (kind?.operations ?? []).filter((o) => !o.repairs || seen?.attention);
  // More than fit beside the name go below it.
  const many = operations.length > 2 || (operations.length > 1 && (seen?.says ?? "").length > 10);
  return (
    <Flex
      align="center"
      gap="2"
      wrap={many ? "wrap" : "nowrap"}
      minH="44px"
      borderBottom="1px solid var(--rule)"
      py="1"
    >
      <Box flex={many ? "1 0 100%" : "1"} minW="0" lineHeight="1.25">
        <Text>
          <Text as="span" fontWeight="600">
            {device.label}
          </Text>
          {kind?.group !== "command" && (
            <Text
              as="span"
              ml="2"
              fontSize="line"
              color={seen?.attention ? "var(--warn)" : "var(--ink)"}
              data-says={device.label}
            >
              {seen?.says}
            </Text>
          )}
        </Text>
        <Text fontSize="note" color="var(--soft)" truncate title={device.function}>
          {device.function || kind?.title}
        </Text>
      </Box>
      {kind?.group === "signal" && <Lens lit={seen?.active ?? false} colour={String(colour)} />}
      <Flex gap="1" wrap="wrap">
        {operations.map((operation) => (
          <Control key={operation.name} device={device} operation={operation} frame={frame} colour={colour} />
        ))}
      </Flex>
    </Flex>
  );
}

function Lens({ lit, colour }: { lit: boolean; colour: string }) {
  return (
    <svg width="30" height="30" viewBox="0 0 30 30" aria-hidden>
      <circle
        cx="15"
        cy="15"
        r="12"
        fill={`var(--lens-${colour})`}
        fillOpacity={lit ? 1 : 0.15}
        stroke="var(--ink)"
        strokeWidth="1.5"
      />
      {lit && <path d="M15 0v4M15 26v4M0 15h4M26 15h4" stroke="var(--ink)" strokeWidth="2" />}
    </svg>
  );
}

interface ControlProps {
  readonly device: Device;
  readonly operation: Operation;
  readonly frame: Frame | undefined;
  readonly colour: boolean | number | string | undefined;
}

function Control({ device, operation, frame, colour }: ControlProps) {
  const bench = useTheBench();
  const held = useBench((bench) => bench.held.has(holdKey(device.id, operation.name)));
  const seen = frame?.devices[device.id];
  const toggle = operation.style === "toggle";
  const momentary = operation.style === "momentary";
  const own = seen?.on[operation.name];
  const on = toggle && (own ?? seen?.active ?? false);
  const name = `${device.label} ${device.function || ""} ${operation.title}`.replace(/\s+/g, " ");
  const down = (latch: boolean): void => press(bench, device, operation, frame, latch);
  const byKey = useRef(false);
  const up = (): void => {
    byKey.current = false;
    letGoOf(bench, device.id, operation);
  };
  return (
    <button
      type="button"
      className={`control ${operation.style}${held ? " held" : ""}${on ? " on" : ""}${seen?.attention && own === undefined ? " attention" : ""}`}
      style={typeof colour === "string" && momentary ? { background: `var(--lens-${colour})` } : undefined}
      aria-label={name}
      aria-pressed={momentary ? held : toggle ? on : undefined}
      title={
        operation.caution
          ? `${operation.title}. ${operation.caution}`
          : `${operation.title}${momentary ? " (hold; shift-click latches)" : ""}`
      }
      onPointerDown={(event) => {
        if (event.button !== 0) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        down(event.shiftKey);
      }}
      onPointerUp={up}
      onPointerCancel={up}
      onKeyDown={(event) => {
        if (event.key !== "Enter" && event.key !== " ") return;
        event.preventDefault();
        if (event.repeat) return;
        byKey.current = true;
        down(event.shiftKey);
      }}
      onKeyUp={(event) => {
        if (event.key === "Enter" || event.key === " ") up();
      }}
      onBlur={() => {
        // A key that is let go elsewhere tells nobody; a pointer goes on holding.
        if (byKey.current) up();
      }}
      onContextMenu={(event) => event.preventDefault()}
    >
      {toggle ? legend(operation, on) : momentary ? "" : capital(operation.name)}
    </button>
  );
}

/** A device's handle says where it stands; a toggle beside it says what it is. */
const legend = (operation: Operation, on: boolean): string =>
  operation.handle ? (on ? "I" : "O") : capital(operation.name);

const capital = (word: string): string => word.charAt(0).toUpperCase() + word.slice(1);
