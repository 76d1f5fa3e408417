import { Fragment, useRef } from "react";
import { useBench, useFrame, useTheBench } from "../../bench/context";
import type { BenchFault } from "../../bench/faults";
import { askDevice } from "../../bench/reasons";
import { holdKey, letGoOf, press } from "../../bench/working";
import type { Catalogue } from "../../circuit/catalogue";
import type { Circuit, Device, Frame, Operation } from "../../circuit/types";
import { useUnderWay } from "./predict/underWay";

const PLACES = [
  ["door", "On the door"],
  ["plate", "On the mounting plate"],
  ["field", "In the field"],
] as const;

/** The hands' side of the circuit: everything that can be worked or seen, where it sits. */
export function Door({ circuit, catalogue }: { circuit: Circuit; catalogue: Catalogue }) {
  const frame = useFrame();
  return (
    <section className="door" aria-label="Operator's panel">
      {PLACES.map(([place, title]) => {
        const devices = circuit.devices.filter((device) => {
          const kind = catalogue.kind(device.kind);
          return catalogue.mounting(device) === place && kind?.group !== "terminal";
        });
        return (
          devices.length > 0 && (
            <Fragment key={place}>
              <h2>{title}</h2>
              <ul className={place === "door" ? "panel" : undefined}>
                {devices.map((device) => (
                  <DeviceRow key={device.id} device={device} catalogue={catalogue} frame={frame} />
                ))}
              </ul>
            </Fragment>
          )
        );
      })}
    </section>
  );
}

function DeviceRow({
  device,
  catalogue,
  frame,
}: {
  device: Device;
  catalogue: Catalogue;
  frame: Frame | undefined;
}) {
  const kind = catalogue.kind(device.kind);
  const seen = frame?.devices[device.id];
  const colour = catalogue.params(device)["colour"];
  const operations = (kind?.operations ?? []).filter((o) => !o.repairs || seen?.attention);
  // A selector tells in which of its positions it stands.
  const selects = operations.filter(({ style, name }) => style === "pulse" && name in (seen?.on ?? {}));
  // What takes more room than a button stands below the name.
  const below = operations.length > 1 || operations.some((o) => o.style === "toggle" && !o.handle);
  const control = (operation: Operation) => (
    <Control
      key={operation.name}
      device={device}
      operation={operation}
      frame={frame}
      colour={colour}
      position={selects.includes(operation)}
    />
  );
  const controls = (
    <>
      {selects.length > 0 && (
        <div className="selector" role="group" aria-label={`Positions of ${device.label}`}>
          {selects.map(control)}
        </div>
      )}
      {operations.filter((one) => !selects.includes(one)).map(control)}
    </>
  );
  return (
    <li>
      <div className="door-row">
        <strong>{device.label}</strong>
        <span className="door-function" title={device.function || kind?.title}>
          {device.function || kind?.title}
        </span>
        {kind?.group !== "command" && (
          <Says device={device} says={seen?.says ?? ""} attention={seen?.attention ?? false} />
        )}
        {kind?.group === "signal" && <Lens lit={seen?.active ?? false} colour={String(colour)} />}
        {!below && controls}
      </div>
      {below && <div className="door-controls">{controls}</div>}
      <LoadChoice device={device} catalogue={catalogue} />
    </li>
  );
}

/** What the machine asks of a motor, in percent of its rated torque. */
const CHOICES = [
  ["0", "no load"],
  ["30", "light load"],
  ["100", "rated load"],
  ["150", "overloaded"],
  ["stuck", "jammed"],
] as const;
/** The hand on a motor's load: what the machine that it drives asks of it from now on, in percent, or that it is stuck. */
function LoadChoice({ device, catalogue }: { device: Device; catalogue: Catalogue }) {
  const bench = useTheBench();
  const faults = useBench((state) => state.faults);
  const driven = catalogue.kind(device.kind)?.params.find((param) => param.driven);
  if (!driven) return null;
  const asked = ({ fault }: BenchFault): string | undefined => {
    if (fault.place !== device.id) return undefined;
    if (fault.kind === "stuck") return "stuck";
    return fault.kind === "setting" && fault.name === driven.name ? String(fault.value) : undefined;
  };
  const mine = faults.filter((one) => asked(one) !== undefined);
  const choose = (value: string): void => {
    for (const { id } of mine) bench.takeOutFault(id);
    const title = CHOICES.find(([one]) => one === value)?.[1] ?? "";
    const base = { start_us: 0, slot_us: 0, seed: 0, place: device.id };
    const words = `${device.label}, load: ${title}`;
    if (value === "stuck") bench.putFault({ ...base, kind: "stuck" }, words);
    else if (value)
      bench.putFault({ ...base, kind: "setting", name: driven.name, value: Number(value) }, words);
  };
  const now = mine[0] && asked(mine[0]);
  return (
    <select
      className="door-load"
      aria-label={`Load of ${device.label}`}
      value={CHOICES.some(([value]) => value === now) ? now : ""}
      onChange={(event) => choose(event.target.value)}
    >
      <option value="">load as set</option>
      {CHOICES.map(([value, title]) => (
        <option key={value} value={value}>
          {title}
        </option>
      ))}
    </select>
  );
}

