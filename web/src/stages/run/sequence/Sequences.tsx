import "./sequence.css";
import { Button, HStack, Stack, Text } from "@chakra-ui/react";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { api, asProblem } from "../../../api/client";
import { useTheBench } from "../../../bench/context";
import type { Circuit } from "../../../circuit/types";
import { useDocument } from "../../../job/document";
import { EditSequence } from "./EditSequence";
import { handWords, setSequences, stepsOf, useSequences } from "./recording";

/** Operating sequences of the job: what is done, how long one waits, and what comes of it. */
export function Sequences({ circuit }: { circuit: Circuit }) {
  const job = useDocument((document) => document.job?.id);
  const draft = useSequences((state) => state.draft);
  if (job === undefined)
    return (
      <Text p="3" fontSize="line" color="var(--soft)">
        Open this circuit as a job to keep operating sequences of it.
      </Text>
    );
  if (draft) return <EditSequence job={job} circuit={circuit} draft={draft} />;
  return <SequenceList job={job} circuit={circuit} />;
}

function SequenceList({ job, circuit }: { job: number; circuit: Circuit }) {
  const queries = useQueryClient();
  const { data, error } = useQuery({
    queryKey: ["sequences", job],
    queryFn: () => api.sequences(job),
    staleTime: 0,
  });
  const remove = async (id: number): Promise<void> => {
    await api.deleteSequence(job, id);
    await queries.invalidateQueries({ queryKey: ["sequences", job] });
  };
  return (
    <Stack as="section" aria-label="Operating sequences" p="3" gap="2">
      <Text fontSize="line" color="var(--soft)">
        What is done with the circuit, step by step. A state table shows what every device then does.
      </Text>
      <HStack>
        <Recorder circuit={circuit} />
        <Button
          size="sm"
          variant="outline"
          onClick={() => setSequences({ draft: { id: null, basedOn: 0, name: "", steps: [] } })}
        >
          Write one
        </Button>
      </HStack>
      {error && <p className="caution">{asProblem(error).detail}</p>}
      <ul className="sequence-list" aria-label="Sequences of this job">
        {data?.sequences.map(({ id, name, sequence, version }) => (
          <li key={id}>
            <button
              type="button"
              className="sequence-open"
              onClick={() => setSequences({ draft: { id, basedOn: version, name, steps: sequence.steps } })}
            >
              <strong>{name}</strong>
              <span>{sequence.steps.length === 1 ? "1 step" : `${sequence.steps.length} steps`}</span>
            </button>
            <button type="button" aria-label={`Delete ${name}`} onClick={() => void remove(id)}>
              ×
            </button>
          </li>
        ))}
      </ul>
    </Stack>
  );
}

/** Records what the hands do on the bench, from under power or from now on. */
function Recorder({ circuit }: { circuit: Circuit }) {
  const bench = useTheBench();
  const catalogue = useDocument((document) => document.catalogue);
  const from = useSequences((state) => state.recordsFromUs);
  const begin = (): void => {
    bench.start(circuit, catalogue);
    bench.pause(false);
    setSequences({ recordsFromUs: 0 });
  };
  const end = (): void => {
    const { hands } = bench.use.getState();
    const steps = stepsOf(hands, from ?? 0, bench.nowUs(), (hand) => handWords(circuit, catalogue, hand));
    setSequences({ recordsFromUs: null, draft: { id: null, basedOn: 0, name: "", steps } });
  };
  return from === null ? (
    <Button size="sm" colorPalette="accent" onClick={begin} title="Restart: under power, nothing touched">
      Record
    </Button>
  ) : (
    <Button size="sm" colorPalette="accent" onClick={end}>
      Stop recording
    </Button>
  );
}
