import { type Circuit, type Conductor, type End, endKey } from "./types";

/** One potential: its wire number, the terminals on it, and the conductors that join them. */
export interface Net {
  readonly number: string;
  readonly ends: readonly End[];
  readonly conductors: readonly Conductor[];
}

/** The potentials of a circuit, numbered as the core numbers them. */
export function findNets(circuit: Circuit): readonly Net[] {
  const leader = new Map<string, string>();
  const find = (key: string): string => {
    let at = key;
    for (let above = leader.get(at); above !== undefined && above !== at; above = leader.get(at)) at = above;
    return at;
  };
  for (const conductor of circuit.conductors) {
    const [a, b] = [find(endKey(conductor.a)), find(endKey(conductor.b))];
    leader.set(a, a);
    leader.set(b, a);
  }
  interface Group {
    ends: Map<string, End>;
    conductors: Conductor[];
    number?: string;
  }
  const groups = new Map<string, Group>();
  for (const conductor of circuit.conductors) {
    const root = find(endKey(conductor.a));
    const group: Group = groups.get(root) ?? { ends: new Map(), conductors: [] };
    groups.set(root, group);
    group.ends.set(endKey(conductor.a), conductor.a).set(endKey(conductor.b), conductor.b);
    group.conductors.push(conductor);
    if (conductor.number && group.number === undefined) group.number = conductor.number;
  }
  const taken = new Set([...groups.values()].map((group) => group.number));
  let count = 0;
  const next = (): string => {
    do count += 1;
    while (taken.has(String(count)));
    return String(count);
  };
  return [...groups.values()].map((group) => ({
    number: group.number ?? next(),
    ends: [...group.ends.values()],
    conductors: group.conductors,
  }));
}

/** The potential of each terminal that has a conductor, by `endKey`. */
export function netsByEnd(nets: readonly Net[]): ReadonlyMap<string, Net> {
  return new Map(nets.flatMap((net) => net.ends.map((end) => [endKey(end), net] as const)));
}
