import { Box, Button, Heading, Input, NativeSelect, Stack, Switch, Text, Textarea } from "@chakra-ui/react";
import { type ChangeEvent, type KeyboardEvent, useEffect, useState } from "react";
import type { Catalogue } from "../circuit/catalogue";
import type { Edit } from "../circuit/edits";
import { findNets } from "../circuit/nets";
import type { Circuit, Conductor, Device, End, Param, ParamValue } from "../circuit/types";
import { edit } from "../job/document";
import { setView, useView } from "../job/view";
import { partKey } from "../sheet/placed";
import { deleteSelection } from "./gestures";
import { PartIcon } from "./Palette";

/** What is selected, with everything about it that can be changed. */
export function Inspector({ circuit, catalogue }: { circuit: Circuit; catalogue: Catalogue }) {
  const selection = useView((view) => view.selection);
  const device =
    selection?.kind === "part" ? circuit.devices.find((d) => d.id === selection.device) : undefined;
  const wire =
    selection?.kind === "wire" ? circuit.conductors.find((c) => c.id === selection.conductor) : undefined;
  return (
    <Stack as="section" aria-label="Properties" gap="3" p="3">
      {device && <DeviceForm key={device.id} device={device} circuit={circuit} catalogue={catalogue} />}
      {wire && <WireForm key={wire.id} wire={wire} circuit={circuit} />}
      {!device && !wire && <Advice circuit={circuit} />}
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
        By keyboard: arrows move the cursor, Enter acts, M moves a part, Delete removes, Ctrl+Z takes back.
      </Text>
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
  const placed = new Set(circuit.sheets.flatMap((sheet) => sheet.symbols.map(partKey)));
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
      {kind?.params.map((param) => (
        <ParamField
          key={param.name}
          param={param}
          value={params[param.name] ?? param.default}
          onChange={(value) => edit({ type: "setParam", device: device.id, name: param.name, value })}
        />
      ))}
      <Button size="sm" variant="outline" onClick={deleteSelection}>
        Delete {device.label} and its wires
      </Button>
    </>
  );
}

function WireForm({ wire, circuit }: { wire: Conductor; circuit: Circuit }) {
  const net = findNets(circuit).find((n) => n.conductors.includes(wire));
  const name = (end: End): string =>
    `${circuit.devices.find((d) => d.id === end.device)?.label}:${end.terminal}`;
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
      <Button size="sm" variant="outline" onClick={deleteSelection}>
        Delete this wire
      </Button>
    </>
  );
}

function ParamField(props: { param: Param; value: ParamValue; onChange: (value: ParamValue) => boolean }) {
  const { param, value } = props;
  if (param.type === "number")
    return (
      <NumberField
        label={param.title}
        unit={param.unit}
        value={Number(value)}
        help={param.help}
        onChange={props.onChange}
      />
    );
  if (param.type === "text")
    return (
      <TextField
        label={param.title}
        value={String(value)}
        help={param.help}
        lines={param.name === "program" ? 6 : 1}
        onChange={props.onChange}
      />
    );
  if (param.type === "switch")
    return (
      <Switch.Root
        colorPalette="accent"
        checked={value === true}
        onCheckedChange={({ checked }) => props.onChange(checked)}
      >
        <Switch.HiddenInput />
        <Switch.Control />
        <Switch.Label>{param.title}</Switch.Label>
      </Switch.Root>
    );
  return (
    <Labelled label={param.title}>
      <NativeSelect.Root size="sm">
        <NativeSelect.Field
          value={String(value)}
          onChange={(event) => {
            const chosen = param.choices.find((choice) => String(choice) === event.target.value);
            if (chosen !== undefined) props.onChange(chosen);
          }}
        >
          {param.choices.map((choice) => (
            <option key={choice} value={String(choice)}>
              {choice}
            </option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
    </Labelled>
  );
}

function NumberField(props: {
  label: string;
  unit: string;
  value: number;
  help?: string;
  onChange: (value: number) => boolean;
}) {
  const label = props.unit ? `${props.label}, ${props.unit}` : props.label;
  const read = (text: string): boolean => {
    const value = Number(text.replace(",", "."));
    return text.trim() !== "" && props.onChange(value);
  };
  return (
    <TextField
      label={label}
      value={String(Number(props.value.toPrecision(10)))}
      onChange={read}
      help={props.help}
    />
  );
}

/** A field that hands its text over on Enter (of one line) or when left, and keeps it when it is refused. */
function TextField(props: {
  label: string;
  value: string;
  help?: string | undefined;
  lines?: number | undefined;
  onChange: (text: string) => boolean;
}) {
  const [text, setText] = useState(props.value);
  const [bad, setBad] = useState(false);
  useEffect(() => {
    setText(props.value);
    setBad(false);
  }, [props.value]);
  const commit = (): void => setBad(text !== props.value && !props.onChange(text));
  const long = (props.lines ?? 1) > 1;
  const field = {
    size: "sm",
    value: text,
    "aria-invalid": bad,
    borderColor: bad ? "var(--warn)" : undefined,
    onChange: (event: ChangeEvent<HTMLInputElement | HTMLTextAreaElement>) => setText(event.target.value),
    onBlur: commit,
    onKeyDown: (event: KeyboardEvent) => {
      if (event.key === "Enter" && !long) commit();
      if (event.key === "Escape") setText(props.value);
    },
  } as const;
  return (
    <Labelled label={props.label} help={props.help}>
      {long ? <Textarea {...field} rows={props.lines ?? 6} fontFamily="mono" /> : <Input {...field} />}
    </Labelled>
  );
}

function Labelled(props: { label: string; help?: string | undefined; children: React.ReactNode }) {
  return (
    // biome-ignore lint/a11y/noLabelWithoutControl: the control is the child
    <label>
      <Text fontSize="13px" fontWeight="500" mb="1">
        {props.label}
      </Text>
      {props.children}
      {props.help && (
        <Text fontSize="12px" color="var(--soft)">
          {props.help}
        </Text>
      )}
    </label>
  );
}
