import { Button, HStack, Input, Stack, Text } from "@chakra-ui/react";
import { useQuery, useQueryClient } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { api, asProblem } from "../../../api/client";
import type { Schemas } from "../../../api/types";
import { useTheBench } from "../../../bench/context";
import type { Circuit } from "../../../circuit/types";
import { download, fileName } from "../../../common/download";
import { keep, kept } from "../../../common/store";
import { when } from "../../../common/when";
import { useDocument } from "../../../job/document";
import { AttemptsTable } from "./AttemptsTable";
import { send, takeUp, useWritten } from "./answers";
import { Belief, useBelief } from "./Belief";
import { sheetOnPaper } from "./print";
import { StateRows } from "./StateRows";
import { faultsOf, type SheetBody } from "./sheetBody";
import { setUnderWay, useUnderWay } from "./underWay";

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
  const mine = data?.attempts.some((one) => one.id === attempt && one.mine) ? attempt : null;
  const opened = useQuery({
    queryKey: ["attempt", job, id, mine],
    queryFn: async () => {
      const read = await api.attempt(job, id, mine ?? 0);
      await takeUp({ job, sheet: id, id: read.id }, read.answers);
      return read;
    },
    enabled: mine !== null,
    gcTime: 0,
    staleTime: Number.POSITIVE_INFINITY,
  });
  const known = mine === null ? undefined : opened.data;
  const show = (now: Schemas["AttemptBody"]): void =>
    void queries.setQueryData(["attempt", job, id, now.id], now);
  const choose = (chosen: number | null): void => {
    rememberAttempt(id, chosen);
    setUnderWay({ at: 0 });
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
      {data && <Faults sheet={data} />}
      {data && mine === null && <OnPaper job={job} sheet={data} />}
      {[error, opened.error].map(
        (one) =>
          one && (
            <p key={one.message} className="caution">
              {asProblem(one).detail}
            </p>
          ),
      )}
      {data && !isSame(data.circuit, circuit) && (
        <p className="caution">
          The circuit has changed since this sheet was made. The sheet keeps the circuit that it asks about.
        </p>
      )}
      {data && mine === null && <Attempts sheet={data} onBegin={begin} onChoose={choose} />}
      {data && known && (
        <States
          key={known.id}
          job={job}
          sheet={data}
          same={isSame(data.circuit, circuit)}
          attempt={known}
          onCompare={async (state) => show(await api.compareAttempt(job, id, known.id, state))}
          onLeave={() => {
            void queries.invalidateQueries({ queryKey: ["prediction", job, id] });
            choose(null);
          }}
          onEnd={async () => {
            show(await api.endAttempt(job, id, known.id));
            await queries.invalidateQueries({ queryKey: ["prediction", job, id] });
          }}
        />
      )}
    </Stack>
  );
}

/** What is wrong in the circuit that is asked about, where that is told. */
function Faults({ sheet }: { sheet: SheetBody }) {
  if (sheet.hides)
    return <p className="caution">Something is wrong in this circuit. What, is told when the sheet is.</p>;
  if (!sheet.faults.length) return null;
  return (
    <p className="caution">
      {sheet.sheet.told ? "With" : "Hidden from whoever fills it in"}: {sheet.faults.join("; ")}.
    </p>
  );
}

