import { Box, Button, Flex, Text } from "@chakra-ui/react";
import { TriangleAlert } from "lucide-react";
import type { ReactNode } from "react";
import type { Problem } from "../api/client";

/** The one way in which the screen tells that something is wrong. */
export function Notice(props: {
  title: string;
  children?: ReactNode;
  actions?: ReactNode;
  polite?: boolean;
}) {
  return (
    <Flex
      role={props.polite ? "status" : "alert"}
      gap="3"
      align="center"
      bg="var(--warn-wash)"
      borderLeft="4px solid var(--warn)"
      px="4"
      py="2"
      fontSize="body"
    >
      <Box color="var(--warn)" flexShrink={0}>
        <TriangleAlert size={18} aria-hidden />
      </Box>
      <Box flex="1" minW="0">
        <Text as="span" fontWeight="600">
          {props.title}
        </Text>{" "}
        {props.children}
      </Box>
      {props.actions}
    </Flex>
  );
}

export function ProblemNotice(props: {
  problem: Problem;
  onRetry?: () => void;
  more?: string;
  actions?: ReactNode;
}) {
  const { problem } = props;
  const told = problem.problems.map((item) => item.message).filter((message) => message !== problem.detail);
  return (
    <Notice
      title={`${problem.title}.`}
      actions={
        <>
          {props.actions}
          {props.onRetry && (
            <Button size="xs" variant="outline" onClick={props.onRetry}>
              Try again
            </Button>
          )}
        </>
      }
    >
      {problem.detail} {told.slice(0, 3).join(" ")} {props.more}
    </Notice>
  );
}
