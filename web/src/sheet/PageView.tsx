import { memo } from "react";
import type { Catalogue } from "../circuit/catalogue";
import type { Net } from "../circuit/nets";
import { type End, endKey, type Frame, type Standing } from "../circuit/types";
import { flagLine, pathOf } from "./flags";
import { TITLE_HEIGHT } from "./layout";
import { PartView } from "./PartView";
import type { Caption, Page } from "./page";
import type { PlacedPart, PlacedTerminal } from "./placed";
import { type Flag, standsAlone } from "./wiring";

interface Props {
  readonly page: Page;
  readonly catalogue: Catalogue;
  /** The present moment; undefined draws the circuit at rest, as on paper. */
  readonly frame: Frame | undefined;
  /** Show the drawing grid. */
  readonly grid: boolean;
  readonly chattering: ReadonlySet<string>;
  readonly selectedParts: ReadonlySet<string>;
  readonly selectedWire: string | undefined;
  readonly pointedPart: string | undefined;
  readonly pointedTerminal: string | undefined;
  readonly workable: (part: PlacedPart) => boolean;
  /** Devices to which the checks have something to say. */
  readonly marked?: ReadonlySet<string>;
  /** Devices that have just changed. */
  readonly changed?: ReadonlySet<string>;
  /** Without a frame: what an eye sees of each device, and nothing else of how the circuit stands. */
  readonly seen?: Readonly<Record<string, Sight>> | undefined;
}

/** One sheet: frame, wires, parts, terminals, flags. */
export const PageView = memo(function PageView(props: Props) {
  const { page, frame } = props;
  const { shift } = page;
  const standing = (end: End): Standing | undefined => frame?.terminals[end.device]?.[end.terminal]?.standing;
  return (
    <g transform={`translate(${shift.x} ${shift.y})`}>
      <Paper page={page} grid={props.grid} />
      <Wires page={page} standing={standing} selected={props.selectedWire} />
      {page.parts.map((part) => (
        <PartView
          key={part.key}
          part={part}
          catalogue={props.catalogue}
          look={frame ? lookOf(part, frame, props.chattering) : atSight(part, props.seen)}
          selected={props.selectedParts.has(part.key)}
          pointed={props.pointedPart === part.key}
          workable={props.workable(part)}
          marked={props.marked?.has(part.device.id) ?? false}
          changed={props.changed?.has(part.device.id) ?? false}
        />
      ))}
      {page.wiring.flags.map((flag) => (
        <FlagView
          key={flag.conductor.id}
          flag={flag}
          alone={standsAlone(page.wiring, flag)}
          standing={standing}
        />
      ))}
      <Captions captions={page.captions} />
      {[...page.terminals.values()].map((terminal) => (
        <TerminalView
          key={endKey(terminal.end)}
          terminal={terminal}
          standing={standing(terminal.end)}
          pointed={props.pointedTerminal === endKey(terminal.end)}
        />
      ))}
    </g>
  );
});

/** What an eye sees of a device: lit, pulled in, tripped, turning. Its contacts are drawn at rest. */
export interface Sight {
  readonly active: boolean;
  readonly attention: boolean;
  readonly says: string;
}

/** The look of the part that leads a device, where only what an eye sees is to be told. */
function atSight(part: PlacedPart, seen: Readonly<Record<string, Sight>> | undefined) {
  const sight = seen?.[part.device.id];
  if (!sight || !part.part.leads) return undefined;
  const moves = part.part.does === "turns" && (sight.active || sight.attention);
  return {
    ...sight,
    sight: true,
    closed: undefined,
    chatters: false,
    turning: moves ? sight.says : undefined,
  };
}

function lookOf(part: PlacedPart, frame: Frame, chattering: ReadonlySet<string>) {
  const seen = frame.devices[part.device.id];
  if (!seen) return undefined;
  return {
    closed: part.part.branches.map((branch) => seen.closed[branch] ?? true),
    active: seen.active,
    attention: seen.attention,
    says: chattering.has(part.device.id) ? "chatters" : seen.says,
    chatters: chattering.has(part.device.id),
    turning: besideOf(part.part.does, seen),
  };
}

/** What stands beside a part while it works: of a motor its speed, of a converter its frequency. */
function besideOf(does: string, seen: Frame["devices"][string]): string | undefined {
  if (does === "turns") return turningOf(seen);
  const hertz = does === "converts" ? seen.figures.find(({ unit }) => unit === "Hz")?.value : undefined;
  return hertz ? `${hertz.toFixed(1)} Hz` : undefined;
}

