import type { Point } from "../circuit/types";
import { Heap } from "./heap";
import type { Box } from "./placed";
import type { Direction } from "./symbols/shapes";

/** A wire to be laid: from one terminal to the other, with the direction in which each is left. */
export interface Wish {
  readonly id: string;
  readonly net: number;
  readonly from: Point & { readonly leaves: Direction };
  readonly to: Point & { readonly leaves: Direction };
}

const STEP: Readonly<Record<Direction, readonly [number, number]>> = {
  up: [0, -1],
  right: [1, 0],
  down: [0, 1],
  left: [-1, 0],
};
const DIRECTIONS: readonly Direction[] = ["up", "right", "down", "left"];
const index = (direction: Direction): number => DIRECTIONS.indexOf(direction);
const opposite = (direction: number): number => (direction + 2) % 4;

const COST = { step: 1, shared: 0.3, bend: 2.2, crossing: 4, label: 1.2 } as const;

/** A way as it was laid before, by the wire. */
export type Ways = ReadonlyMap<string, readonly Point[]>;

/**
 * Lays wires orthogonally on the grid, around the bodies, sharing the way with wires of their own
 * potential and crossing others only straight. Every wire comes back as its corner points. A wire
 * stays where it lay before, as the same points, as long as nothing stands or lies in its way.
 */
export function layWires(
  wishes: readonly Wish[],
  bodies: readonly Box[],
  frame: Box,
  before: Ways = new Map(),
): Ways {
  if (before.size === 0) return layAnew(wishes, bodies, frame);
  const first = layAround(wishes, new Ground(frame, bodies, wishes), before);
  if (first.stuck.length === 0) return first.laid;
  // What lies about a wire that found no way makes room for it.
  const rooms = first.stuck.map(roomOf);
  const far = [...before].filter(([, way]) => !way.some((at) => rooms.some((room) => isWithin(at, room))));
  const second = layAround(wishes, new Ground(frame, bodies, wishes), new Map(far), first.stuck);
  if (second.stuck.length === 0 || wishes.length > MANY) return second.laid;
  return layAnew(wishes, bodies, frame);
}

/** Wires that are not all laid anew because one finds no way: that takes seconds. */
const MANY = 150;

/** Lay wires around those that stay where they lay; `urgent` ones first. */
function layAround(
  wishes: readonly Wish[],
  ground: Ground,
  before: Ways,
  urgent: readonly Wish[] = [],
): { laid: Ways; stuck: Wish[] } {
  const kept = new Map<string, readonly Point[]>();
  for (const wish of wishes) {
    const way = before.get(wish.id);
    const nodes = way && ground.stillOpen(way, wish);
    if (!way || !nodes) continue;
    ground.occupy(nodes, wish.net);
    kept.set(wish.id, way);
  }
  const rest = wishes.filter((wish) => !kept.has(wish.id) && !urgent.includes(wish));
  const fresh = layInOrder([...urgent.filter(({ id }) => !kept.has(id)), ...byLength(rest)], ground);
  return { laid: new Map([...kept, ...fresh.laid]), stuck: fresh.stuck };
}

/** Modules about the ends of a wire within which others make room. */
const ROOM = 6;

const roomOf = ({ from, to }: Wish): Box => ({
  left: Math.min(from.x, to.x) - ROOM,
  top: Math.min(from.y, to.y) - ROOM,
  right: Math.max(from.x, to.x) + ROOM,
  bottom: Math.max(from.y, to.y) + ROOM,
});

const isWithin = ({ x, y }: Point, { left, top, right, bottom }: Box): boolean =>
  x >= left && x <= right && y >= top && y <= bottom;

const byLength = (wishes: readonly Wish[]): Wish[] =>
  wishes
    .map((wish, position) => ({ wish, position, length: distance(wish) }))
    .sort((p, q) => p.length - q.length || p.position - q.position)
    .map(({ wish }) => wish);

function layAnew(wishes: readonly Wish[], bodies: readonly Box[], frame: Box): Ways {
  let order = byLength(wishes);
  let best = layInOrder(order, new Ground(frame, bodies, wishes));
  // A wire that found no way is laid first the next time.
  for (let again = 0; again < ATTEMPTS && best.stuck.length; again += 1) {
    const { stuck } = best;
    order = [...stuck, ...order.filter((wish) => !stuck.includes(wish))];
    const next = layInOrder(order, new Ground(frame, bodies, wishes));
    if (next.stuck.length < best.stuck.length) best = next;
  }
  return best.laid;
}

const ATTEMPTS = 4;

/**
 * Lay the wires one after the other; one without a way is drawn straight, for all to see. Where a part
 * stands before its terminal no other order would help, and it does not count as stuck.
 */
