import { Button, NativeSelect, Text } from "@chakra-ui/react";
import { useDocument } from "../../job/document";
import type { Views } from "../stage";
import { type Advised, forget, insist, observe, setPanel, usePanel } from "./panel";

/** What was seen and read at the panel, by the state that it was put into. */
export function Observed({ circuit }: Views) {
  const advised = usePanel((state) => state.advised);
  const halt = usePanel((state) => state.halt);
  const made = usePanel((state) => state.made);
  const problem = usePanel((state) => state.problem);
  if (!advised) return problem ? null : <Waiting />;
  return (
    <section className="trace-observed" aria-label="What was observed">
      <h2>What was done</h2>
      <ol className="trace-halts">
        {advised.halts.map((text, index) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a state has no other name than its place
          <li key={index}>
            <button type="button" aria-pressed={halt === index} onClick={() => setPanel({ halt: index })}>
              {index + 1}. {text}
            </button>
          </li>
        ))}
        <li>
          <button type="button" aria-pressed={halt === -1} onClick={() => setPanel({ halt: -1 })}>
            Isolated and locked out
          </button>
        </li>
      </ol>
      {halt >= 0 && <Seen circuit={circuit} />}
      {made.length > 0 && (
        <>
          <h2>Noted</h2>
          <ul className="trace-noted" aria-label="Observations">
            {made.map((_, index) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: in the order in which they were made
              <Noted key={index} index={index} circuit={circuit} />
            ))}
          </ul>
          <Button size="xs" variant="outline" onClick={() => void forget(circuit, null)}>
            Begin anew
          </Button>
        </>
      )}
    </section>
  );
}

/** The fault dictionary is being made: how far it is. */
function Waiting() {
  const progress = usePanel((state) => state.progress);
  const share = progress ? progress.done / Math.max(1, progress.all) : 0;
  return (
    <section className="trace-observed" aria-label="What was observed">
      <Text fontSize="line">
        What each fault of this circuit would show is being worked out, once for it.
      </Text>
      <progress value={share} max={1} aria-label="Fault dictionary" />
      <Text fontSize="line" color="var(--soft)" role="status">
        {progress ? `${progress.done} of ${progress.all}` : "Beginning"}
      </Text>
    </section>
  );
}

/** What each device does in the state that is looked at: chosen from all that it may do there. */
function Seen({ circuit }: { circuit: Views["circuit"] }) {
  const advised = usePanel((state) => state.advised);
  const halt = usePanel((state) => state.halt);
  const made = usePanel((state) => state.made);
  return (
    <>
      <h2>What is seen and heard then</h2>
      <ul className="trace-seen">
        {advised?.looks.map(({ device, label, statuses, otherwise }) => {
          const said = made.find((one) => one.halt === halt && one.device === device)?.text ?? "";
          return (
            <li key={device}>
              <strong>{label}</strong>
              <NativeSelect.Root size="sm">
                <NativeSelect.Field
                  aria-label={`What ${label} does`}
                  value={said}
                  onChange={(event) =>
                    void observe(circuit, { halt, device, red: null, black: null, text: event.target.value })
                  }
                >
                  <option value="">not looked at</option>
                  <Options known={statuses[halt] ?? []} />
                  <optgroup label="Otherwise">
                    <Options known={otherwise.filter((one) => !isIn(one, statuses[halt]))} />
                  </optgroup>
                </NativeSelect.Field>
                <NativeSelect.Indicator />
              </NativeSelect.Root>
            </li>
          );
        })}
      </ul>
    </>
  );
}

type Known = Advised["looks"][number]["otherwise"];

const isIn = ({ status }: Known[number], known: Known = []): boolean =>
  known.some((one) => one.status === status);

function Options({ known }: { known: Known }) {
  return known.map(({ status, says }) => (
    <option key={status} value={status}>
      {says}
    </option>
  ));
}

function Noted({ circuit, index }: { circuit: Views["circuit"]; index: number }) {
  const one = usePanel((state) => state.made[index]);
  const unfitting = usePanel((state) => state.advised?.unfitting.includes(index) ?? false);
  const looks = usePanel((state) => state.advised?.looks);
  const catalogue = useDocument((document) => document.catalogue);
  if (!one) return null;
  const named = catalogue.designations(circuit);
  const device = circuit.devices.find(({ id }) => id === one.device)?.label;
  // Of a reading the text is what was written, of a device its status.
  const says = looks
    ?.find((look) => look.device === one.device)
    ?.otherwise.find(({ status }) => status === one.text)?.says;
  const text = says ?? one.text;
  const where = device ?? (one.red && one.black ? `${named(one.red)} to ${named(one.black)}` : "");
  const state = one.halt < 0 ? "Dead" : `${one.halt + 1}.`;
  return (
    <li className={unfitting ? "unfitting" : ""}>
      <span>
        {state} {where}: <strong>{text}</strong>
        {unfitting && (
          <>
            <em> does not fit{one.twice ? ", though it came out the same twice" : ": measure it again"}</em>
            {!one.twice && (
              <button type="button" className="it-is-so" onClick={() => void insist(circuit, index)}>
                It is the same again
              </button>
            )}
          </>
        )}
      </span>
      <button
        type="button"
        aria-label={`Forget ${where} ${text}`}
        onClick={() => void forget(circuit, index)}
      >
        ×
      </button>
    </li>
  );
}
