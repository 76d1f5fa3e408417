import { Box, Button, Heading, Stack, Text } from "@chakra-ui/react";
import type { Catalogue } from "../../circuit/catalogue";
import { findNets } from "../../circuit/nets";
import { type Circuit, type Conductor, shownSheets } from "../../circuit/types";
import type { Edit } from "../../edits/edits";
import { edit } from "../../job/document";
import { selectedParts, useView } from "../../sheet/view";
import { DeviceForm } from "./DeviceForm";
import { NumberField, TextField } from "./fields";
import { deleteSelection } from "./gestures";
import { SelectionForm } from "./SelectionForm";
import { SheetList } from "./SheetList";

/** What is selected, with everything about it that can be changed. */
export function Inspector({ circuit, catalogue }: { circuit: Circuit; catalogue: Catalogue }) {
  const selection = useView((view) => view.selection);
  const parts = selectedParts(selection);
  const [first] = parts;
  const device = parts.length === 1 ? circuit.devices.find((d) => d.id === first?.device) : undefined;
  const wire =
    selection?.kind === "wire" ? circuit.conductors.find((c) => c.id === selection.conductor) : undefined;
  return (
    <Stack as="section" aria-label="Properties" gap="3" p="3">
      {device && <DeviceForm key={device.id} device={device} circuit={circuit} catalogue={catalogue} />}
      {parts.length > 1 && <SelectionForm parts={parts} circuit={circuit} catalogue={catalogue} />}
      {wire && <WireForm key={wire.id} wire={wire} circuit={circuit} catalogue={catalogue} />}
      {parts.length === 0 && !wire && <Advice circuit={circuit} />}
    </Stack>
  );
}

function Advice({ circuit }: { circuit: Circuit }) {
  return (
    <Box color="var(--soft)" fontSize="body" lineHeight="1.5">
      <Heading as="h2" fontSize="head" fontWeight="600" color="var(--ink)" mb="2">
        {circuit.devices.length === 0 ? "An empty sheet" : "Nothing selected"}
      </Heading>
      {circuit.devices.length === 0 && (
        <Text mb="2">
          Begin with the supply on the power sheet; the control sheet takes its feed from there. Or type
          “pattern” into Find or place for a whole circuit to start from.
        </Text>
      )}
      <Text mb="2">
        Choose a part and click an empty place, a wire (it goes in series) or a part (in parallel).
      </Text>
      <Text mb="2">Click one terminal and then another to join them, on the same sheet or on the other.</Text>
      <Text>
        Draw a box around parts, or shift-click them, to do something with several; two parts can be joined,
        interlocked or sealed in one step.
      </Text>
      <SheetList circuit={circuit} />
    </Box>
  );
}

function WireForm(props: { wire: Conductor; circuit: Circuit; catalogue: Catalogue }) {
  const { wire, circuit, catalogue } = props;
  const net = findNets(circuit).find((n) => n.conductors.includes(wire));
  const name = catalogue.designations(circuit);
  const set = (values: Extract<Edit, { type: "setConductor" }>["values"]): boolean =>
    edit({ type: "setConductor", conductor: wire.id, values });
  return (
    <>
      <Heading as="h2" fontSize="head" fontWeight="600">
        Wire {net?.number}
      </Heading>
      <Text fontSize="body">
        {name(wire.a)} to {name(wire.b)}
      </Text>
      <TextField
        label="Number"
        value={wire.number ?? ""}
        onChange={(text) => set({ number: text.trim().slice(0, 24) || null })}
      />
      <NumberField
        label="Cross-section"
        unit="mm²"
        value={wire.cross_section_mm2}
        onChange={(value) => set({ cross_section_mm2: value })}
      />
      <NumberField
        label="Length"
        unit="m"
        value={wire.length_m}
        onChange={(value) => set({ length_m: value })}
      />
      {shownSheets(circuit).some((sheet) => wire.id in sheet.routes) && (
        <Button size="sm" variant="outline" onClick={() => letRun(circuit, wire)}>
          Let the sheet lay this wire
        </Button>
      )}
      <Button size="sm" variant="outline" onClick={deleteSelection}>
        Delete this wire
      </Button>
    </>
  );
}

function letRun(circuit: Circuit, wire: Conductor): void {
  const sheet = shownSheets(circuit).find(({ routes }) => wire.id in routes);
  if (sheet) edit({ type: "pull", sheet: sheet.id, routes: { [wire.id]: [] } });
}