function layInOrder(order: readonly Wish[], ground: Ground): { laid: Ways; stuck: Wish[] } {
  const laid = new Map<string, readonly Point[]>();
  const stuck: Wish[] = [];
  for (const wish of order) {
    const nodes = ground.find(wish);
    if (nodes) ground.occupy(nodes, wish.net);
    else if (!ground.isShutIn(wish)) stuck.push(wish);
    laid.set(wish.id, nodes ? corners(nodes.map((node) => ground.point(node))) : [wish.from, wish.to]);
  }
  return { laid, stuck };
}

function distance({ from, to }: Wish): number {
  const straight = from.x === to.x || from.y === to.y ? 0 : 1000;
  return straight + Math.abs(from.x - to.x) + Math.abs(from.y - to.y);
}

/** The grid with what stands and lies on it. */
class Ground {
  private readonly width: number;
  private readonly height: number;
  private readonly blocked: Uint8Array;
  private readonly dear: Uint8Array;
  /** Per node the net that passes it level or upright, 0 for none; a corner or an end takes both. */
  private readonly level: Int32Array;
  private readonly upright: Int32Array;
  /** Cost and origin of each state of the present search; only those that bear its number count. */
  private readonly best: Float64Array;
  private readonly cameFrom: Int32Array;
  private readonly search: Int32Array;
  private searches = 0;

  constructor(
    private readonly frame: Box,
    bodies: readonly Box[],
    wishes: readonly Wish[],
  ) {
    this.width = frame.right - frame.left + 1;
    this.height = frame.bottom - frame.top + 1;
    const size = this.width * this.height;
    this.blocked = new Uint8Array(size);
    this.dear = new Uint8Array(size);
    this.level = new Int32Array(size);
    this.upright = new Int32Array(size);
    this.best = new Float64Array(4 * size);
    this.cameFrom = new Int32Array(4 * size);
    this.search = new Int32Array(4 * size);
    for (const body of bodies) {
      this.mark(this.blocked, body);
      this.mark(this.dear, { ...body, left: body.left - 4, top: body.top + 1, bottom: body.bottom - 1 });
    }
    for (const { from, to } of wishes) for (const end of [from, to]) this.blocked[this.node(end)] = 1;
  }

  point(node: number): Point {
    return { x: (node % this.width) + this.frame.left, y: Math.floor(node / this.width) + this.frame.top };
  }

  private node({ x, y }: Point): number {
    return (y - this.frame.top) * this.width + (x - this.frame.left);
  }

  private mark(plane: Uint8Array, box: Box): void {
    for (let y = Math.ceil(box.top); y <= Math.floor(box.bottom); y += 1)
      for (let x = Math.ceil(box.left); x <= Math.floor(box.right); x += 1)
        if (x >= this.frame.left && x <= this.frame.right && y >= this.frame.top && y <= this.frame.bottom)
          plane[this.node({ x, y })] = 1;
  }

  occupy(nodes: readonly number[], net: number): void {
    nodes.forEach((node, position) => {
      const [before, after] = [nodes[position - 1], nodes[position + 1]];
      const straight = before !== undefined && after !== undefined && node - before === after - node;
      const sideways = straight && Math.abs(after - node) === 1;
      if (!straight || sideways) this.level[node] = net + 1;
      if (!straight || !sideways) this.upright[node] = net + 1;
    });
  }

  /** Cheapest way as a list of nodes, or undefined where there is none (A* over node and direction). */
  find(wish: Wish): number[] | undefined {
    const [start, goal] = [this.node(wish.from), this.node(wish.to)];
    const arriving = opposite(index(wish.to.leaves));
    this.searches += 1;
    const queue = new Heap();
    const first = start * 4 + index(wish.from.leaves);
    this.reach(first, 0, -1);
    queue.push(first, 0);
    for (let state = queue.pop(); state !== undefined; state = queue.pop()) {
      const [node, heading] = [state >> 2, state & 3];
      if (node === goal && heading === arriving) return this.trace(state);
      for (let turn = 0; turn < 4; turn += 1) {
        if (turn === opposite(heading) || (node === start && turn !== heading)) continue;
        const next = this.neighbour(node, turn);
        if (next < 0) continue;
        const cost = this.cost(node, next, heading, turn, wish.net + 1, goal);
        const reached = next * 4 + turn;
        const total = this.costOf(state) + cost;
        if (total < this.costOf(reached)) {
          this.reach(reached, total, state);
          queue.push(reached, total + COST.shared * this.left(next, goal));
        }
      }
    }
    return undefined;
  }