/** Which way a motor turns and how fast, in a word; nothing while it stands still. */
function turningOf({ figures }: Frame["devices"][string]): string | undefined {
  const speed = figures.find(({ unit }) => unit === "rpm")?.value ?? 0;
  if (Math.abs(speed) < 1) return undefined;
  return `${speed > 0 ? "\u21bb" : "\u21ba"} ${Math.abs(speed).toFixed(0)} rpm`;
}

const STANDING_WORDS: Readonly<Record<Standing, string>> = {
  live: "live",
  neutral: "neutral",
  earth: "earth",
  load: "only through a load",
  none: "no reference",
};

const TerminalView = memo(function TerminalView(props: {
  terminal: PlacedTerminal;
  standing: Standing | undefined;
  pointed: boolean;
}) {
  const { terminal, standing } = props;
  const { device, part } = terminal.owner;
  const key = `${device.label}:${terminal.end.terminal}`;
  const marking = terminal.owner.markings[part.terminals.indexOf(terminal.end.terminal)];
  const name = `${device.label}:${marking ?? terminal.end.terminal}`;
  return (
    <circle
      className={props.pointed ? "terminal pointed" : "terminal"}
      cx={terminal.x}
      cy={terminal.y}
      r={props.pointed ? 0.45 : 0.22}
      role="img"
      aria-label={standing ? `Terminal ${name}, ${STANDING_WORDS[standing]}` : `Terminal ${name}`}
      data-terminal={key}
    />
  );
});

/** A short stub that says that the wire goes on elsewhere. */
function FlagView(props: { flag: Flag; alone: boolean; standing: (end: End) => Standing | undefined }) {
  const { stub, mark, dot } = flagLine(props.flag, props.alone);
  const kind = props.standing(props.flag.at.end) ?? "";
  return (
    <g>
      <path className={`wire ${kind}`} d={pathOf(stub)} />
      {dot && <circle className={`dot ${kind}`} cx={dot.x} cy={dot.y} r={0.3} />}
      <path className="flag-mark" d={pathOf(mark)} />
    </g>
  );
}

/** All words of a sheet. */
const Captions = memo(function Captions({ captions }: { captions: readonly Caption[] }) {
  return (
    <>
      {captions.map(({ kind, key, x, y, align, text }) => (
        <text key={key} className={`caption ${kind}`} x={x} y={y} textAnchor={align} data-caption={key}>
          {text}
        </text>
      ))}
    </>
  );
});

/** The paper: frame, grid, title. */
function Paper({ page, grid }: { page: Page; grid: boolean }) {
  const { frame: box } = page;
  return (
    <>
      <rect
        className="page"
        x={box.left}
        y={box.top}
        width={box.right - box.left}
        height={box.bottom - box.top}
      />
      {grid && (
        <rect
          className="page-grid"
          x={box.left}
          y={box.top + TITLE_HEIGHT}
          width={box.right - box.left}
          height={box.bottom - box.top - TITLE_HEIGHT}
        />
      )}
      <text className="page-title" x={box.left + 1.2} y={box.top + 2}>
        {page.sheet.title}
      </text>
    </>
  );
}

interface WiresProps {
  readonly page: Page;
  readonly standing: (end: End) => Standing | undefined;
  readonly selected: string | undefined;
}

/** Wires by potential, and the one that is selected. */
function Wires({ page, standing, selected }: WiresProps) {
  const netStanding = (net: Net): Standing | undefined => net.ends[0] && standing(net.ends[0]);
  return (
    <>
      {page.wiring.runs.map(
        (run) =>
          run.conductor.id === selected && (
            <path
              key={run.conductor.id}
              className="wire-hit selected"
              d={`M${run.points.map(({ x, y }) => `${x} ${y}`).join("L")}`}
            />
          ),
      )}
      {page.wiring.nets.map(({ net, path, dots }) => (
        <g key={net.conductors[0]?.id} data-wire={net.number} data-standing={netStanding(net)}>
          <path className={`wire ${netStanding(net) ?? ""}`} d={path} />
          {dots.map(({ x, y }) => (
            <circle key={`${x},${y}`} className={`dot ${netStanding(net) ?? ""}`} cx={x} cy={y} r={0.3} />
          ))}
        </g>
      ))}
    </>
  );
}
