import { Box, Button, Heading, NativeSelect, Stack, Text } from "@chakra-ui/react";
import { memo } from "react";
import type { Catalogue } from "../../circuit/catalogue";
import { restName } from "../../circuit/purpose";
import { type Circuit, type Device, type Param, type ParamValue, shownSheets } from "../../circuit/types";
import { fits } from "../../edits/another";
import { blockWith, coilPart, contactsLeft } from "../../edits/commands";
import { edit, useDocument } from "../../job/document";
import { partKey } from "../../sheet/placed";
import { choosePart, selectedParts, setView, type Tool, useView } from "../../sheet/view";
import { AddMore } from "./AddMore";
import { Labelled, ParamField, TextField } from "./fields";
import { deleteSelection, whatGoes } from "./gestures";
import { PartIcon } from "./Palette";
import { SheetChoice } from "./SheetChoice";
import { toolsOf } from "./tools";

/** One device with everything about it that can be changed. */
export function DeviceForm({
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
  const part = selectedParts(useView((view) => view.selection))[0]?.part ?? "";
  const placed = new Set(shownSheets(circuit).flatMap((sheet) => sheet.symbols.map(partKey)));
  const waiting = catalogue
    .parts(device)
    .filter((part) => !placed.has(partKey({ device: device.id, part: part.name })));
  const [first, more] = atHand(kind?.params ?? []);
  const field = (param: Param) => (
    <DeviceParam
      key={param.name}
      device={device.id}
      param={param}
      value={params[param.name] ?? param.default}
    />
  );
  return (
    <>
      <Heading as="h2" fontSize="head" fontWeight="600">
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
      <KindChoice device={device} part={part} circuit={circuit} catalogue={catalogue} />
      <SheetChoice parts={selectedParts(useView.getState().selection)} circuit={circuit} />
      <Place device={device} catalogue={catalogue} />
      {waiting.length > 0 && (
        <Box>
          <Text fontSize="line" fontWeight="500" mb="1">
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
      {first.map(field)}
      {more.length > 0 && (
        <details className="more-values">
          <summary>{more.length} more values</summary>
          <Stack gap="3" mt="2">
            {more.map(field)}
          </Stack>
        </details>
      )}
      <Button size="sm" variant="outline" onClick={deleteSelection}>
        Delete {whatGoes()} and its wires
      </Button>
    </>
  );
}

/** Figures that are shown before more are asked for. */
const FIGURES = 3;

/** What is shown at once: everything that is chosen, and the first figures; the rest when asked for. */
function atHand(params: readonly Param[]): [Param[], Param[]] {
  const figures = params.filter(({ type }) => type === "number");
  const later = figures.length > FIGURES + 1 ? figures.slice(FIGURES) : [];
  return [params.filter((param) => !later.includes(param)), later];
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

const PLACES = [
  ["door", "on the door"],
  ["plate", "on the mounting plate"],
  ["field", "outside the panel"],
] as const;

/** Where the device sits. */
function Place({ device, catalogue }: { device: Device; catalogue: Catalogue }) {
  return (
    <Labelled label="Sits">
      <NativeSelect.Root size="sm">
        <NativeSelect.Field
          value={catalogue.mounting(device)}
          onChange={(event) => {
            const [chosen] = PLACES.find(([place]) => place === event.target.value) ?? [];
            if (chosen) edit({ type: "mount", device: device.id, mounting: chosen });
          }}
        >
          {PLACES.map(([place, words]) => (
            <option key={place} value={place}>
              {words}
            </option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
    </Labelled>
  );
}

/** What else could stand behind the symbol: another kind, or normally open in place of closed. */
function KindChoice(props: { device: Device; part: string; circuit: Circuit; catalogue: Catalogue }) {
  const { device, part, circuit, catalogue } = props;
  const group = catalogue.kind(device.kind)?.group;
  const tools = catalogue.kinds
    .filter((kind) => kind.group === group)
    .flatMap(toolsOf)
    .map((tool) => {
      const asked = {
        device: device.id,
        kind: tool.kind,
        params: tool.params ?? {},
        of: part,
        part: tool.part,
      };
      return { tool, asked, same: isSame(device, part, tool, catalogue) };
    })
    .filter(({ same, asked }) => same || fits(circuit, asked, catalogue));
  const now = tools.find(({ same }) => same);
  if (!now || tools.length < 2) return null;
  return (
    <Labelled label="Kind">
      <NativeSelect.Root size="sm">
        <NativeSelect.Field
          value={now.tool.title}
          onChange={(event) => {
            const chosen = tools.find(({ tool }) => tool.title === event.target.value);
            if (chosen && edit({ type: "changeKind", ...chosen.asked }))
              choosePart({ device: device.id, part: standing(device.id, chosen.tool.part) }, false);
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

/** The part of a device that stands on a sheet: this one, or another when it does not. */
function standing(device: string, part: string): string {
  const symbols = shownSheets(useDocument.getState().circuit).flatMap((sheet) => sheet.symbols);
  const own = symbols.filter((symbol) => symbol.device === device);
  return (own.find((symbol) => symbol.part === part) ?? own[0])?.part ?? part;
}

/** Is the part of the device what the tool would put down? */
function isSame(device: Device, part: string, tool: Tool, catalogue: Catalogue): boolean {
  const params = catalogue.params(device);
  const kind = catalogue.kind(tool.kind);
  const only = kind !== undefined && toolsOf(kind).length === 1;
  return (
    device.kind === tool.kind &&
    (only || tool.part === part || Object.keys(tool.params ?? {}).length > 0) &&
    Object.entries(tool.params ?? {}).every(([name, value]) => params[name] === value)
  );
}

/** A contactor without a contact left says so, and how it would get one. */
function BlockOffer(props: { device: Device; circuit: Circuit; catalogue: Catalogue }) {
  const { device, circuit, catalogue } = props;
  if (!coilPart(device, catalogue)) return null;
  const missing = [false, true].filter(
    (closed) => contactsLeft(circuit, device, closed, catalogue).length === 0,
  );
  const words = missing.map(restName);
  const offers = new Map(
    missing.flatMap((closed) => {
      const offer = blockWith(circuit, device, closed, catalogue);
      return offer ? [[offer.value, offer] as const] : [];
    }),
  );
  if (offers.size === 0) return null;
  return (
    <Box fontSize="line">
      <Text mb="1">No {words.join(" or ")} contact is left.</Text>
      {[...offers.values()].map(({ param, value }) => (
        <Button
          key={value}
          size="xs"
          variant="outline"
          mr="1"
          onClick={() => edit({ type: "setParam", device: device.id, name: param, value })}
        >
          Add block {catalogue.titleOf(device.kind, param, value)}
        </Button>
      ))}
    </Box>
  );
}
