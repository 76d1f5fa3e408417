import { Box, Flex } from "@chakra-ui/react";
import { useEffect } from "react";
import { useDocument } from "../../job/document";
import { useLayout } from "../../sheet/layout";
import type { Stage } from "../../stages/stage";

/** The views of a stage around the sheets. */
export function Workbench({ stage }: { stage: Stage }) {
  const circuit = useDocument((document) => document.circuit);
  const catalogue = useDocument((document) => document.catalogue);
  const views = { circuit, catalogue, layout: useLayout(circuit, catalogue) };
  useEffect(() => stage.enter?.(circuit, catalogue), [stage, circuit, catalogue]);
  return (
    <Flex as="main" flex="1" minH="0">
      <Box
        w={{ base: "176px", xl: "208px" }}
        flexShrink={0}
        overflowY="auto"
        borderRight="1px solid var(--rule)"
        bg="var(--panel)"
      >
        <stage.left {...views} />
      </Box>
      <Flex flex="1" minW="0" direction="column">
        <stage.notice {...views} />
        <Box flex="1" minH="0" position="relative">
          <stage.middle {...views} />
        </Box>
        <Flex px="3" py="1" minH="32px" align="center" borderTop="1px solid var(--rule)" bg="var(--panel)">
          <stage.line {...views} />
        </Flex>
        <stage.below {...views} />
      </Flex>
      <Box
        w={{ base: "216px", xl: "256px" }}
        flexShrink={0}
        overflowY="auto"
        borderLeft="1px solid var(--rule)"
        bg="var(--panel)"
      >
        <stage.right {...views} />
      </Box>
    </Flex>
  );
}
