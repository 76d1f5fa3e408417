import { Checkbox, Flex, NativeSelect, Text } from "@chakra-ui/react";
import type { Choices } from "../../circuit/patterns";
import type { Choices as AllChoices } from "../../circuit/types";

const CONVENTIONS = { iec: "IEC", nema: "North American (NEMA)" } as const;

const WITH_STATIONS = new Set<AllChoices["pattern"]>(["start-stop", "reversing", "star-delta"]);

interface Props {
  readonly pattern: AllChoices["pattern"];
  readonly choices: Choices;
  readonly onChange: (choices: Choices) => void;
}

/** The choices that a pattern is made from. */
export function PatternChoices({ pattern, choices, onChange }: Props) {
  const set = (change: Partial<Choices>): void => onChange({ ...choices, ...change });
  return (
    <Flex as="fieldset" gap="4" wrap="wrap" align="end" mt="4">
      <Choice
        label="Drawn as"
        value={CONVENTIONS[choices.convention]}
        options={Object.values(CONVENTIONS)}
        onChange={(words) => set({ convention: words === CONVENTIONS.nema ? "nema" : "iec" })}
      />
      <Choice
        label="Supply"
        value={choices.mains}
        options={["400 V, 50 Hz", "480 V, 60 Hz"]}
        onChange={(mains) => set({ mains: mains as Choices["mains"] })}
      />
      <Choice
        label="Control voltage from"
        value={choices.control}
        options={["phase and neutral", "control transformer"]}
        onChange={(control) => set({ control: control as Choices["control"] })}
      />
      <Choice
        label="Overload contact on the"
        value={choices.overload}
        options={["line side", "neutral side"]}
        onChange={(overload) => set({ overload: overload as Choices["overload"] })}
      />
      {WITH_STATIONS.has(pattern) && (
        <Choice
          label="Stations"
          value={String(choices.stations)}
          options={["1", "2", "3", "4"]}
          onChange={(stations) => set({ stations: Number(stations) })}
        />
      )}
      <Tick label="Lamps" on={choices.lamps} onChange={(lamps) => set({ lamps })} />
      <Tick
        label="Emergency stop"
        on={choices.emergency_stop}
        onChange={(emergency_stop) => set({ emergency_stop })}
      />
      <Tick
        label="Phase monitor in the stop circuit"
        on={choices.phase_monitor}
        onChange={(phase_monitor) => set({ phase_monitor })}
      />
    </Flex>
  );
}

function Choice(props: {
  label: string;
  value: string;
  options: readonly string[];
  onChange: (value: string) => void;
}) {
  return (
    // biome-ignore lint/a11y/noLabelWithoutControl: the control is the child
    <label>
      <Text fontSize="line" fontWeight="500" mb="1">
        {props.label}
      </Text>
      <NativeSelect.Root size="sm">
        <NativeSelect.Field
          aria-label={props.label}
          value={props.value}
          onChange={(event) => props.onChange(event.target.value)}
        >
          {props.options.map((option) => (
            <option key={option} value={option}>
              {option}
            </option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
    </label>
  );
}

function Tick(props: { label: string; on: boolean; onChange: (on: boolean) => void }) {
  return (
    <Checkbox.Root
      colorPalette="accent"
      checked={props.on}
      onCheckedChange={({ checked }) => props.onChange(checked === true)}
      pb="1.5"
    >
      <Checkbox.HiddenInput />
      <Checkbox.Control />
      <Checkbox.Label>{props.label}</Checkbox.Label>
    </Checkbox.Root>
  );
}
