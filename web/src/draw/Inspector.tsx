import { Box, Button, Heading, NativeSelect, Stack, Text } from "@chakra-ui/react";
import { memo } from "react";
import { fits } from "../circuit/another";
import type { Catalogue } from "../circuit/catalogue";
import { blockWith, coilPart, spareParts } from "../circuit/commands";
import type { Edit } from "../circuit/edits";
import { findNets } from "../circuit/nets";
import {
  type Circuit,
  type Conductor,
  type Device,
  type Param,
  type ParamValue,
  shownSheets,
} from "../circuit/types";
import { edit } from "../job/document";
import { selectedParts, setView, type Tool, useView } from "../job/view";
import { partKey } from "../sheet/placed";
import { AddMore } from "./AddMore";
import { Labelled, NumberField, ParamField, TextField } from "./fields";
import { deleteSelection, whatGoes } from "./gestures";
import { PartIcon } from "./Palette";
import { SelectionForm } from "./SelectionForm";
import { SheetChoice } from "./SheetChoice";
import { SheetList } from "./SheetList";
import { toolsOf } from "./tools";

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
    <Box color="var(--soft)" fontSize="14px" lineHeight="1.5">
      <Heading as="h2" fontSize="15px" fontWeight="600" color="var(--ink)" mb="2">
        {circuit.devices.length === 0 ? "An empty sheet" : "Nothing selected"}
      </Heading>
      {circuit.devices.length === 0 && (
        <Text mb="2">
          Begin with the supply on the power sheet; the control sheet takes its feed from there.
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

function DeviceForm({
  device,
  circuit,
  catalogue,
}: {
  device: Device;
  circuit: Circuit;
  catalogue: Catalogue;
}) {
  const kind = catalogue.kind(device.kind);
  const params = catalogue.params(device);
  const placed = new Set(shownSheets(circuit).flatMap((sheet) => sheet.symbols.map(partKey)));
  const waiting = catalogue
    .parts(device)
    .filter((part) => !placed.has(partKey({ device: device.id, part: part.name })));
  return (
    <>
      <Heading as="h2" fontSize="15px" fontWeight="600">
        {device.label}, {kind?.title.toLowerCase()}
      </Heading>
      <TextField
        label="Designation"
        value={device.label}
        onChange={(label) => edit({ type: "rename", device: device.id, label })}
      />
      <TextField
        label="What it does"
        value={device.function}
        onChange={(text) => edit({ type: "describe", device: device.id, text })}
      />
      <AddMore />
      <KindChoice device={device} circuit={circuit} catalogue={catalogue} />
      <SheetChoice parts={selectedParts(useView.getState().selection)} circuit={circuit} />
      {waiting.length > 0 && (
        <Box>
          <Text fontSize="13px" fontWeight="500" mb="1">
            Not on a sheet yet
          </Text>
          <div className="palette">
            {waiting.map((part) => (
              <button
                key={part.name}
                type="button"
                className="tool"
                onClick={() => {
                  const title = `${device.label} ${part.title}`;
                  setView({ tool: { title, kind: device.kind, part: part.name, params, device: device.id } });
                  document.querySelector<SVGSVGElement>(".board")?.focus({ preventScroll: true });
                }}
              >
                <PartIcon catalogue={catalogue} kind={device.kind} part={part.name} params={params} />
                {part.title}
              </button>
            ))}
          </div>
        </Box>
      )}
      <BlockOffer device={device} circuit={circuit} catalogue={catalogue} />
      {kind?.params.map((param) => (
        <DeviceParam
          key={param.name}
          device={device.id}
          param={param}
          value={params[param.name] ?? param.default}
        />
      ))}
      <Button size="sm" variant="outline" onClick={deleteSelection}>
        Delete {whatGoes()} and its wires
      </Button>
    </>
  );
}

/** One value of a device; drawn anew only when that value changes. */
const DeviceParam = memo(function DeviceParam(props: { device: string; param: Param; value: ParamValue }) {
  const { device, param, value } = props;
  return (
    <ParamField
      param={param}
      value={value}
      onChange={(to) => edit({ type: "setParam", device, name: param.name, value: to })}
    />
  );
});

/** What else could stand behind the symbol: another kind, or normally open in place of closed. */
function KindChoice(props: { device: Device; circuit: Circuit; catalogue: Catalogue }) {
  const { device, circuit, catalogue } = props;
  const group = catalogue.kind(device.kind)?.group;
  const tools = catalogue.kinds
    .filter((kind) => kind.group === group)
    .flatMap(toolsOf)
    .map((tool) => ({ tool, asked: { device: device.id, kind: tool.kind, params: tool.params ?? {} } }))
    .filter(({ tool, asked }) => isSame(device, tool, catalogue) || fits(circuit, asked, catalogue));
  const now = tools.find(({ tool }) => isSame(device, tool, catalogue));
  if (!now || tools.length < 2) return null;
  return (
    <Labelled label="Kind">
      <NativeSelect.Root size="sm">
        <NativeSelect.Field
          value={now.tool.title}
          onChange={(event) => {
            const chosen = tools.find(({ tool }) => tool.title === event.target.value);
            if (chosen) edit({ type: "changeKind", ...chosen.asked });
          }}
        >
          {tools.map(({ tool }) => (
            <option key={tool.title}>{tool.title}</option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
    </Labelled>
  );
}

function isSame(device: Device, tool: Tool, catalogue: Catalogue): boolean {
  const params = catalogue.params(device);
  return (
    device.kind === tool.kind &&
    Object.entries(tool.params ?? {}).every(([name, value]) => params[name] === value)
  );
}

/** A contactor without a contact left says so, and how it would get one. */
function BlockOffer(props: { device: Device; circuit: Circuit; catalogue: Catalogue }) {
  const { device, circuit, catalogue } = props;
  if (!coilPart(device, catalogue)) return null;
  const spare = new Set(spareParts(circuit, device, catalogue).map((part) => part.symbol));
  const missing = (["contact_no", "contact_nc"] as const).filter((symbol) => !spare.has(symbol));
  const words = missing.map((symbol) => (symbol === "contact_no" ? "normally open" : "normally closed"));
  const offers = new Map(
    missing.flatMap((symbol) => {
      const offer = blockWith(circuit, device, symbol, catalogue);
      return offer ? [[offer.value, offer] as const] : [];
    }),
  );
  if (offers.size === 0) return null;
  return (
    <Box fontSize="13px">
      <Text mb="1">No {words.join(" or ")} contact is left.</Text>
      {[...offers.values()].map(({ param, value }) => (
        <Button
          key={value}
          size="xs"
          variant="outline"
          mr="1"
          onClick={() => edit({ type: "setParam", device: device.id, name: param, value })}
        >
          Add block {value}
        </Button>
      ))}
    </Box>
  );
}

function WireForm(props: { wire: Conductor; circuit: Circuit; catalogue: Catalogue }) {
  const { wire, circuit, catalogue } = props;
  const net = findNets(circuit).find((n) => n.conductors.includes(wire));
  const name = catalogue.clamps(circuit);
  const set = (values: Extract<Edit, { type: "setConductor" }>["values"]): boolean =>
    edit({ type: "setConductor", conductor: wire.id, values });
  return (
    <>
      <Heading as="h2" fontSize="15px" fontWeight="600">
        Wire {net?.number}
      </Heading>
      <Text fontSize="14px">
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
