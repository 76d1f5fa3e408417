import { Button, Flex } from "@chakra-ui/react";
import { useMemo } from "react";
import { api, asProblem } from "../../../api/client";
import type { Circuit } from "../../../circuit/types";
import { download, fileName } from "../../../common/download";
import { useSession } from "../../../common/session";
import type { Views } from "../../stage";
import { type Entry, type Review, setExercise, useExercise } from "./exercise";

/** Everything that was done and what came of it: along the time, and as a table. */
export function Record({ circuit }: Views) {
  const open = useExercise((state) => state.open);
  const review = useExercise((state) => state.review);
  const { job } = useSession();
  if (!open) return null;
  const save = async (): Promise<void> => {
    if (job === undefined) return;
    try {
      download(`${fileName(circuit.title || "circuit")} record.csv`, await api.exerciseRecord(job, open.id));
    } catch (error) {
      setExercise({ problem: asProblem(error) });
    }
  };
  return (
    <section className="exercise-record" aria-label="Record">
      <Flex justify="space-between" align="center">
        <h2>Record</h2>
        <Button size="xs" variant="outline" onClick={() => void save()}>
          Record (CSV)
        </Button>
      </Flex>
      <Strip circuit={circuit} entries={open.entries} />
      <Table circuit={circuit} entries={open.entries} review={review} />
    </section>
  );
}

const WIDTH = 1000;
const LANE = 14;

interface Lane {
  readonly label: string;
  readonly spans: readonly (readonly [number, number, string])[];
}

/** The strip: each device that did something while it was active, and a mark for everything that was done. */
function Strip({ circuit, entries }: { circuit: Circuit; entries: readonly Entry[] }) {
  const last = entries.at(-1)?.at_us ?? 0;
  const lanes = useMemo(() => lanesOf(circuit, entries, last), [circuit, entries, last]);
  // Before one is at the panel nothing is done there.
  const first = entries[0]?.at_us ?? 0;
  const x = (us: number): number => (last > first ? ((us - first) / (last - first)) * WIDTH : 0);
  const height = (lanes.length + 1) * LANE;
  return (
    <div className="exercise-strip">
      <div className="names" aria-hidden>
        {lanes.map(({ label }) => (
          <span key={label}>{label}</span>
        ))}
        <span>done</span>
      </div>
      <svg
        viewBox={`0 0 ${WIDTH} ${height}`}
        preserveAspectRatio="none"
        role="img"
        aria-label="Course of events"
      >
        {lanes.map(({ label, spans }, row) =>
          spans.map(([from, to, says]) => (
            <rect
              key={`${label}/${from}`}
              className="span"
              x={x(from)}
              width={Math.max(1.5, x(to) - x(from))}
              y={row * LANE + 3}
              height={LANE - 5}
            >
              <title>{`${label} ${says}`}</title>
            </rect>
          )),
        )}
        {entries.map((entry) => (
          <rect
            key={entry.number}
            className={`did ${entry.risks.length ? "risk" : entry.kind}`}
            x={x(entry.at_us) - 2}
            width={4}
            y={lanes.length * LANE + 1}
            height={LANE - 2}
          >
            <title>{`${entry.number}. ${entry.words}`}</title>
          </rect>
        ))}
      </svg>
    </div>
  );
}

function lanesOf(circuit: Circuit, entries: readonly Entry[], endUs: number): Lane[] {
  const events = entries.flatMap((entry) => entry.events);
  return circuit.devices.flatMap((device) => {
    const own = events.filter((event) => event.device === device.id);
    if (!own.length) return [];
    const spans = own.flatMap((event, at) =>
      event.active ? [[event.at_us, own[at + 1]?.at_us ?? endUs, event.says] as const] : [],
    );
    return [{ label: device.label, spans }];
  });
}

function Table({
  circuit,
  entries,
  review,
}: {
  circuit: Circuit;
  entries: readonly Entry[];
  review: Review | null;
}) {
  const chosen = useExercise((state) => state.reviewed);
  const label = (id: string): string => circuit.devices.find((device) => device.id === id)?.label ?? id;
  const told = new Map(review?.steps.map((step) => [step.number, step]));
  let passed = 0;
  return (
    <table>
      <thead>
        <tr>
          <th scope="col">No.</th>
          <th scope="col">At</th>
          <th scope="col">What was done</th>
          <th scope="col">Seen and heard</th>
          <th scope="col">Reading</th>
          {review && (
            <>
              <th scope="col">Possible</th>
              <th scope="col">Bits</th>
              <th scope="col">The best reading then</th>
            </>
          )}
          <th scope="col">Risk</th>
        </tr>
      </thead>
      <tbody>
        {entries.map((entry) => {
          passed += entry.took_s;
          const step = told.get(entry.number);
          const events = entry.events.map((one) => `${label(one.device)} ${one.says}`).join(", ");
          return (
            <tr
              key={entry.number}
              className={`${step?.wasted ? "wasted" : ""}${chosen === entry.number ? " chosen" : ""}`}
            >
              <td>
                {step ? (
                  <button
                    type="button"
                    onClick={() => setExercise({ reviewed: entry.number })}
                    title="Mark on the sheet what was still possible"
                  >
                    {entry.number}
                  </button>
                ) : (
                  entry.number
                )}
              </td>
              <td>{clock(passed)}</td>
              <td>{entry.words}</td>
              <td>{entry.text || events}</td>
              <td className="short">{entry.shown ? `${entry.shown.display} ${entry.shown.unit}` : ""}</td>
              {review && (
                <>
                  <td className="short">{step ? `${step.before} → ${step.after}` : ""}</td>
                  <td>{step ? step.bits.toFixed(1) : ""}</td>
                  <td>{step?.best ? `${step.best} (${step.best_bits.toFixed(1)} bits)` : ""}</td>
                </>
              )}
              <td className="caution">{entry.risks.join(" ")}</td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}

const clock = (seconds: number): string =>
  `${Math.floor(seconds / 60)}:${String(seconds % 60).padStart(2, "0")}`;
