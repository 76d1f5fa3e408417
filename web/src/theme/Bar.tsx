import { Flex, HStack, Text } from "@chakra-ui/react";
import type { ReactNode } from "react";
import { Link } from "react-router";
import { ModeButton } from "./ModeButton";

/** The strip at the head of every screen. */
export function Bar(props: { children?: ReactNode }) {
  return (
    <Flex
      as="header"
      align="center"
      gap={{ base: "2", xl: "4" }}
      minH="48px"
      px={{ base: "2", md: "4" }}
      bg="var(--paper)"
      borderBottom="1px solid var(--rule)"
    >
      <Link to="/" aria-label="Wire Trace, all jobs">
        <HStack gap="2">
          <img src="/mark.svg" alt="" width={24} height={24} />
          <Text
            fontFamily="heading"
            fontWeight="600"
            fontSize="title"
            whiteSpace="nowrap"
            display={{ base: "none", md: props.children ? "none" : "block", xl: "block" }}
          >
            Wire Trace
          </Text>
        </HStack>
      </Link>
      <Flex
        flex="1"
        align="center"
        columnGap={{ base: "2", xl: "4" }}
        rowGap="1"
        minW="0"
        wrap={{ base: "wrap", lg: "nowrap" }}
      >
        {props.children}
      </Flex>
      <ModeButton />
    </Flex>
  );
}
