import { Button, Flex, Input, Text } from "@chakra-ui/react";
import { useState } from "react";
import { api, asProblem } from "../../api/client";
import { download, fileName } from "../../common/download";
import { useDocument } from "../../job/document";
import type { Views } from "../stage";
import { type Advised, find, observe, setPanel, usePanel, weigh } from "./panel";

/** What fits, and what to measure next, with why. */
export function Advice({ circuit }: Views) {
  const advised = usePanel((state) => state.advised);
  const problem = usePanel((state) => state.problem);
  if (!advised) return null;
  return (
    <section className="trace-advice" aria-label="Diagnosis">
      {problem && <p className="caution">{problem.detail}</p>}
      <Reading circuit={circuit} />
      <Farther />
      <Beyond advised={advised} />
      <Next advised={advised} circuit={circuit} />
      <Likely advised={advised} circuit={circuit} />
      <Weights advised={advised} circuit={circuit} />
      <Book circuit={circuit} />
    </section>
  );
}

/** So many faults that may come and go are named: the likeliest. */
const MOST_FITFUL = 5;

/** What is looked at beyond the likely faults, and how far that is. */
function Farther() {
  const farther = usePanel((state) => state.farther);
  if (!farther) return null;
  const what = farther.reach === "rare" ? "Rare faults" : "Two faults at once";
  return (
    <div className="trace-farther">
      <Text fontSize="line" color="var(--soft)" role="status">
        {what} are looked at too: {farther.done} of {farther.all}
      </Text>
      <progress value={farther.done} max={farther.all} aria-label={what} />
    </div>
  );
}

/** Where nothing that is known explains what was observed: where the evidence points all the same. */
function Beyond({ advised }: { advised: Advised }) {
  if (!advised.outside || advised.reach === "likely") return null;
  return (
    <section className="trace-beyond" aria-label="Outside the known faults">
      <h2>No known fault explains this</h2>
      <Text fontSize="line">
        {advised.region?.words ??
          "Nothing was seen yet that is not as drawn: note what each device does, state by state."}
      </Text>
      {advised.fitful.length > 0 && (
        <>
          <h2>It would fit if it came and went</h2>
          <ul aria-label="Faults that may come and go">
            {advised.fitful.slice(0, MOST_FITFUL).map((words) => (
              <li key={words}>{words}</li>
            ))}
          </ul>
          <Text fontSize="line" color="var(--soft)">
            Leave the meter where it differed and watch it while the device works and warms up.
          </Text>
        </>
      )}
    </section>
  );
}

/** A reading at the panel: where the probes stand, and what the meter shows. */
function Reading({ circuit }: { circuit: Views["circuit"] }) {
  const { red, black, halt } = usePanel();
  const catalogue = useDocument((document) => document.catalogue);
  const named = catalogue.designations(circuit);
  const [text, setText] = useState("");
  const note = (): void => {
    if (!red || !black || !text.trim()) return;
    void observe(circuit, { halt, device: null, red, black, text: text.trim() });
    setText("");
  };
  return (
    <form
      className="trace-reading"
      onSubmit={(event) => {
        event.preventDefault();
        note();
      }}
    >
      <Text fontSize="line" color="var(--soft)">
        {red && black
          ? `${halt < 0 ? "Ohms" : "Volts"} from ${named(red)} to ${named(black)}`
          : "Click two terminals on the sheet, or take one of the advices."}
      </Text>
      <Flex gap="2">
        <Input
          size="lg"
          fontSize="head"
          fontFamily="mono"
          aria-label="What the meter shows"
          placeholder={halt < 0 ? "520, 1.2k, OL, beeps" : "230, 0, 115"}
          value={text}
          maxLength={100}
          disabled={!red || !black}
          onChange={(event) => setText(event.target.value)}
        />
        <Button size="lg" type="submit" colorPalette="accent" disabled={!red || !black || !text.trim()}>
          Note
        </Button>
      </Flex>
    </form>
  );
}

/** What to do when no reading is left that would tell more. */
function ended({ outside, count, confirmed }: Advised): string {
  if (outside)
    return "Nothing between these two places can be measured: look at each wire and joint there, against the drawing.";
  if (count > 1) return "Nothing that can be measured tells these apart: look at each of them.";
  const sure = confirmed ? "Confirmed." : "No reading would confirm it further.";
  return `${sure} Prove it by repairing it and running the sequence.`;
}

function fitting({ outside, count, unfitting }: Advised): string {
  if (outside) return "The nearest known faults: each would take two slips";
  const slip = unfitting.length > 0 ? ", if what is marked was a slip" : "";
  return `${count === 1 ? "One fault fits" : `${count} faults fit`}${slip}`;
}

const heading = ({ outside, confirming }: Advised): string =>
  outside ? "Halve the way" : confirming ? "Confirm before a part is replaced" : "Measure next";

