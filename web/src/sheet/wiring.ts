import { findNets, type Net } from "../circuit/nets";
import {
  type Circuit,
  type Conductor,
  type End,
  endKey,
  type Point,
  type Sheet,
  sameEnd,
} from "../circuit/types";
import { type Box, bodyOf, frameOf, type PlacedPart, type PlacedTerminal } from "./placed";
import { layWires, type Ways, type Wish } from "./router";
import { POLE } from "./symbols/shapes";

/** A conductor as it runs on a sheet. */
export interface Run {
  readonly conductor: Conductor;
  readonly net: Net;
  readonly points: readonly Point[];
}

/** A potential on a sheet: its lines with every stretch once, and its dots. */
export interface DrawnNet {
  readonly net: Net;
  readonly lines: readonly (readonly Point[])[];
  readonly path: string;
  readonly dots: readonly Point[];
}

/** A conductor that goes on elsewhere: a short stub with a note where to. */
export interface Flag {
  readonly conductor: Conductor;
  readonly net: Net;
  readonly at: PlacedTerminal;
  readonly to: End;
  /** Sheet on which the other end is, undefined when it is on none. */
  readonly toSheet: string | undefined;
  /** Where it goes on, in words. */
  readonly note: string;
  /** Does a pole beside it have a flag of its own, so that this one must reach past it? */
  readonly far: boolean;
}

export interface Wiring {
  readonly runs: readonly Run[];
  readonly nets: readonly DrawnNet[];
  /** The ways that the sheet chose itself, by the conductor. */
  readonly ways: Ways;
  readonly flags: readonly Flag[];
}

/** Has the terminal of a flag no other wire on this sheet? */
export function standsAlone(wiring: Pick<Wiring, "runs">, flag: Flag): boolean {
  return !wiring.runs.some(({ conductor }) =>
    [conductor.a, conductor.b].some((end) => sameEnd(end, flag.at.end)),
  );
}

/** How the conductors of a circuit run on one sheet. */
export function wireSheet(
  circuit: Circuit,
  sheet: Sheet,
  parts: readonly PlacedPart[],
  terminals: ReadonlyMap<string, PlacedTerminal>,
  sheetOf: ReadonlyMap<string, string>,
  designation: (end: End) => string,
  nets: readonly Net[] = findNets(circuit),
  before?: Wiring,
): Wiring {
  const wishes: Wish[] = [];
  const flags: Flag[] = [];
  const netOf = new Map<string, number>();
  nets.forEach((net, number) => {
    for (const conductor of net.conductors) {
      const [from, to] = [terminals.get(endKey(conductor.a)), terminals.get(endKey(conductor.b))];
      netOf.set(conductor.id, number);
      if (from && to) wishes.push({ id: conductor.id, net: number, from, to });
      for (const [at, other] of [
        [from, conductor.b],
        [to, conductor.a],
      ] as const) {
        if (at && !terminals.has(endKey(other)))
          flags.push({
            conductor,
            net,
            at,
            to: other,
            toSheet: sheetOf.get(endKey(other)),
            note: `to ${designation(other)}`,
            far: false,
          });
      }
    }
  });
  const ways = layWires(wishes, parts.map(bodyOf), grown(frameOf(parts, sheet)), before?.ways);
  const conductors = new Map(circuit.conductors.map((conductor) => [conductor.id, conductor]));
  const runs = wishes.flatMap((wish): Run[] => {
    const net = nets[netOf.get(wish.id) ?? -1];
    const conductor = conductors.get(wish.id);
    const points = sheet.routes[wish.id]?.map(([x, y]) => ({ x, y })) ?? ways.get(wish.id);
    return net && conductor && points ? [{ conductor, net, points }] : [];
  });
  return {
    runs,
    flags: flags.map((flag) => ({ ...flag, far: isFar(flag, flags) })),
    ways,
    nets: drawNets(runs, before),
  };
}

/** Of neighbouring poles with flags every other one reaches farther. */
function isFar({ at }: Flag, flags: readonly Flag[]): boolean {
  const place = at.anchor.at[0];
  if (Math.round(place / POLE) % 2 === 0) return false;
  return flags.some(
    ({ at: other }) =>
      other.owner === at.owner &&
      other.leaves === at.leaves &&
      other !== at &&
      Math.abs(other.anchor.at[0] - place) <= POLE,
  );
}

const grown = (box: Box): Box => ({
  left: box.left - 2,
  top: box.top - 2,
  right: box.right + 2,
  bottom: box.bottom + 2,
});