  private cost(node: number, next: number, heading: number, turn: number, net: number, goal: number): number {
    if (this.blocked[next] && next !== goal) return Infinity;
    const bends = turn !== heading;
    const [levelHere, uprightHere] = [this.level[node] ?? 0, this.upright[node] ?? 0];
    const foreign = (other: number): boolean => other !== 0 && other !== net;
    // A corner needs the node for itself; so does the end of the way.
    if (bends && (foreign(levelHere) || foreign(uprightHere))) return Infinity;
    const sideways = turn % 2 === 1;
    const along = (sideways ? this.level : this.upright)[next] ?? 0;
    const across = (sideways ? this.upright : this.level)[next] ?? 0;
    if (foreign(along) || (next === goal && foreign(across))) return Infinity;
    const shares = along === net && (sideways ? levelHere : uprightHere) === net;
    let cost: number = shares ? COST.shared : COST.step + (this.dear[next] ? COST.label : 0);
    if (foreign(across)) cost += COST.crossing;
    return cost + (bends ? COST.bend : 0);
  }

  private neighbour(node: number, direction: number): number {
    const [dx, dy] = STEP[DIRECTIONS[direction] ?? "up"];
    const [x, y] = [(node % this.width) + dx, Math.floor(node / this.width) + dy];
    return x < 0 || y < 0 || x >= this.width || y >= this.height ? -1 : y * this.width + x;
  }

  private left(node: number, goal: number): number {
    const [p, q] = [this.point(node), this.point(goal)];
    return Math.abs(p.x - q.x) + Math.abs(p.y - q.y);
  }

  /** Does something stand right before one of the terminals? */
  isShutIn({ from, to }: Wish): boolean {
    const [start, goal] = [this.node(from), this.node(to)];
    const [out, into] = [this.neighbour(start, index(from.leaves)), this.neighbour(goal, index(to.leaves))];
    const shut = (node: number, other: number): boolean =>
      node < 0 || (this.blocked[node] === 1 && node !== other);
    return shut(out, goal) || shut(into, start);
  }

  private costOf(state: number): number {
    return this.search[state] === this.searches ? (this.best[state] ?? Infinity) : Infinity;
  }

  private reach(state: number, cost: number, from: number): void {
    this.search[state] = this.searches;
    this.best[state] = cost;
    this.cameFrom[state] = from;
  }

  private trace(last: number): number[] {
    const nodes = [];
    for (let state = last; state >= 0; state = this.cameFrom[state] ?? -1) nodes.push(state >> 2);
    return nodes.reverse();
  }

  /** The nodes of a way laid before, if it still leads from end to end and nothing is on it. */
  stillOpen(way: readonly Point[], { from, to, net }: Wish): number[] | undefined {
    const [first, second, last, before] = [way[0], way[1], way.at(-1), way.at(-2)];
    if (!first || !second || !last || !before) return undefined;
    if (!leads(first, second, from) || !leads(last, before, to)) return undefined;
    const nodes = this.nodesOf(way);
    if (!nodes) return undefined;
    const foreign = (other: number | undefined): boolean => other !== 0 && other !== net + 1;
    const open = nodes.every((node, position) => {
      const [previous, next] = [nodes[position - 1], nodes[position + 1]];
      const inner = previous !== undefined && next !== undefined;
      if (inner && this.blocked[node]) return false;
      const straight = inner && node - previous === next - node;
      const sideways = straight && Math.abs(next - node) === 1;
      if (!straight) return !foreign(this.level[node]) && !foreign(this.upright[node]);
      return !foreign(sideways ? this.level[node] : this.upright[node]);
    });
    return open ? nodes : undefined;
  }

  /** Every node along corner points; undefined where they leave the ground or run askew. */
  private nodesOf(way: readonly Point[]): number[] | undefined {
    const nodes: number[] = [];
    for (let at = 0; at < way.length; at += 1) {
      const [a, b] = [way[at], way[at + 1]];
      if (!a || a.x < this.frame.left || a.y < this.frame.top) return undefined;
      if (a.x > this.frame.right || a.y > this.frame.bottom) return undefined;
      if (!b) nodes.push(this.node(a));
      else if (a.x !== b.x && a.y !== b.y) return undefined;
      else {
        const length = Math.abs(b.x - a.x) + Math.abs(b.y - a.y);
        const [dx, dy] = [Math.sign(b.x - a.x), Math.sign(b.y - a.y)];
        for (let step = 0; step < length; step += 1)
          nodes.push(this.node({ x: a.x + dx * step, y: a.y + dy * step }));
      }
    }
    return nodes;
  }
}

/** Does a way begin at a terminal, in the direction in which its wires leave? */
function leads(first: Point, second: Point, { x, y, leaves }: Wish["from"]): boolean {
  const [dx, dy] = STEP[leaves];
  return first.x === x && first.y === y && Math.sign(second.x - x) === dx && Math.sign(second.y - y) === dy;
}

function corners(points: readonly Point[]): Point[] {
  return points.filter((point, at) => {
    const [before, after] = [points[at - 1], points[at + 1]];
    if (!before || !after) return true;
    return (after.x - point.x) * (point.y - before.y) !== (after.y - point.y) * (point.x - before.x);
  });
}