function Next({ advised, circuit }: { advised: Advised; circuit: Views["circuit"] }) {
  const asking = usePanel((panel) => panel.asking);
  const catalogue = useDocument((document) => document.catalogue);
  const named = catalogue.designations(circuit);
  if (!advised.next.length)
    return (
      <Text fontSize="body" data-testid="nothing-next">
        {ended(advised)}
      </Text>
    );
  return (
    <>
      <h2>{heading(advised)}</h2>
      <ol className="trace-next" aria-label="Measure next" aria-busy={asking}>
        {advised.next.map((one) => (
          <li key={`${one.kind}/${one.halt}/${one.words}`}>
            <button
              type="button"
              onClick={() => setPanel({ halt: one.halt, red: one.red, black: one.black })}
            >
              <strong>
                {one.red && one.black ? `${named(one.red)} to ${named(one.black)}` : "Look and listen"}
              </strong>
              <span>{one.halt < 0 ? "Isolated and locked out: ohms" : advised.halts[one.halt]}</span>
              <span>
                {one.as_drawn
                  ? `${one.as_drawn} if all is as drawn up to there`
                  : `Leaves ${Math.round(one.leaves[1])} of ${advised.of}, ${one.leaves[2]} at worst (${one.bits.toFixed(1)} bits)`}
              </span>
              {one.first && <em>{one.first}</em>}
              {one.caution && !(one.first && one.halt < 0) && <em className="caution">{one.caution}</em>}
            </button>
          </li>
        ))}
      </ol>
    </>
  );
}

/** Those that are worth a line: none that would be told with 0.0 %, but the first. */
const shownLikely = ({ likely }: Advised): Advised["likely"] =>
  likely.filter(({ likelihood }, at) => at === 0 || likelihood >= 0.0005).slice(0, 12);

function Likely({ advised, circuit }: { advised: Advised; circuit: Views["circuit"] }) {
  const found = usePanel((panel) => panel.found);
  const begun = usePanel((panel) => panel.made.length > 0);
  return (
    <>
      <h2>{fitting(advised)}</h2>
      <ul className="trace-likely" aria-label="Faults that fit">
        {shownLikely(advised).map(({ words, likelihood, fits, kinds }) => (
          <li key={words} className={fits ? "" : "would-be-a-slip"}>
            <span
              className="bar"
              style={{ width: `${(40 * likelihood) / (advised.likely[0]?.likelihood ?? 1)}px` }}
            />
            <span>
              {words}
              {!fits && !advised.outside && <em> if one reading was wrong</em>}
              {begun && fits && !advised.outside && kinds.length > 0 && (
                <button
                  type="button"
                  className="it-was"
                  aria-pressed={found?.words === words}
                  aria-label={`This was it: ${words}`}
                  onClick={() => void find(circuit, words, kinds)}
                >
                  {found?.words === words ? "Kept as found" : "This was it"}
                </button>
              )}
            </span>
            <span className="share">{(100 * likelihood).toFixed(likelihood < 0.1 ? 1 : 0)} %</span>
          </li>
        ))}
      </ul>
    </>
  );
}

/** What each observation told: how many faults were possible before it and after. */
export function Told() {
  const advised = usePanel((state) => state.advised);
  return (
    <section className="exercise-record" aria-label="Record">
      <h2>What each observation told</h2>
      {!advised?.taken.length && <Text fontSize="line">Nothing is noted yet.</Text>}
      <ol className="trace-told" aria-label="What each observation told">
        {advised?.taken.map((one) => (
          <li key={one.words} className={one.before === one.after ? "wasted" : ""}>
            {one.words}: {one.shows}.{" "}
            <span>
              {one.before} → {one.after} ({one.bits.toFixed(1)} bits)
              {one.before === one.after && ", told nothing new"}
            </span>
          </li>
        ))}
      </ol>
    </section>
  );
}

/** How often each kind of fault comes about, with the reason; whoever knows the plant better changes it. */
function Weights({ advised, circuit }: { advised: Advised; circuit: Views["circuit"] }) {
  return (
    <details className="trace-weights">
      <summary>How often each kind comes about</summary>
      <ul>
        {advised.weights.map(({ kind, title, weight, prior, found, expected, why }) => (
          <li key={kind}>
            <label>
              {title}
              <input
                type="number"
                min="0.1"
                max="1000"
                step="0.1"
                defaultValue={weight}
                onChange={(event) => {
                  const next = Number(event.target.value);
                  if (next > 0 && next <= 1000) void weigh(circuit, kind, next);
                }}
              />
            </label>
            <span>
              {why} Beforehand {prior}
              {expected > 0 && `; found ${found} times here, ${expected.toFixed(1)} were to be expected`}.
            </span>
          </li>
        ))}
      </ul>
    </details>
  );
}

const HEADS = ["Fault", "Symptom", "Told apart by", "Shows", "To set it on a board"];

/** The fault book: symptom against fault, how each is told apart, and how an instructor sets it. */
function Book({ circuit }: { circuit: Views["circuit"] }) {
  const sequence = usePanel((state) => state.sequence);
  const [problem, setProblem] = useState("");
  const name = `${fileName(circuit.title || "circuit")} fault book`;
  const save = async (how: "csv" | "pdf"): Promise<void> => {
    try {
      if (how === "csv") {
        download(`${name}.csv`, await api.faultBookFile(circuit, sequence));
        return;
      }
      const { entries, caution } = await api.faultBook(circuit, sequence);
      const rows = entries.map((one) => [one.fault, one.symptom, one.told_by, one.shows, one.setting]);
      const words = { kind: "words" as const, heading: false, text: caution };
      const table = { kind: "table" as const, head: HEADS, rows, marked: [] };
      download(`${name}.pdf`, await api.paper({ title: name, turned: true, parts: [words, table] }));
      setProblem("");
    } catch (error) {
      setProblem(asProblem(error).detail);
    }
  };
  return (
    <>
      <Flex gap="2" wrap="wrap">
        <Button size="xs" variant="outline" onClick={() => void save("csv")}>
          Fault book (CSV)
        </Button>
        <Button size="xs" variant="outline" onClick={() => void save("pdf")}>
          Fault book (PDF)
        </Button>
      </Flex>
      {problem && <p className="caution">{problem}</p>}
    </>
  );
}
