import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { X } from "lucide-react";
import { useBench, useTheBench } from "../../bench/context";
import type { Circuit } from "../../circuit/types";
import { TryThem } from "./Reason";

/** Why a device stands as it does, and what made it so. */
export function Why({ circuit }: { circuit: Circuit }) {
  const bench = useTheBench();
  const why = useBench((state) => state.why);
  if (!why) return null;
  const label = circuit.devices.find(({ id }) => id === why.device)?.label ?? "";
  const { sentences, causes, depends } = why.reason;
  return (
    <Box
      as="section"
      aria-label={`Why ${label}`}
      p="3"
      borderBottom="1px solid var(--rule)"
      data-testid="why"
    >
      <Flex justify="space-between" align="flex-start" gap="2">
        <Text fontSize="body" fontWeight="600">
          {sentences[0]} <span className="why-when">at {(why.of.time_us / 1e6).toFixed(3)} s</span>
        </Text>
        <Button
          size="2xs"
          variant="ghost"
          aria-label="Close the reason"
          onClick={() => bench.use.setState({ why: null })}
        >
          <X size={14} />
        </Button>
      </Flex>
      <Box fontSize="body" lineHeight="1.45" aria-live="polite">
        {sentences.slice(1).map((sentence) => (
          <Text key={sentence} mt="1">
            {sentence}
          </Text>
        ))}
      </Box>
      {causes.length > 0 && (
        <ol className="causes" aria-label="How it came to that">
          {causes.map((cause) => (
            <li key={cause.sentence}>
              <button type="button" onClick={() => bench.goTo(cause.at_us)}>
                {cause.sentence}
              </button>
            </li>
          ))}
        </ol>
      )}
      <TryThem circuit={circuit} devices={depends} hold />
    </Box>
  );
}
