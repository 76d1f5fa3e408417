import { Button, HStack } from "@chakra-ui/react";
import { show } from "./conventions";
import { useDocument } from "./document";

const CONVENTIONS = [
  ["iec", "IEC", "IEC: current paths from above to below"],
  ["nema", "NEMA", "North American: ladder with rungs from left to right"],
] as const;

/** One switch redraws the same circuit in the other convention. */
export function ConventionSwitch() {
  const convention = useDocument((document) => document.circuit.convention);
  return (
    <HStack gap="0" role="group" aria-label="Drawing convention">
      {CONVENTIONS.map(([name, title, words]) => (
        <Button
          key={name}
          size="sm"
          px="2"
          variant={convention === name ? "subtle" : "ghost"}
          aria-pressed={convention === name}
          title={words}
          onClick={() => void show(name)}
        >
          {title}
        </Button>
      ))}
    </HStack>
  );
}
