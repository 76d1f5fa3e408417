import { Box, Button, Text } from "@chakra-ui/react";
import type { Circuit, PlayedRole } from "../circuit/types";
import { edit } from "../job/document";

/** What buttons are there for by what they do, where the drawing does not say: to be said with one click. */
export function Roles({ roles, circuit }: { roles: readonly PlayedRole[]; circuit: Circuit }) {
  const known = roles.filter(({ device }) => circuit.devices.some(({ id }) => id === device));
  if (known.length === 0) return null;
  return (
    <Box as="section" aria-label="What buttons do" mb="3" fontSize="line" lineHeight="1.4">
      <Text fontWeight="500">What buttons do</Text>
      {known.map(({ device, role, words, params }) => (
        <Box key={device} mb="1">
          <Text color="var(--soft)">{words}</Text>
          <Button size="xs" variant="outline" onClick={() => edit({ type: "setParams", device, params })}>
            Make it a {role}, {String(params.colour)}
          </Button>
        </Box>
      ))}
    </Box>
  );
}
