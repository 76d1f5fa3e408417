import { type Catalogue, freeId } from "./catalogue";
import { findNets } from "./nets";
import { type Circuit, type Conductor, type End, endKey, sameEnd } from "./types";

/** Symbols of contacts: taken out of a row, the wire may go through where they stood. */
export const CONTACTS =
  /^(contact|push|thermal|emergency|turn|limit|float|pressure|temperature|breaker|fuse)_/;

/**
 * The wires that close the gaps a device would leave: a potential that only ran on over one of its
 * clamps stays whole, and where one of its contacts stood in a row of two the row is joined again.
 * With `only` a single part of it goes.
 */
export function healing(circuit: Circuit, id: string, catalogue: Catalogue, only?: string): Conductor[] {
  const device = circuit.devices.find((d) => d.id === id);
  if (!device) return [];
  const going = catalogue.parts(device).filter((part) => only === undefined || part.name === only);
  const clamps = only === undefined ? catalogue.terminals(device) : going.flatMap((part) => part.terminals);
  const bridges = going
    .filter((part) => part.terminals.length === 2 && CONTACTS.test(part.symbol))
    .flatMap((part) => inSeries(circuit, id, part.terminals));
  const kept: Conductor[] = [];
  for (const terminal of clamps) {
    const here = { device: id, terminal };
    const others = circuit.conductors.flatMap((wire) => far(wire, here));
    others.slice(1).forEach(({ wire, end }, index) => {
      const before = others[index];
      if (before && before.end.device !== id && end.device !== id && !sameEnd(before.end, end))
        kept.push({ ...wire, id: wire.id, a: before.end, b: end });
    });
  }
  const taken = circuit.conductors.map((wire) => wire.id);
  return [...kept, ...bridges].map((wire) => {
    const fresh = freeId(taken, "w");
    taken.push(fresh);
    return { ...wire, id: fresh };
  });
}

/** The wire that takes the place of a contact in a row: one of its potentials has no other branch. */
function inSeries(circuit: Circuit, id: string, terminals: readonly string[]): Conductor[] {
  const nets = findNets(circuit);
  const [first, second] = terminals.map((terminal) => ({ device: id, terminal }));
  if (!first || !second) return [];
  const sides = [first, second].map((end) =>
    nets.find((net) => net.ends.some((other) => sameEnd(other, end))),
  );
  const plain = sides.some((net) => net?.ends.length === 2);
  const [above, below] = [first, second].map(
    (end) => circuit.conductors.flatMap((wire) => far(wire, end))[0],
  );
  if (!plain || !above || !below || above.end.device === id || below.end.device === id) return [];
  if (sameEnd(above.end, below.end)) return [];
  return [{ ...above.wire, a: above.end, b: below.end }];
}

/** The other end of a wire that ends here. */
function far(wire: Conductor, here: End): { wire: Conductor; end: End }[] {
  if (endKey(wire.a) === endKey(here)) return [{ wire, end: wire.b }];
  return endKey(wire.b) === endKey(here) ? [{ wire, end: wire.a }] : [];
}
