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
import { layWires, type Wish } from "./router";

/** A conductor as it runs on a sheet. */
export interface Run {
  readonly conductor: Conductor;
  readonly net: Net;
  readonly points: readonly Point[];
}

/** A potential on a sheet: its lines with every stretch once, its dots, and where its number stands. */
export interface DrawnNet {
  readonly net: Net;
  readonly path: string;
  readonly dots: readonly Point[];
  readonly number: (Point & { readonly upright: boolean }) | undefined;
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
}

export interface Wiring {
  readonly runs: readonly Run[];
  readonly nets: readonly DrawnNet[];
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
  clamp: (end: End) => string,
): Wiring {
  const nets = findNets(circuit);
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
            note: `to ${clamp(other)}`,
          });
      }
    }
  });
  const laid = layWires(wishes, parts.map(bodyOf), grown(frameOf(parts, sheet)));
  const runs = wishes.flatMap((wish): Run[] => {
    const net = nets[netOf.get(wish.id) ?? -1];
    const conductor = net?.conductors.find((c) => c.id === wish.id);
    const points = sheet.routes[wish.id]?.map(([x, y]) => ({ x, y })) ?? laid.get(wish.id);
    return net && conductor && points ? [{ conductor, net, points }] : [];
  });
  return { runs, flags, nets: drawNets(nets, runs) };
}

const grown = (box: Box): Box => ({
  left: box.left - 2,
  top: box.top - 2,
  right: box.right + 2,
  bottom: box.bottom + 2,
});

function drawNets(nets: readonly Net[], runs: readonly Run[]): DrawnNet[] {
  return nets.flatMap((net) => {
    const lines = runs.filter((run) => run.net === net).map((run) => run.points);
    return lines.length ? [{ net, ...drawNet(lines) }] : [];
  });
}

const key = (x: number, y: number): string => `${x},${y}`;

/** Joins polylines of one potential: each unit of length once, a dot where three meet. */
export function drawNet(lines: readonly (readonly Point[])[]): Omit<DrawnNet, "net"> {
  const nodes = new Map<string, Point>();
  const neighbours = new Map<string, Set<string>>();
  const joinUp = (a: Point, b: Point): void => {
    for (const [p, q] of [
      [a, b],
      [b, a],
    ] as const) {
      nodes.set(key(p.x, p.y), p);
      const set = neighbours.get(key(p.x, p.y)) ?? new Set();
      neighbours.set(key(p.x, p.y), set.add(key(q.x, q.y)));
    }
  };
  for (const points of lines) for (const [a, b] of unitSteps(points)) joinUp(a, b);
  const dots = [...neighbours].filter(([, set]) => set.size >= 3).flatMap(([at]) => nodes.get(at) ?? []);
  const chains = chainUp(nodes, neighbours);
  const path = chains.map((chain) => `M${chain.map(({ x, y }) => `${x} ${y}`).join("L")}`).join("");
  return { path, dots, number: numberSpot(chains) };
}

function unitSteps(points: readonly Point[]): [Point, Point][] {
  const steps: [Point, Point][] = [];
  for (let at = 1; at < points.length; at += 1) {
    const [a, b] = [points[at - 1], points[at]];
    if (!a || !b) continue;
    const length = Math.max(Math.abs(b.x - a.x), Math.abs(b.y - a.y));
    const orthogonal = a.x === b.x || a.y === b.y;
    if (!orthogonal) steps.push([a, b]);
    else
      for (let step = 0; step < length; step += 1) {
        const along = (share: number): Point => ({
          x: a.x + ((b.x - a.x) * share) / length,
          y: a.y + ((b.y - a.y) * share) / length,
        });
        steps.push([along(step), along(step + 1)]);
      }
  }
  return steps;
}

/** Polylines from corner to corner, so that dashes run through evenly. */
function chainUp(
  nodes: ReadonlyMap<string, Point>,
  neighbours: ReadonlyMap<string, ReadonlySet<string>>,
): Point[][] {
  const used = new Set<string>();
  const edge = (a: string, b: string): string => (a < b ? `${a}|${b}` : `${b}|${a}`);
  const chains: Point[][] = [];
  const starts = [...neighbours.keys()].sort(
    (a, b) => Number(neighbours.get(a)?.size === 2) - Number(neighbours.get(b)?.size === 2),
  );
  for (const start of starts) {
    for (const second of neighbours.get(start) ?? []) {
      if (used.has(edge(start, second))) continue;
      const chain = [start];
      let [from, to] = [start, second];
      for (;;) {
        used.add(edge(from, to));
        chain.push(to);
        const onward = [...(neighbours.get(to) ?? [])].filter((next) => !used.has(edge(to, next)));
        if (neighbours.get(to)?.size !== 2 || onward[0] === undefined) break;
        [from, to] = [to, onward[0]];
      }
      chains.push(simplified(chain.flatMap((at) => nodes.get(at) ?? [])));
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

/** The number stands beside the longest straight stretch, an upright one by preference. */
function numberSpot(chains: readonly Point[][]): DrawnNet["number"] {
  let best: { a: Point; b: Point; worth: number } | undefined;
  for (const chain of chains)
    for (let at = 1; at < chain.length; at += 1) {
      const [a, b] = [chain[at - 1], chain[at]];
      if (!a || !b) continue;
      const length = Math.abs(a.x - b.x) + Math.abs(a.y - b.y);
      const worth = a.x === b.x ? length + 2 : length;
      if (!best || worth > best.worth) best = { a, b, worth };
    }
  if (!best) return undefined;
  const { a, b } = best;
  return { x: (a.x + b.x) / 2, y: (a.y + b.y) / 2, upright: a.x === b.x };
}
