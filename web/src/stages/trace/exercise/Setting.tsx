import { Button, Field, Flex, Input, NativeSelect, Text } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useState } from "react";
import { api, type Fault } from "../../../api/client";
import type { components } from "../../../api/schema.gen";
import { named, wordsOf } from "../../../common/named";
import { when } from "../../../common/when";
import type { Views } from "../../stage";
import { begin, look, remove, useExercise } from "./exercise";

type Sort = components["schemas"]["Sort"];

const LEVELS = [
  ["1", "Something is open"],
  ["2", "Stuck, welded, set wrongly or shorted"],
  ["3", "A bad joint, two at once, or one that comes and goes"],
] as const;
const SORTS: Readonly<Record<Sort, string>> = {
  open: "open: a wire, a joint, an element",
  stuck: "stuck, welded, or the wrong contact",
  setting: "set wrongly",
  short: "shorted",
  joint: "a bad joint, with its ohms",
  two: "two at once",
  comes_and_goes: "comes and goes",
};

/** Hide a fault: drawn by chance, or under a number that an instructor gives out, or chosen by him. */
export function Setting({ circuit }: Views) {
  const sequence = useExercise((state) => state.sequence);
  const busy = useExercise((state) => state.busy);
  const [chosen, setChosen] = useState(false);
  const [level, setLevel] = useState("1");
  const [sort, setSort] = useState("");
  const [written, setWritten] = useState("");
  const [who, setWho] = useState("");
  const [faults, setFaults] = useState<readonly Fault[]>([]);
  const [weights, setWeights] = useState<Readonly<Record<string, number>>>({});
  const number = written.trim() === "" ? null : Number(written);
  const wrong = number !== null && !/^[1-9]\d{0,8}$/.test(written.trim());
  const hide = (): void => {
    const how = { level: Number(level), sorts: sort ? [sort as never] : [] };
    const hidden = chosen ? { number: null, faults: [...faults] } : { number, faults: [] };
    void begin({ circuit, sequence, who, weights, ...how, ...hidden });
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
          <Choose
            title="Kind"
            value={sort}
            all={[["", "any of these"], ...Object.entries(SORTS)]}
            onChange={setSort}
          />
          <Field.Root invalid={wrong}>
            <Field.Label fontSize="note">Number, where the instructor gave one to all</Field.Label>
            <Input
              size="sm"
              value={written}
              inputMode="numeric"
              maxLength={9}
              placeholder="none: drawn by chance"
              onChange={(event) => setWritten(event.target.value)}
            />
            <Field.HelperText fontSize="note">
              The same number and kind hide the same fault for everybody. What it was is told when the number
              is closed.
            </Field.HelperText>
            <Field.ErrorText>A whole number from 1, of at most nine digits.</Field.ErrorText>
          </Field.Root>
        </>
      )}
      <Field.Root>
        <Field.Label fontSize="note">Who looks for it</Field.Label>
        <Input size="sm" value={who} maxLength={100} onChange={(event) => setWho(event.target.value)} />
      </Field.Root>
      <Marking weights={weights} onChange={setWeights} />
      <Button
        type="submit"
        colorPalette="accent"
        loading={busy}
        disabled={chosen ? faults.length === 0 : wrong}
      >
        Hide it and begin
      </Button>
      <Earlier />
    </form>
  );
}

/** What costs points, and why; an instructor changes what he weighs otherwise, and the review says so. */
function Marking(props: {
  readonly weights: Readonly<Record<string, number>>;
  readonly onChange: (weights: Readonly<Record<string, number>>) => void;
}) {
  const rule = useExercise((state) => state.rule);
  const changed = rule.filter(({ code, points }) => (props.weights[code] ?? points) !== points).length;
  return (
    <details className="exercise-marking">
      <summary>How it is marked{changed > 0 && `: ${changed} changed`}</summary>
      <Text fontSize="note" color="var(--soft)">
        Points of 100 that each costs. What is changed here is told in the review.
      </Text>
      <ul>
        {rule.map(({ code, title, points, least, why }) => (
          <li key={code}>
            <label>
              {title}
              <input
                type="number"
                min={least}
                max={100}
                step={1}
                value={props.weights[code] ?? points}
                onChange={(event) => {
                  const value = Math.round(Number(event.target.value));
                  props.onChange({ ...props.weights, [code]: Math.min(100, Math.max(least, value || 0)) });
                }}
              />
            </label>
            <span>{why}</span>
          </li>
        ))}
      </ul>
    </details>
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
  const words = wordsOf(text);
  const found = words.length ? named(every, words) : [];
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
          const called = `${line.who || "Exercise"} ${line.id}, ${when(line.made_at)}`;
          return (
            <li key={line.id}>
              <button
                type="button"
                disabled={!line.mine && !line.ended_at}
                onClick={() => void look(line.id)}
              >
                <strong>{called}</strong>
                <span>
                  {line.number !== null && `number ${line.number}, `}
                  {line.ended_at ? "ended" : "goes on"}
                </span>
              </button>
              {line.mine && (
                <button type="button" aria-label={`Delete ${called}`} onClick={() => void remove(line.id)}>
                  ×
                </button>
              )}
            </li>
          );
        })}
      </ul>
    </>
  );
}
