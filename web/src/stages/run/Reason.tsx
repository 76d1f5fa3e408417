import { Box, Button, Text } from "@chakra-ui/react";
import { useBench, useFrame, useTheBench } from "../../bench/context";
import { mainOperation, press } from "../../bench/working";
import type { Circuit } from "../../circuit/types";
import { useDocument } from "../../job/document";

/** Why the instrument shows what it shows. */
export function Reason({ circuit }: { circuit: Circuit }) {
  const explanation = useBench((state) => state.explanation);
  const reason = useBench((state) => state.shown?.reason ?? "");
  if (reason)
    return (
      <Text
        fontSize="body"
        lineHeight="1.45"
        borderLeft="4px solid var(--ink)"
        pl="2"
        data-testid="explanation"
      >
        {reason}
      </Text>
    );
  if (!explanation) return null;
  return (
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
      <TryThem circuit={circuit} devices={explanation.influences.map(({ device }) => device)} />
      {explanation.not_tried > 0 && (
        <Text color="var(--soft)" fontSize="line">
          Devices further away that were not tried: {explanation.not_tried}.
        </Text>
      )}
    </Box>
  );
}

const MOST = 4;

/** Each device on which a reading depends can be tried at once, where a hand can work it. */
export function TryThem({
  circuit,
  devices,
  hold = false,
}: {
  circuit: Circuit;
  devices: readonly string[];
  /** What is only held is offered too, and then stays held. */
  hold?: boolean;
}) {
  const bench = useTheBench();
  const frame = useFrame();
  const catalogue = useDocument((document) => document.catalogue);
  const ways = circuit.devices
    .filter(({ id }) => devices.includes(id))
    .flatMap((device) => {
      const operation = mainOperation(device, catalogue, frame);
      if (!operation || operation.caution) return [];
      return hold || operation.style !== "momentary" ? [{ device, operation }] : [];
    })
    .slice(0, MOST);
  if (!ways.length) return null;
  return (
    <Box display="flex" gap="1" flexWrap="wrap" mt="1">
      {ways.map(({ device, operation }) => (
        <Button
          key={device.id}
          size="xs"
          variant="outline"
          onClick={() => press(bench, device, operation, frame, hold)}
        >
          Try {device.label}
        </Button>
      ))}
    </Box>
  );
}
