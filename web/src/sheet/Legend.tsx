import { Flex, Text } from "@chakra-ui/react";

const KINDS = [
  ["live", "joined to a live pole"],
  ["neutral", "joined to the neutral"],
  ["earth", "protective earth"],
  ["load", "only through a load"],
  ["none", "no reference"],
] as const;

/** What the lines mean. */
export function Legend() {
  return (
    <Flex
      columnGap="5"
      rowGap="1"
      wrap="wrap"
      fontSize="note"
      color="var(--soft)"
      aria-label="Line styles"
      role="group"
    >
      {KINDS.map(([kind, text]) => (
        <Flex key={kind} align="center" gap="2">
          <svg width="34" height="8" viewBox="0 0 3.4 0.8" aria-hidden>
            <path className={`wire ${kind}`} d="M0.1 0.4H3.3" />
          </svg>
          <Text as="span">{text}</Text>
        </Flex>
      ))}
    </Flex>
  );
}
