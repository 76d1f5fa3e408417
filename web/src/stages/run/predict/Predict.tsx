import "./predict.css";
import { Button, Stack, Text } from "@chakra-ui/react";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { api, asProblem } from "../../../api/client";
import type { Circuit } from "../../../circuit/types";
import { FileButton } from "../../../common/FileButton";
import { useDocument } from "../../../job/document";
import { FillSheet } from "./FillSheet";
import { MakeSheet } from "./MakeSheet";
import { openSheet, useUnderWay } from "./underWay";

/** Prediction sheets of the job: made from what stands on the bench, filled in, and compared. */
export function Predict({ circuit }: { circuit: Circuit }) {
  const job = useDocument((document) => document.job?.id);
  const open = useUnderWay((state) => state.open);
  if (job === undefined)
    return (
      <Text p="3" fontSize="line" color="var(--soft)">
        Open this circuit as a job to make prediction sheets of it.
      </Text>
    );
  if (open === "new") return <MakeSheet job={job} circuit={circuit} onDone={openSheet} />;
  if (open !== null)
    return <FillSheet job={job} id={open} circuit={circuit} onClose={() => openSheet(null)} />;
  return <SheetList job={job} circuit={circuit} onOpen={openSheet} />;
}

interface ListProps {
  readonly job: number;
  readonly circuit: Circuit;
  readonly onOpen: (which: number | "new") => void;
}

function SheetList({ job, circuit, onOpen }: ListProps) {
  const queries = useQueryClient();
  const { data, error } = useQuery({
    queryKey: ["predictions", job],
    queryFn: () => api.predictions(job),
    staleTime: 0,
  });
  const remove = async (id: number): Promise<void> => {
    await api.deletePrediction(job, id);
    await queries.invalidateQueries({ queryKey: ["predictions", job] });
  };
  return (
    <Stack as="section" aria-label="Prediction sheets" p="3" gap="2">
      <Text fontSize="line" color="var(--soft)">
        Stop the circuit in a state, ask what meters read, and compare. Leave meters in the circuit, then make
        a sheet of them.
      </Text>
      <Button size="sm" colorPalette="accent" onClick={() => onOpen("new")}>
        Make a sheet
      </Button>
      <FromFile job={job} circuit={circuit} />
      {error && <p className="caution">{asProblem(error).detail}</p>}
      <ul className="predict-list" aria-label="Sheets of this job">
        {data?.sheets.map((line) => (
          <li key={line.id}>
            <button type="button" className="predict-open" onClick={() => onOpen(line.id)}>
              <strong>{line.title}</strong>
              <span>{line.attempts === 1 ? "1 attempt" : `${line.attempts} attempts`}</span>
            </button>
            <button type="button" aria-label={`Delete ${line.title}`} onClick={() => void remove(line.id)}>
              ×
            </button>
          </li>
        ))}
      </ul>
    </Stack>
  );
}

/** A sheet that somebody hands on, for the circuit as it is now; what of it could not be read is told. */
function FromFile({ job, circuit }: { job: number; circuit: Circuit }) {
  const queries = useQueryClient();
  const [problems, setProblems] = useState<readonly string[]>([]);
  const take = async (file: File): Promise<void> => {
    try {
      const read = await api.predictionFile(await file.text());
      await api.keepPrediction(job, read.sheet, circuit);
      await queries.invalidateQueries({ queryKey: ["predictions", job] });
      setProblems(read.problems);
    } catch (error) {
      const { detail, problems } = asProblem(error);
      setProblems([detail, ...problems.map(({ message }) => message).filter((one) => one !== detail)]);
    }
  };
  return (
    <>
      <FileButton
        words="Open a sheet (JSON)"
        label="From a file"
        accept=".json,application/json"
        onFile={(file) => void take(file)}
      />
      {problems.map((one) => (
        <p key={one} className="caution">
          {one}
        </p>
      ))}
    </>
  );
}