/** The lines of each potential; those that are made of the same ways as before stay as they were. */
function drawNets(runs: readonly Run[], before?: Wiring): DrawnNet[] {
  const lines = new Map<Net, (readonly Point[])[]>();
  for (const { net, points } of runs) {
    const known = lines.get(net);
    if (known) known.push(points);
    else lines.set(net, [points]);
  }
  const drawn = new Map<readonly Point[], { old: DrawnNet; count: number }>();
  for (const old of before?.nets ?? [])
    for (const way of old.lines) drawn.set(way, { old, count: old.lines.length });
  return [...lines].map(([net, own]) => {
    const [first] = own;
    const known = first && drawn.get(first);
    const same = known?.count === own.length && own.every((way) => drawn.get(way)?.old === known.old);
    return same ? { ...known.old, net } : { net, lines: own, ...drawNet(own) };
  });
}

/** A number for each place on the grid. */
const key = ({ x, y }: Point): number => (x + 32_768) * 65_536 + y + 32_768;

/** Joins polylines of one potential: each unit of length once, a dot where three meet. */
export function drawNet(lines: readonly (readonly Point[])[]): Omit<DrawnNet, "net" | "lines"> {
  const nodes = new Map<number, Node>();
  const nodeAt = (point: Point): Node => {
    const known = nodes.get(key(point));
    if (known) return known;
    const fresh: Node = { at: point, next: [] };
    nodes.set(key(point), fresh);
    return fresh;
  };
  for (const points of lines)
    for (const [a, b] of unitSteps(points)) {
      const [p, q] = [nodeAt(a), nodeAt(b)];
      if (p.next.includes(q)) continue;
      p.next.push(q);
      q.next.push(p);
    }
  const all = [...nodes.values()];
  const dots = all.filter(({ next }) => next.length >= 3).map(({ at }) => at);
  const chains = chainUp(all);
  const path = chains.map((chain) => `M${chain.map(({ x, y }) => `${x} ${y}`).join("L")}`).join("");
  return { path, dots };
}

/** A place that wires pass, with those that they go on to. */
interface Node {
  readonly at: Point;
  readonly next: Node[];
}

function unitSteps(points: readonly Point[]): [Point, Point][] {
  const steps: [Point, Point][] = [];
  for (let at = 1; at < points.length; at += 1) {
    const [a, b] = [points[at - 1], points[at]];
    if (!a || !b) continue;
    if (a.x !== b.x && a.y !== b.y) {
      steps.push([a, b]);
      continue;
    }
    const length = Math.max(Math.abs(b.x - a.x), Math.abs(b.y - a.y));
    let from = a;
    for (let step = 1; step <= length; step += 1) {
      const to = { x: a.x + ((b.x - a.x) * step) / length, y: a.y + ((b.y - a.y) * step) / length };
      steps.push([from, to]);
      from = to;
    }
  }
  return steps;
}

/** Polylines from corner to corner, so that dashes run through evenly. */
function chainUp(nodes: readonly Node[]): Point[][] {
  const used = new Map<Node, Set<Node>>();
  const isUsed = (a: Node, b: Node): boolean => used.get(a)?.has(b) ?? false;
  const use = (a: Node, b: Node): void => {
    for (const [p, q] of [
      [a, b],
      [b, a],
    ] as const)
      used.set(p, (used.get(p) ?? new Set()).add(q));
  };
  const chains: Point[][] = [];
  const inner = ({ next }: Node): boolean => next.length === 2;
  // From ends and branches first; what is left then are rings.
  for (const start of [...nodes.filter((node) => !inner(node)), ...nodes.filter(inner)]) {
    for (const second of start.next) {
      if (isUsed(start, second)) continue;
      const chain = [start.at];
      let [from, to] = [start, second];
      for (;;) {
        use(from, to);
        chain.push(to.at);
        const here = to;
        const onward = here.next.find((next) => !isUsed(here, next));
        if (!inner(here) || !onward) break;
        [from, to] = [here, onward];
      }
      chains.push(simplified(chain));
    }
  }
  return chains;
}

function simplified(points: readonly Point[]): Point[] {
  return points.filter((point, at) => {
    const [before, after] = [points[at - 1], points[at + 1]];
    if (!before || !after) return true;
    return (after.x - point.x) * (point.y - before.y) !== (after.y - point.y) * (point.x - before.x);
  });
}
