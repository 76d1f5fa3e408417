import { Button, Field, Flex, Input, NativeSelect, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Fault } from "../../../api/client";
import type { Views } from "../../stage";
import { begin, look, remove, useExercise } from "./exercise";

const LEVELS = [
  ["1", "Something is open"],
  ["2", "Stuck, welded, set wrongly or shorted"],
  ["3", "A bad joint, two at once, or one that comes and goes"],
] as const;
const SORTS = [
  ["open", "open: a wire, a joint, an element"],
  ["stuck", "stuck, welded, or the wrong contact"],
  ["setting", "set wrongly"],
  ["short", "shorted"],
  ["joint", "a bad joint, with its ohms"],
  ["two", "two at once"],
  ["comes_and_goes", "comes and goes"],
] as const;

/** Hide a fault: drawn from a number, which gives the same again, or chosen by the instructor. */
export function Setting({ circuit }: Views) {
  const sequence = useExercise((state) => state.sequence);
  const busy = useExercise((state) => state.busy);
  const [chosen, setChosen] = useState(false);
  const [level, setLevel] = useState("1");
  const [sort, setSort] = useState("");
  const [seed, setSeed] = useState(() => String(Math.floor(Math.random() * 100_000)));
  const [who, setWho] = useState("");
  const [faults, setFaults] = useState<readonly Fault[]>([]);
  const number = /^\d{1,9}$/.test(seed) ? Number(seed) : null;
  const hide = (): void => {
    const drawn = { seed: number ?? 0, level: Number(level), sorts: sort ? [sort as never] : [], faults: [] };
    void begin({ circuit, sequence, who, ...drawn, faults: chosen ? [...faults] : [] });
  };
  return (
    <form
      className="exercise-setting"
      onSubmit={(event) => {
        event.preventDefault();
        hide();
      }}
    >
      <h2>A fault to be found</h2>
      <Flex gap="2" role="group" aria-label="Who hides it">
        <Button
          size="sm"
          colorPalette="accent"
          variant={chosen ? "outline" : "solid"}
          aria-pressed={!chosen}
          onClick={() => setChosen(false)}
        >
          Draw one
        </Button>
        <Button
          size="sm"
          colorPalette="accent"
          variant={chosen ? "solid" : "outline"}
          aria-pressed={chosen}
          onClick={() => setChosen(true)}
        >
          Choose one
        </Button>
      </Flex>
      {chosen ? (
        <Choice circuit={circuit} faults={faults} onChange={setFaults} />
      ) : (
        <>
          <Choose title="How hard" value={level} all={LEVELS} onChange={setLevel} />
          <Choose title="Kind" value={sort} all={[["", "any of these"], ...SORTS]} onChange={setSort} />
          <Field.Root invalid={number === null}>
            <Field.Label fontSize="note">Number: the same one gives the same fault again</Field.Label>
            <Input
              size="sm"
              value={seed}
              inputMode="numeric"
              maxLength={9}
              onChange={(event) => setSeed(event.target.value)}
            />
            <Field.ErrorText>A whole number of at most nine digits.</Field.ErrorText>
          </Field.Root>
        </>
      )}
      <Field.Root>
        <Field.Label fontSize="note">Who looks for it</Field.Label>
        <Input size="sm" value={who} maxLength={100} onChange={(event) => setWho(event.target.value)} />
      </Field.Root>
      <Button
        type="submit"
        colorPalette="accent"
        loading={busy}
        disabled={chosen ? faults.length === 0 : number === null}
      >
        Hide it and begin
      </Button>
      <Earlier />
    </form>
  );
}

function Choose(props: {
  readonly title: string;
  readonly value: string;
  readonly all: readonly (readonly [string, string])[];
  readonly onChange: (value: string) => void;
}) {
  return (
    <Field.Root>
      <Field.Label fontSize="note">{props.title}</Field.Label>
      <NativeSelect.Root size="sm">
        <NativeSelect.Field value={props.value} onChange={(event) => props.onChange(event.target.value)}>
          {props.all.map(([value, words]) => (
            <option key={value} value={value}>
              {words}
            </option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
    </Field.Root>
  );
}

const MOST = 4;

/** Up to four faults of all that the circuit can have. */
function Choice(props: {
  readonly circuit: Views["circuit"];
  readonly faults: readonly Fault[];
  readonly onChange: (faults: readonly Fault[]) => void;
}) {
  const { faults, onChange } = props;
  const every = useFaults(props.circuit);
  const words = (fault: Fault): string =>
    every.find((one) => JSON.stringify(one.fault) === JSON.stringify(fault))?.words ?? "";
  return (
    <>
      <FaultFinder circuit={props.circuit} onFind={(fault) => onChange([...faults, fault].slice(0, MOST))} />
      <ul className="exercise-chosen" aria-label="Faults that will be hidden">
        {faults.map((fault) => (
          <li key={words(fault)}>
            {words(fault)}
            <button
              type="button"
              aria-label={`Leave out ${words(fault)}`}
              onClick={() => onChange(faults.filter((one) => one !== fault))}
            >
              ×
            </button>
          </li>
        ))}
      </ul>
    </>
  );
}

/** Every single fault that the circuit can have, hidden or not. */
export function useFaults(circuit: Views["circuit"]) {
  const { data } = useQuery({
    queryKey: ["faults", circuit.devices, circuit.conductors],
    queryFn: () => api.faults(circuit, null),
  });
  return data?.faults ?? [];
}

/** Find a fault by what it is called. */
export function FaultFinder(props: {
  readonly circuit: Views["circuit"];
  readonly onFind: (fault: Fault) => void;
}) {
  const every = useFaults(props.circuit);
  const [text, setText] = useState("");
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  const found = words.length
    ? every.filter((one) => words.every((word) => one.words.toLowerCase().includes(word)))
    : [];
  return (
    <div className="fault-finder">
      <Input
        size="sm"
        aria-label="Which fault"
        placeholder="K1, coil, open, loose, welded …"
        value={text}
        onChange={(event) => setText(event.target.value)}
      />
      <ul aria-label="Faults of this name">
        {found.slice(0, 8).map((one) => (
          <li key={one.words}>
            <button
              type="button"
              onClick={() => {
                props.onFind(one.fault);
                setText("");
              }}
            >
              {one.words}
            </button>
          </li>
        ))}
      </ul>
      {words.length > 0 && found.length === 0 && (
        <Text fontSize="note">Nothing in this circuit is called so.</Text>
      )}
      {found.length > 8 && <Text fontSize="note">And {found.length - 8} more: type what they are at.</Text>}
    </div>
  );
}

function Earlier() {
  const lines = useExercise((state) => state.lines);
  if (!lines.length) return null;
  return (
    <>
      <h2>Earlier</h2>
      <ul className="exercise-earlier" aria-label="Earlier exercises">
        {lines.map((line) => {
          const called = `${line.who || "Exercise"} ${line.id}, ${new Date(line.made_at).toLocaleString()}`;
          return (
            <li key={line.id}>
              <button type="button" onClick={() => void look(line.id)}>
                <strong>{called}</strong>
                <span>{line.ended_at ? "ended" : "goes on"}</span>
              </button>
              <button type="button" aria-label={`Delete ${called}`} onClick={() => void remove(line.id)}>
                ×
              </button>
            </li>
          );
        })}
      </ul>
    </>
  );
}
