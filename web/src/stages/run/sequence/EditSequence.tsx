import { Button, HStack, Input, NativeSelect, Stack, Text } from "@chakra-ui/react";
import { useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, asProblem, sequenceOf } from "../../../api/client";
import { useTheBench } from "../../../bench/context";
import type { Circuit } from "../../../circuit/types";
import { useDocument } from "../../../job/document";
import {
  changeSteps,
  handsOfSteps,
  handWords,
  nextSave,
  type SequenceDraft,
  type Step,
  setSequences,
} from "./recording";
import { StateTable } from "./StateTable";

interface Props {
  readonly job: number;
  readonly circuit: Circuit;
  readonly draft: SequenceDraft;
}

/** One sequence: its steps, changed in place; played on the bench; its state table. */
export function EditSequence({ job, circuit, draft }: Props) {
  const queries = useQueryClient();
  const bench = useTheBench();
  const [problem, setProblem] = useState("");
  const [table, setTable] = useState(false);
  const steps = draft.steps;
  const close = (): void => setSequences({ draft: null });
  const keep = async (): Promise<void> => {
    const name = draft.name.trim() || "Operating sequence";
    try {
      const sequence = sequenceOf([...steps]);
      if (draft.id === null) await api.keepSequence(job, name, sequence);
      else await api.changeSequence(job, draft.id, nextSave(draft.basedOn), name, sequence);
      await queries.invalidateQueries({ queryKey: ["sequences", job] });
      close();
    } catch (error) {
      setProblem(asProblem(error).detail);
    }
  };
  const faulty = steps.findIndex(({ faults }) => (faults?.length ?? 0) > 0);
  const play = (): void => {
    const { hands, endUs } = handsOfSteps(faulty < 0 ? steps : steps.slice(0, faulty), circuit);
    bench.play(hands, endUs);
  };
  const change = (index: number, step: Step | null): void =>
    changeSteps(steps.flatMap((one, at) => (at === index ? (step ? [step] : []) : [one])));
  return (
    <Stack as="section" aria-label="Operating sequence" p="3" gap="2" fontSize="line">
      <Input
        size="sm"
        aria-label="Name of the sequence"
        placeholder="What it should do"
        maxLength={100}
        value={draft.name}
        onChange={(event) => setSequences({ draft: { ...draft, name: event.target.value } })}
      />
      <ol className="sequence-steps" aria-label="Steps">
        {steps.map((step, index) => (
          <StepRow
            // biome-ignore lint/suspicious/noArrayIndexKey: a step has no other name than its place
            key={index}
            circuit={circuit}
            index={index}
            step={step}
            onChange={(changed) => change(index, changed)}
          />
        ))}
      </ol>
      <AddStep circuit={circuit} onAdd={(step) => changeSteps([...steps, step])} />
      {faulty >= 0 && (
        <Text color="var(--soft)">
          From step {faulty + 1} on there are faults: the table has them, playing stops before.
        </Text>
      )}
      {problem && <p className="caution">{problem}</p>}
      <HStack wrap="wrap">
        <Button size="sm" colorPalette="accent" disabled={!steps.length} onClick={() => void keep()}>
          Keep
        </Button>
        <Button size="sm" variant="outline" disabled={!steps.length} onClick={play}>
          Play
        </Button>
        <Button size="sm" variant="outline" disabled={!steps.length} onClick={() => setTable(true)}>
          State table
        </Button>
        <Button size="sm" variant="ghost" onClick={close}>
          All sequences
        </Button>
      </HStack>
      {table && (
        <StateTable
          job={job}
          circuit={circuit}
          name={draft.name || circuit.title}
          steps={steps}
          onClose={() => setTable(false)}
        />
      )}
    </Stack>
  );
}

function StepRow(props: {
  circuit: Circuit;
  index: number;
  step: Step;
  onChange: (step: Step | null) => void;
}) {
  const { circuit, index, step, onChange } = props;
  const catalogue = useDocument((document) => document.catalogue);
  const done = (step.do ?? []).map(([label, operation, value]) => {
    const device = circuit.devices.find((one) => one.label === label)?.id ?? label;
    return handWords(circuit, catalogue, { at_us: 0, device, operation, value }).words;
  });
  return (
    <li>
      <Input
        size="xs"
        aria-label={`Words of step ${index + 1}`}
        maxLength={200}
        value={step.text}
        onChange={(event) => onChange({ ...step, text: event.target.value })}
      />
      <div className="sequence-step">
        <span>{[...done, ...(step.faults ?? []).map((one) => `fault ${one}`)].join(", ") || "wait"}</span>
        <Input
          size="xs"
          w="72px"
          type="number"
          min={0.01}
          max={3600}
          step="any"
          aria-label={`Seconds of step ${index + 1}`}
          value={step.wait_s ?? 0.5}
          onChange={(event) => {
            const wait_s = Number(event.target.value);
            if (wait_s > 0 && wait_s <= 3600) onChange({ ...step, wait_s });
          }}
        />
        <span>s</span>
        <button type="button" aria-label={`Leave out step ${index + 1}`} onClick={() => onChange(null)}>
          ×
        </button>
      </div>
    </li>
  );
}

/** One step more, without the bench: a device, what is done with it, and how. */
function AddStep({ circuit, onAdd }: { circuit: Circuit; onAdd: (step: Step) => void }) {
  const catalogue = useDocument((document) => document.catalogue);
  const [chosen, setChosen] = useState("");
  const ways = circuit.devices.flatMap((device) =>
    (catalogue.kind(device.kind)?.operations ?? []).flatMap(({ name, title, style }) => {
      const words = `${device.label} ${title.toLowerCase()}`;
      const on = { key: `${device.label}|${name}|on`, words, value: true };
      const off = { key: `${device.label}|${name}|off`, words: `${words}: off`, value: false };
      const rows =
        style === "pulse"
          ? [on]
          : style === "momentary"
            ? [on, { ...off, words: `${device.label} let go` }]
            : [on, off];
      return rows.map((row) => ({ ...row, label: device.label, operation: name }));
    }),
  );
  const add = (): void => {
    const way = ways.find(({ key }) => key === chosen);
    onAdd({
      text: way?.words ?? "Wait",
      do: way ? [[way.label, way.operation, way.value]] : [],
      faults: null,
      wait_s: 0.5,
      expect: {},
    });
  };
  return (
    <HStack>
      <NativeSelect.Root size="xs">
        <NativeSelect.Field
          aria-label="What is done"
          value={chosen}
          onChange={(event) => setChosen(event.target.value)}
        >
          <option value="">wait</option>
          {ways.map(({ key, words }) => (
            <option key={key} value={key}>
              {words}
            </option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
      <Button size="xs" variant="outline" onClick={add}>
        Add step
      </Button>
    </HStack>
  );
}