/** The sheet to be handed on: as a file, as a worksheet, and with its answers. */
function OnPaper({ job, sheet }: { job: number; sheet: SheetBody }) {
  const catalogue = useDocument((document) => document.catalogue);
  const [problem, setProblem] = useState("");
  const [beside, setBeside] = useState(false);
  const name = fileName(sheet.sheet.title);
  const print = async (key: boolean): Promise<void> => {
    try {
      download(`${name}${key ? " answer key" : ""}.pdf`, await sheetOnPaper(job, sheet, catalogue, key));
    } catch (error) {
      setProblem(asProblem(error).detail);
    }
  };
  return (
    <HStack wrap="wrap" gap="1">
      <Button size="xs" variant="outline" onClick={() => void print(false)}>
        Worksheet (PDF)
      </Button>
      <Button size="xs" variant="outline" disabled={!sheet.told} onClick={() => void print(true)}>
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
        <Button size="xs" variant="outline" disabled={!sheet.told} onClick={() => setBeside(true)}>
          Attempts side by side
        </Button>
      )}
      {!sheet.told && (
        <Text fontSize="note" color="var(--soft)">
          Answers are for whoever made the sheet, once every attempt has ended.
        </Text>
      )}
      {problem && <p className="caution">{problem}</p>}
      {beside && <AttemptsTable job={job} sheet={sheet} onClose={() => setBeside(false)} />}
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
              <button
                type="button"
                className="predict-open"
                disabled={!one.mine}
                onClick={() => onChoose(one.id)}
              >
                <strong>{one.who || "No name"}</strong>
                <span>
                  {when(one.started_at)}, {one.ended_at ? "ended" : "open"}
                </span>
              </button>
            </li>
          ))}
        </ul>
      )}
    </>
  );
}

/** How the answers stand with the server, in a word. */
function useSaveWords(): string {
  const save = useWritten((state) => state.save);
  const problem = useWritten((state) => state.saveProblem);
  if (problem && save !== "saved") return `Kept here, not sent: ${problem.detail}`;
  return save === "saved" ? "Saved" : "Sending";
}

function States(props: {
  job: number;
  sheet: SheetBody;
  same: boolean;
  attempt: Schemas["AttemptBody"];
  onCompare: (state: number) => Promise<void>;
  onLeave: () => void;
  onEnd: () => Promise<void>;
}) {
  const { job, sheet, same, attempt, onCompare, onLeave, onEnd } = props;
  const bench = useTheBench();
  const at = useUnderWay((state) => state.at);
  const [problem, setProblem] = useState("");
  const saveWords = useSaveWords();
  // Whoever made it may have left on the bench what it hides.
  useEffect(() => {
    if (sheet.hides && bench.use.getState().faults.length > 0) bench.replay([], 0);
  }, [sheet.hides, bench]);
  const { data: believed } = useBelief(job, sheet, attempt);
  const states = sheet.sheet.states;
  const state = states[at];
  const marks = attempt.marks[at];
  // What is marked has to be on the server first: from then on it stays as it is.
  const whenSent = async (work: () => Promise<void>): Promise<void> => {
    try {
      if (!(await send())) return setProblem("What you wrote is not sent yet: try again when it is saved.");
      await work();
      setProblem("");
    } catch (error) {
      setProblem(asProblem(error).detail);
    }
  };
  // What is hidden would be seen on the bench.
  const look = (): void => {
    if (same && state && !sheet.hides) bench.replay(sheet.sheet.hands, state.at_us, faultsOf(sheet));
  };
  const compare = async (): Promise<void> => {
    if (!marks) await onCompare(at);
    look();
  };
  return (
    <>
      <HStack justify="space-between">
        <Text color="var(--soft)">{attempt.who || "No name"}</Text>
        <Text color="var(--soft)" role="status">
          {attempt.ended_at ? "Ended" : saveWords}
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
      <StateRows sheet={sheet} index={at} marks={marks} believed={believed} />
      <Belief believed={believed} sheet={sheet} />
      {problem && <p className="caution">{problem}</p>}
      {!marks && <p className="predict-hands">What is compared once stays as it was written.</p>}
      <HStack wrap="wrap">
        <Button
          size="sm"
          colorPalette="accent"
          disabled={sheet.hides && marks !== undefined}
          onClick={() => void whenSent(compare)}
        >
          {marks ? "Run to this state" : sheet.hides ? "Compare" : "Run and compare"}
        </Button>
        {sheet.sheet.hints && same && state && !sheet.hides && (
          <Button size="sm" variant="outline" onClick={look}>
            Look at the state
          </Button>
        )}
        {!attempt.ended_at && (
          <Button size="sm" variant="outline" onClick={() => void whenSent(onEnd)}>
            End
          </Button>
        )}
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