/** How a device stands; pressed, it says why. While somebody predicts, it only stands there. */
function Says({ device, says, attention }: { device: Device; says: string; attention: boolean }) {
  const bench = useTheBench();
  const predicts = useUnderWay((state) => state.pane === "predict");
  const look = attention ? "door-says attention" : "door-says";
  if (predicts || !says)
    return (
      <span className={look} data-says={device.label}>
        {says}
      </span>
    );
  return (
    <button
      type="button"
      className={look}
      data-says={device.label}
      aria-label={`${says}: why does ${device.label} say so?`}
      title={`Why ${says}?`}
      onClick={() => void askDevice(bench, device.id)}
    >
      {says}
    </button>
  );
}

function Lens({ lit, colour }: { lit: boolean; colour: string }) {
  return (
    <svg width="26" height="26" viewBox="0 0 30 30" aria-hidden>
      <circle
        cx="15"
        cy="15"
        r="12"
        fill={`var(--lens-${colour})`}
        fillOpacity={lit ? 1 : 0.15}
        stroke="var(--ink)"
        strokeWidth="1.5"
      />
      {lit && <path d="M15 0v4M15 26v4M0 15h4M26 15h4" stroke="var(--ink)" strokeWidth="2" />}
    </svg>
  );
}

interface ControlProps {
  readonly device: Device;
  readonly operation: Operation;
  readonly frame: Frame | undefined;
  readonly colour: boolean | number | string | undefined;
  /** Is it one of the positions of a selector? */
  readonly position: boolean;
}

function Control({ device, operation, frame, colour, position }: ControlProps) {
  const bench = useTheBench();
  const held = useBench((bench) => bench.held.has(holdKey(device.id, operation.name)));
  const seen = frame?.devices[device.id];
  const toggle = operation.style === "toggle";
  const momentary = operation.style === "momentary";
  const own = seen?.on[operation.name];
  const on = (position && (own ?? false)) || (toggle && (own ?? seen?.active ?? false));
  const words = toggle ? legend(operation, on) : momentary ? operation.mark : capital(operation.name);
  const told = `${device.label} ${device.function || ""} ${operation.title}`.replace(/\s+/g, " ");
  // What stands on the control is part of its name, so that it can be called by it.
  const name = momentary || told.toLowerCase().includes(words.toLowerCase()) ? told : `${told}, ${words}`;
  const down = (latch: boolean): void => press(bench, device, operation, frame, latch);
  const byKey = useRef(false);
  const up = (): void => {
    byKey.current = false;
    letGoOf(bench, device.id, operation);
  };
  return (
    <button
      type="button"
      className={`control ${operation.style}${held ? " held" : ""}${on ? " on" : ""}${seen?.attention && own === undefined ? " attention" : ""}`}
      style={typeof colour === "string" && momentary ? { background: `var(--lens-${colour})` } : undefined}
      aria-label={name}
      aria-pressed={momentary ? held : toggle || position ? on : undefined}
      title={
        operation.caution
          ? `${operation.title}. ${operation.caution}`
          : `${operation.title}${momentary ? " (hold; shift-click latches)" : ""}`
      }
      onPointerDown={(event) => {
        if (event.button !== 0) return;
        event.currentTarget.setPointerCapture(event.pointerId);
        down(event.shiftKey);
      }}
      onPointerUp={up}
      onPointerCancel={up}
      onKeyDown={(event) => {
        if (event.key !== "Enter" && event.key !== " ") return;
        event.preventDefault();
        if (event.repeat) return;
        byKey.current = true;
        down(event.shiftKey);
      }}
      onKeyUp={(event) => {
        if (event.key === "Enter" || event.key === " ") up();
      }}
      onBlur={() => {
        // A key that is let go elsewhere tells nobody; a pointer goes on holding.
        if (byKey.current) up();
      }}
      onContextMenu={(event) => event.preventDefault()}
    >
      {words}
    </button>
  );
}

/** A device's handle says where it stands; a toggle beside it says what it is: short where it is one of several. */
const legend = (operation: Operation, on: boolean): string =>
  operation.handle
    ? on
      ? "I"
      : "O"
    : operation.name.length <= 4 && !WORDS.test(operation.name)
      ? capital(operation.name)
      : operation.title;

/** Names that say what a hand does, not what there is: those are told by their titles. */
const WORDS = /^(heat|press|raise|turn)$/;

const capital = (word: string): string => word.charAt(0).toUpperCase() + word.slice(1);
