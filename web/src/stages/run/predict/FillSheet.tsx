import { Button, HStack, Input, Stack, Text } from "@chakra-ui/react";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, asProblem } from "../../../api/client";
import type { Schemas } from "../../../api/types";
import { useTheBench } from "../../../bench/context";
import type { Circuit } from "../../../circuit/types";
import { download, fileName } from "../../../common/download";
import { keep, kept } from "../../../common/store";
import { useDocument } from "../../../job/document";
import { AttemptsTable } from "./AttemptsTable";
import { takeUp, useWritten } from "./answers";
import { sheetOnPaper } from "./print";
import { StateRows } from "./StateRows";
import { setUnderWay, useUnderWay } from "./underWay";

export type SheetBody = Schemas["SheetBody"];

interface Props {
  readonly job: number;
  readonly id: number;
  readonly circuit: Circuit;
  readonly onClose: () => void;
}

/** One sheet: whose attempt it is, and its states one after the other. */
export function FillSheet({ job, id, circuit, onClose }: Props) {
  const queries = useQueryClient();
  const { data, error } = useQuery({
    queryKey: ["prediction", job, id],
    queryFn: () => api.prediction(job, id),
    staleTime: 0,
  });
  const [attempt, setAttempt] = useState<number | null>(() => rememberedAttempt(id));
  const known = data?.attempts.find((one) => one.id === attempt);
  useEffect(() => {
    if (known) takeUp({ job, sheet: id, id: known.id }, known.answers);
  }, [known, job, id]);
  const choose = (chosen: number | null): void => {
    rememberAttempt(id, chosen);
    setUnderWay({ at: 0, marks: {} });
    setAttempt(chosen);
  };
  const begin = async (who: string): Promise<void> => {
    const begun = await api.beginAttempt(job, id, who);
    await queries.invalidateQueries({ queryKey: ["prediction", job, id] });
    choose(begun.id);
  };
  return (
    <Stack as="section" aria-label="Prediction sheet" p="3" gap="2" fontSize="line">
      <HStack justify="space-between">
        <strong>{data?.sheet.title ?? "…"}</strong>
        <Button size="xs" variant="outline" onClick={onClose}>
          All sheets
        </Button>
      </HStack>
      {data && !known && <OnPaper sheet={data} />}
      {error && <p className="caution">{asProblem(error).detail}</p>}
      {data && !isSame(data.circuit, circuit) && (
        <p className="caution">
          The circuit has changed since this sheet was made. The sheet keeps the circuit that it asks about.
        </p>
      )}
      {data && !known && <Attempts sheet={data} onBegin={begin} onChoose={choose} />}
      {data && known && (
        <States
          key={known.id}
          sheet={data}
          same={isSame(data.circuit, circuit)}
          who={known.who}
          onLeave={() => {
            void queries.invalidateQueries({ queryKey: ["prediction", job, id] });
            choose(null);
          }}
          onEnd={async () => {
            await api.endAttempt(job, id, known.id);
            await queries.invalidateQueries({ queryKey: ["prediction", job, id] });
            choose(null);
          }}
        />
      )}
    </Stack>
  );
}

/** The sheet to be handed on: as a file, as a worksheet, and with its answers. */
function OnPaper({ sheet }: { sheet: SheetBody }) {
  const catalogue = useDocument((document) => document.catalogue);
  const [problem, setProblem] = useState("");
  const [beside, setBeside] = useState(false);
  const name = fileName(sheet.sheet.title);
  const print = async (key: boolean): Promise<void> => {
    try {
      download(`${name}${key ? " answer key" : ""}.pdf`, await sheetOnPaper(sheet, catalogue, key));
    } catch (error) {
      setProblem(asProblem(error).detail);
    }
  };
  return (
    <HStack wrap="wrap" gap="1">
      <Button size="xs" variant="outline" onClick={() => void print(false)}>
        Worksheet (PDF)
      </Button>
      <Button size="xs" variant="outline" onClick={() => void print(true)}>
        Answer key (PDF)
      </Button>
      <Button
        size="xs"
        variant="outline"
        onClick={() => download(`${name}.json`, `${JSON.stringify(sheet.sheet, null, 2)}\n`)}
      >
        Save as a file
      </Button>
      {sheet.attempts.length > 0 && (
        <Button size="xs" variant="outline" onClick={() => setBeside(true)}>
          Attempts side by side
        </Button>
      )}
      {problem && <p className="caution">{problem}</p>}
      {beside && <AttemptsTable sheet={sheet} onClose={() => setBeside(false)} />}
    </HStack>
  );
}

