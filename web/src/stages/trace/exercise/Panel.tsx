import { Button, Flex, Text } from "@chakra-ui/react";
import { Fragment } from "react";
import type { Device, Operation } from "../../../circuit/types";
import type { Views } from "../../stage";
import { close, type Entry, seenNow, take, useExercise } from "./exercise";

const PLACES = [
  ["door", "On the door"],
  ["plate", "On the mounting plate"],
  ["field", "In the field"],
] as const;

/** The panel as it is found: what the operator reported, and everything that a hand can work and an eye can see. */
export function Panel({ circuit, catalogue }: Views) {
  const open = useExercise((state) => state.open);
  if (!open) return null;
  const seen = seenNow(open);
  const took = open.entries.reduce((sum, { took_s }) => sum + took_s, 0);
  return (
    <section className="exercise-panel" aria-label="Panel">
      <div className="work-order" role="note" aria-label="Work order">
        <h2>Work order {open.id}</h2>
        <p>{open.work_order}</p>
        {open.stays_live && <p className="caution">{open.stays_live}</p>}
        <Flex justify="space-between" align="center" wrap="wrap" gap="1">
          <Text fontSize="note" color="var(--soft)">
            {open.ended_at ? `Ended after ${minutes(took)}` : `${minutes(took)} so far`}
          </Text>
          <Button size="xs" variant="outline" onClick={() => void close()}>
            Leave it
          </Button>
        </Flex>
      </div>
      {PLACES.map(([place, title]) => {
        const devices = circuit.devices.filter(
          (device) =>
            catalogue.mounting(device) === place &&
            !["terminal"].includes(catalogue.kind(device.kind)?.group ?? ""),
        );
        return (
          devices.length > 0 && (
            <Fragment key={place}>
              <h2>{title}</h2>
              <ul>
                {devices.map((device) => (
                  <Row key={device.id} device={device} catalogue={catalogue} seen={seen[device.id]} />
                ))}
              </ul>
            </Fragment>
          )
        );
      })}
    </section>
  );
}

export const minutes = (seconds: number): string =>
  seconds < 60
    ? `${seconds} s`
    : `${Math.floor(seconds / 60)} min ${String(seconds % 60).padStart(2, "0")} s`;

interface RowProps {
  readonly device: Device;
  readonly catalogue: Views["catalogue"];
  readonly seen: Entry["seen"][string] | undefined;
}

function Row({ device, catalogue, seen }: RowProps) {
  const kind = catalogue.kind(device.kind);
  const operations = (kind?.operations ?? []).filter((one) => !one.repairs || seen?.attention);
  return (
    <li>
      <div className="exercise-row">
        <strong>{device.label}</strong>
        <span>{device.function || kind?.title}</span>
        <em className={seen?.attention ? "attention" : seen?.active ? "active" : ""} data-says={device.label}>
          {seen?.says}
        </em>
      </div>
      {operations.length > 0 && (
        <div className="exercise-hands">
          {operations.map((operation) => (
            <Hand key={operation.name} device={device} operation={operation} seen={seen} />
          ))}
        </div>
      )}
    </li>
  );
}

function Hand({ device, operation, seen }: { device: Device; operation: Operation; seen: RowProps["seen"] }) {
  const busy = useExercise((state) => state.busy || Boolean(state.open?.ended_at));
  const held = useExercise((state) => heldNow(state.open?.entries ?? [], device.id, operation.name));
  const work = (value: boolean, briefly: boolean): void =>
    void take({ kind: "work", device: device.id, operation: operation.name, value, briefly });
  const title = operation.title.toLowerCase();
  const button = (words: string, act: () => void, pressed?: boolean) => (
    <button
      type="button"
      className={`control${pressed ? " on" : ""}`}
      aria-label={`${words}: ${device.label}, ${title}`}
      aria-pressed={pressed}
      title={operation.caution || operation.title}
      disabled={busy}
      onClick={act}
    >
      {words}
    </button>
  );
  if (operation.style === "momentary")
    return (
      <>
        <span className="hand-name">{title}</span>
        {button("Briefly", () => work(true, true))}
        {held ? button("Let go", () => work(false, false), true) : button("Hold", () => work(true, false))}
      </>
    );
  if (operation.style === "toggle") {
    const on = seen?.on[operation.name] ?? seen?.active ?? false;
    return button(capital(operation.title), () => work(!on, false), on);
  }
  return button(capital(operation.title), () => work(true, false));
}

const capital = (word: string): string => word.charAt(0).toUpperCase() + word.slice(1);

/** Is a button held down by what was recorded last of it? */
function heldNow(entries: readonly Entry[], device: string, operation: string): boolean {
  const last = entries.findLast(
    ({ step }) => step?.kind === "work" && step.device === device && step.operation === operation,
  )?.step;
  return last?.kind === "work" && last.value && !last.briefly;
}
