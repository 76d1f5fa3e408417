import { Button, Heading, Stack, Text } from "@chakra-ui/react";
import type { Catalogue } from "../../circuit/catalogue";
import type { Circuit, PartRef } from "../../circuit/types";
import { edit } from "../../job/document";
import { setView } from "../../sheet/view";
import { AddMore } from "./AddMore";
import { copySelection, deleteSelection, pasteClip, whatGoes } from "./gestures";
import { offersFor } from "./offers";
import { SheetChoice } from "./SheetChoice";

/** Several parts at once: what can be said about two of them, and what can be done with all. */
export function SelectionForm(props: { parts: readonly PartRef[]; circuit: Circuit; catalogue: Catalogue }) {
  const { parts, circuit, catalogue } = props;
  const [first, second] = parts;
  const labels = [
    ...new Set(parts.map(({ device }) => circuit.devices.find(({ id }) => id === device)?.label)),
  ];
  const offers = first && second && parts.length === 2 ? offersFor(circuit, catalogue, first, second) : [];
  return (
    <>
      <Heading as="h2" fontSize="head" fontWeight="600">
        {parts.length} parts selected
      </Heading>
      <Text fontSize="body">{labels.join(", ")}</Text>
      {offers.length > 0 && (
        <Stack gap="1" role="group" aria-label="Between these two">
          {offers.map((offer) => (
            <Button
              key={offer.title}
              size="sm"
              variant="subtle"
              justifyContent="flex-start"
              whiteSpace="normal"
              textAlign="left"
              height="auto"
              py="2"
              onClick={() => edit(offer.edit) && setView({ said: `Done: ${offer.title}` })}
            >
              {offer.title}
            </Button>
          ))}
        </Stack>
      )}
      <AddMore />
      <SheetChoice parts={parts} circuit={circuit} />
      <Stack gap="1">
        <Button size="sm" variant="outline" onClick={() => copySelection() && pasteClip()}>
          Duplicate
        </Button>
        <Button size="sm" variant="outline" onClick={copySelection}>
          Copy
        </Button>
        <Button
          size="sm"
          variant="outline"
          whiteSpace="normal"
          height="auto"
          py="2"
          onClick={deleteSelection}
        >
          Delete {whatGoes()}
        </Button>
      </Stack>
    </>
  );
}
