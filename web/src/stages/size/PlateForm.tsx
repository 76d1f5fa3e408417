import { Input, NativeSelect } from "@chakra-ui/react";
import { useState } from "react";
import { type Form, fill, useSizing } from "./sizing";

/** The nameplate as it is read, then the supply, the start, and what was measured. */
const PARTS: readonly (readonly [string, readonly string[]])[] = [
  ["Supply", ["supply_voltage", "phases", "fault_current", "transformer_kva"]],
  [
    "Cable",
    ["length", "area", "sets", "material", "insulation", "conductor_c", "terminals_c", "laying", "circuits"],
  ],
  [
    "Start and control",
    [
      ...["start", "tap", "start_limit", "low_power", "low_current", "rotor_voltage", "rotor_current"],
      ...["start_time", "inertia", "starts", "dial", "coil_sealed", "coil_inrush"],
    ],
  ],
  ["Measured voltages", ["v12", "v23", "v31"]],
];
const PLATE: readonly (readonly string[])[] = [
  ["power", "speed"],
  ["voltage", "connection"],
  ["current", "frequency"],
  ["power_factor", "efficiency"],
  ["locked_ratio", "code_letter"],
  ["service_factor", "duty"],
  ["ambient"],
];
/** What stands on a plate beside its figures. */
const SHORT: Readonly<Record<string, string>> = {
  power: "kW or hp",
  speed: "rpm",
  voltage: "V",
  connection: "Δ or Y",
  current: "A",
  frequency: "Hz",
  power_factor: "cos φ",
  efficiency: "η %",
  locked_ratio: "I start / I",
  code_letter: "Code",
  service_factor: "SF",
  duty: "Duty",
  ambient: "Ambient °C",
};

export function PlateForm() {
  const form = useSizing((state) => (state.ready ? state.form : null));
  if (!form) return null;
  return (
    <section className="size-form" aria-label="Nameplate and supply">
      <div className="nameplate" role="group" aria-label="Nameplate">
        <i aria-hidden />
        <p>
          3 ~ <strong>Motor</strong>
        </p>
        {PLATE.map((row) => (
          <div key={row[0]} className="nameplate-row">
            {row.map((name) => (
              <OneField key={name} form={form} name={name} short />
            ))}
          </div>
        ))}
        <i aria-hidden />
      </div>
      {PARTS.map(([title, names]) => (
        <fieldset key={title}>
          <legend>{title}</legend>
          {names.map((name) => (
            <OneField key={name} form={form} name={name} />
          ))}
        </fieldset>
      ))}
    </section>
  );
}

function OneField({ form, name, short }: { form: Form; name: string; short?: boolean }) {
  const field = form.fields.find((one) => one.name === name);
  const value = useSizing((state) => state.data.fields[name] ?? "");
  const [left, setLeft] = useState(false);
  const found = useSizing((state) => state.answer?.troubles.find((one) => one.field === name));
  // That a field is needed is told to whoever came by and left it empty.
  const trouble = found?.missing && !left ? undefined : found;
  const estimate = useSizing((state) => state.answer?.estimates[name]);
  const start = useSizing((state) => state.data.fields.start || "direct");
  const sizes = useSizing((state) => state.answer?.schools.sizes ?? "iec");
  if (!field || (field.only_for.length > 0 && !field.only_for.some((one) => one === start || one === sizes)))
    return null;
  const words = field.words.length > 0;
  const told = `${name}-told`;
  return (
    <div className={`size-field${trouble?.error ? " wrong" : trouble ? " doubt" : ""}`}>
      <span aria-hidden>{short ? SHORT[name] : `${field.title}${field.unit ? `, ${field.unit}` : ""}`}</span>
      {words ? (
        <NativeSelect.Root size="xs">
          <NativeSelect.Field
            aria-label={field.title}
            value={value}
            onChange={(event) => fill(name, event.target.value)}
          >
            <option value="">{short ? "–" : "not said"}</option>
            {field.words.map((word, at) => (
              <option key={word} value={word}>
                {field.titles[at]}
              </option>
            ))}
          </NativeSelect.Field>
          <NativeSelect.Indicator />
        </NativeSelect.Root>
      ) : (
        <Input
          size="xs"
          aria-label={field.title}
          aria-invalid={Boolean(trouble?.error)}
          aria-describedby={trouble ? told : undefined}
          placeholder={estimate ? `≈ ${estimate}` : ""}
          value={value}
          maxLength={60}
          onBlur={() => setLeft(true)}
          onChange={(event) => fill(name, event.target.value)}
        />
      )}
      {trouble && (
        <em id={told} role={trouble.error ? "alert" : undefined}>
          {trouble.message}
        </em>
      )}
    </div>
  );
}
