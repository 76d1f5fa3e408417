import { Button, Flex, NativeSelect } from "@chakra-ui/react";
import { useEffect, useState } from "react";
import { api, asProblem } from "../../api/client";
import type { Schemas } from "../../api/types";
import type { Circuit } from "../../circuit/types";
import { edit } from "../../job/document";
import type { Views } from "../stage";
import { Exports } from "./Exports";
import { change, resolve, useSizing } from "./sizing";

/** Where practitioners differ, what each way gives, and what goes into the circuit. */
export function Choices({ circuit }: Views) {
  const form = useSizing((state) => state.form);
  const answer = useSizing((state) => state.answer);
  if (!form || !answer) return <Trouble />;
  return (
    <section className="size-choices" aria-label="Practice and circuit">
      <Trouble />
      <h2>Where practitioners differ</h2>
      {form.questions.map((question) => (
        <Question key={question.name} question={question} answer={answer} />
      ))}
      <IntoCircuit circuit={circuit} complete={answer.lines.length > 0} />
      <Exports title={circuit.title} />
    </section>
  );
}

function Trouble() {
  const problem = useSizing((state) => state.saveProblem ?? state.problem);
  const moved = useSizing((state) => state.save === "conflict");
  if (!problem) return null;
  return (
    <div className="size-trouble" role="alert">
      <strong>{problem.title}</strong>
      <p>{problem.detail}</p>
      {moved && (
        <Flex gap="2">
          <Button size="xs" variant="outline" onClick={() => void resolve(true)}>
            Keep mine
          </Button>
          <Button size="xs" variant="outline" onClick={() => void resolve(false)}>
            Take theirs
          </Button>
        </Flex>
      )}
    </div>
  );
}

interface QuestionProps {
  readonly question: Schemas["QuestionData"];
  readonly answer: Schemas["SizingAnswer"];
}

function Question({ question, answer }: QuestionProps) {
  const chosen = answer.schools[question.name] ?? "";
  const beside = answer.beside.filter((one) => one.question === question.name);
  const reason = question.rules.find(({ name }) => name === chosen)?.reason;
  return (
    <div className="size-question">
      <p aria-hidden>{question.title}</p>
      <NativeSelect.Root size="xs">
        <NativeSelect.Field
          aria-label={question.title}
          value={chosen}
          onChange={(event) =>
            change({
              schools: { ...useSizing.getState().data.schools, [question.name]: event.target.value },
            })
          }
        >
          {question.rules.map(({ name, title }) => (
            <option key={name} value={name}>
              {title}
            </option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
      {beside.length === 0 && <small>{reason}</small>}
      {beside.length > 0 && (
        <details>
          <summary>What each gives</summary>
          <small>{reason}</small>
          <ul>
            {beside.map((one) => (
              <li key={one.name} className={one.name === chosen ? "chosen" : ""}>
                <strong>{one.title}</strong>: {one.result}
                <span>{one.means}</span>
              </li>
            ))}
          </ul>
        </details>
      )}
    </div>
  );
}

type Proposal = Schemas["ProposalData"];

/** What the circuit has otherwise, and of which sheet and circuit that was said. */
interface Told {
  readonly answer: Schemas["Proposals"];
  readonly data: Schemas["SizingData-Output"] | null;
  readonly circuit: Circuit | null;
}

const NOTHING: Told = {
  answer: { proposals: [], left_out: [], coil_sealed_va: 0, coil_inrush_va: 0, motors: [] },
  data: null,
  circuit: null,
};

/** What the circuit has otherwise, to be taken over in one step that can be undone. */
function IntoCircuit({ circuit, complete }: { circuit: Circuit; complete: boolean }) {
  const data = useSizing((state) => state.data);
  const [told, setTold] = useState<Told>(NOTHING);
  const [touched, setTouched] = useState<ReadonlySet<string>>(new Set());
  const [problem, setProblem] = useState("");
  useEffect(() => {
    let mine = true;
    const timer = setTimeout(() => {
      api
        .carrySizing(data, circuit)
        .then((answer) => {
          if (!mine) return;
          setTold({ answer, data, circuit });
          setProblem("");
        })
        .catch((error: unknown) => mine && setProblem(asProblem(error).detail));
    }, 250);
    return () => {
      mine = false;
      clearTimeout(timer);
    };
  }, [data, circuit]);
  // What is larger than needed stays as it is, unless somebody wants it.
  const takes = (one: Proposal): boolean => one.larger === touched.has(keyOf(one));
  const { proposals: found, left_out } = told.answer;
  const chosen = found.filter(takes);
  // While what is told is of an earlier sheet or circuit, it is shown but not taken.
  const late = told.data !== data || told.circuit !== circuit;
  const coils = [told.answer.coil_sealed_va, told.answer.coil_inrush_va] as const;
  const plates = told.answer.motors.map(({ label, fields }) => (
    <Button key={label} size="xs" variant="outline" onClick={() => fillPlate(fields)}>
      Fill in the plate of {label}
    </Button>
  ));
  if (!complete) return <>{plates}</>;
  return (
    <>
      <h2>Differences from the circuit</h2>
      {plates}
      {problem && <p className="caution">{problem}</p>}
      {left_out.map((why) => (
        <p key={why} className="caution">
          {why}
        </p>
      ))}
      {found.length + left_out.length === 0 && !problem && <p>Nothing: circuit and sheet agree.</p>}
      <ul className="size-proposals" aria-label="Differences from the circuit">
        {found.map((one) => (
          <li key={keyOf(one)}>
            <label>
              <input
                type="checkbox"
                checked={takes(one)}
                onChange={() => {
                  const next = new Set(touched);
                  if (!next.delete(keyOf(one))) next.add(keyOf(one));
                  setTouched(next);
                }}
              />
              {one.words}
              {one.larger && " (larger than needed, which does no harm)"}
            </label>
          </li>
        ))}
      </ul>
      {coils[0] > 0 && (
        <Button size="xs" variant="outline" onClick={() => fillCoils(coils)}>
          Coils: {coils[0]} VA sealed, {coils[1]} VA inrush
        </Button>
      )}
      {found.length > 0 && (
        <Button
          size="sm"
          colorPalette="accent"
          disabled={late || chosen.length === 0}
          onClick={() => edit({ type: "replace", circuit: changed(circuit, chosen) })}
        >
          Take {chosen.length} over
        </Button>
      )}
    </>
  );
}

/** What the circuit's coils take goes into the form, for the control transformer. */
const fillCoils = ([sealed, inrush]: readonly [number, number]): void =>
  change({
    fields: { ...useSizing.getState().data.fields, coil_sealed: `${sealed} VA`, coil_inrush: `${inrush} VA` },
  });

/** What a motor of the circuit says of itself goes into the form; what it does not say stays. */
const fillPlate = (fields: Readonly<Record<string, string>>): void =>
  change({ fields: { ...useSizing.getState().data.fields, ...fields } });

const keyOf = (one: Proposal): string => `${one.device ?? one.conductor}/${one.name}`;

/** The circuit with these figures of the sheet. */
function changed(circuit: Circuit, chosen: readonly Proposal[]): Circuit {
  const of = (where: "device" | "conductor", id: string) =>
    Object.fromEntries(chosen.filter((one) => one[where] === id).map((one) => [one.name, one.then]));
  return {
    ...circuit,
    devices: circuit.devices.map((device) => ({
      ...device,
      params: { ...device.params, ...of("device", device.id) },
    })),
    conductors: circuit.conductors.map((wire) => ({ ...wire, ...of("conductor", wire.id) })),
  };
}