/** The same circuit, however it is drawn. */
const isSame = (one: Circuit, other: Circuit): boolean =>
  JSON.stringify([one.devices, one.conductors, one.strays]) ===
  JSON.stringify([other.devices, other.conductors, other.strays]);

function Attempts(props: {
  sheet: SheetBody;
  onBegin: (who: string) => Promise<void>;
  onChoose: (id: number) => void;
}) {
  const { sheet, onBegin, onChoose } = props;
  const [who, setWho] = useState("");
  const [problem, setProblem] = useState("");
  return (
    <>
      <form
        className="predict-begin"
        onSubmit={(event) => {
          event.preventDefault();
          onBegin(who).catch((error: unknown) => setProblem(asProblem(error).detail));
        }}
      >
        <Input
          size="sm"
          aria-label="Who fills it in"
          placeholder="Your name or place"
          maxLength={100}
          value={who}
          onChange={(event) => setWho(event.target.value)}
        />
        <Button size="sm" type="submit" colorPalette="accent">
          Begin
        </Button>
      </form>
      {problem && <p className="caution">{problem}</p>}
      {sheet.attempts.length > 0 && (
        <ul className="predict-list" aria-label="Attempts">
          {sheet.attempts.map((one) => (
            <li key={one.id}>
              <button type="button" className="predict-open" onClick={() => onChoose(one.id)}>
                <strong>{one.who || "No name"}</strong>
                <span>
                  {new Date(one.started_at).toLocaleString()}, {one.ended_at ? "ended" : "open"}
                </span>
              </button>
            </li>
          ))}
        </ul>
      )}
    </>
  );
}

function States(props: {
  sheet: SheetBody;
  same: boolean;
  who: string;
  onLeave: () => void;
  onEnd: () => Promise<void>;
}) {
  const { sheet, same, who, onLeave, onEnd } = props;
  const bench = useTheBench();
  const at = useUnderWay((state) => state.at);
  const marks = useUnderWay((state) => state.marks);
  const [problem, setProblem] = useState("");
  const unsent = useWritten((state) => state.unsent.length);
  const trouble = useWritten((state) => state.trouble);
  const states = sheet.sheet.states;
  const state = states[at];
  const compare = async (): Promise<void> => {
    const answers = useWritten.getState().answers[at] ?? {};
    try {
      const found = await api.mark(sheet.circuit, sheet.sheet, at, { ...answers });
      setUnderWay({ marks: { ...useUnderWay.getState().marks, [at]: found.marks } });
      setProblem("");
      if (same && state) bench.replay(sheet.sheet.hands, state.at_us);
    } catch (error) {
      setProblem(asProblem(error).detail);
    }
  };
  return (
    <>
      <HStack justify="space-between">
        <Text color="var(--soft)">{who || "No name"}</Text>
        <Text color="var(--soft)" role="status">
          {trouble ? `Kept here, not sent: ${trouble}` : unsent ? "Sending" : "Saved"}
        </Text>
      </HStack>
      <HStack justify="space-between">
        <Button size="xs" variant="outline" disabled={at === 0} onClick={() => setUnderWay({ at: at - 1 })}>
          Before
        </Button>
        <strong>
          {at + 1} of {states.length}: {state?.title}
        </strong>
        <Button
          size="xs"
          variant="outline"
          disabled={at === states.length - 1}
          onClick={() => setUnderWay({ at: at + 1 })}
        >
          Next
        </Button>
      </HStack>
      <StateRows sheet={sheet} index={at} marks={marks[at]} />
      {problem && <p className="caution">{problem}</p>}
      <HStack wrap="wrap">
        <Button size="sm" colorPalette="accent" onClick={() => void compare()}>
          Run and compare
        </Button>
        {sheet.sheet.hints && same && state && (
          <Button size="sm" variant="outline" onClick={() => bench.replay(sheet.sheet.hands, state.at_us)}>
            Look at the state
          </Button>
        )}
        <Button size="sm" variant="outline" onClick={() => void onEnd()}>
          End
        </Button>
        <Button size="sm" variant="ghost" onClick={onLeave}>
          Other attempts
        </Button>
      </HStack>
    </>
  );
}

const remembered = (sheet: number): string => `wiretrace-attempt-of-${sheet}`;

/** The attempt that this browser has under way, so that a reload goes on with it. */
const rememberedAttempt = (sheet: number): number | null =>
  Number(kept("localStorage", remembered(sheet))) || null;

function rememberAttempt(sheet: number, attempt: number | null): void {
  keep("localStorage", remembered(sheet), attempt === null ? "" : String(attempt));
}
