import { Input, NativeSelect, Switch, Text, Textarea } from "@chakra-ui/react";
import { type ChangeEvent, type KeyboardEvent, useEffect, useState } from "react";
import type { Param, ParamValue } from "../../circuit/types";

export function ParamField(props: {
  param: Param;
  value: ParamValue;
  onChange: (value: ParamValue) => boolean;
}) {
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
              {param.titles[String(choice)] ?? choice}
            </option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
    </Labelled>
  );
}

export function NumberField(props: {
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
export function TextField(props: {
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

export function Labelled(props: { label: string; help?: string | undefined; children: React.ReactNode }) {
  return (
    // biome-ignore lint/a11y/noLabelWithoutControl: the control is the child
    <label>
      <Text fontSize="line" fontWeight="500" mb="1">
        {props.label}
      </Text>
      {props.children}
      {props.help && (
        <Text fontSize="note" color="var(--soft)">
          {props.help}
        </Text>
      )}
    </label>
  );
}
