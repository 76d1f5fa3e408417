import { type Catalogue, freeId } from "../circuit/catalogue";
import { findNets, type Net, netsByEnd } from "../circuit/nets";
import { isLink } from "../circuit/purpose";
import { type Circuit, type Conductor, type End, endKey, sameEnd } from "../circuit/types";

/**
 * The wires that close the gaps a device would leave: a potential that only ran on over one of its
 * terminals stays whole, and where one of its contacts stood in a row the row is joined again.
 * With `only` a single part of it goes.
 */
export function healing(circuit: Circuit, id: string, catalogue: Catalogue, only?: string): Conductor[] {
  const device = circuit.devices.find((d) => d.id === id);
  if (!device) return [];
  const going = catalogue.parts(device).filter((part) => only === undefined || part.name === only);
  const own = only === undefined ? catalogue.terminals(device) : going.flatMap((part) => part.terminals);
  const leaving = new Set(going.map(({ name }) => name));
  const staying = contactsOf(circuit, catalogue)
    .filter((contact) => contact.device !== id || !leaving.has(contact.part))
    .map(({ ends }) => ends);
  const bridges = going
    .filter((part) => isLink(part))
    .flatMap((part) => inSeries(circuit, id, part.terminals, staying));
  const kept: Conductor[] = [];
  for (const terminal of own) {
    const here = { device: id, terminal };
    const others = circuit.conductors.flatMap((wire) => far(wire, here));
    others.slice(1).forEach(({ wire, end }, index) => {
      const before = others[index];
      if (before && before.end.device !== id && end.device !== id && !sameEnd(before.end, end))
        kept.push({ ...wire, id: wire.id, a: before.end, b: end });
    });
  }
  const taken = circuit.conductors.map((wire) => wire.id);
  const joined = new Set(circuit.conductors.map(pairKey));
  return [...kept, ...bridges].flatMap((wire) => {
    if (joined.has(pairKey(wire))) return [];
    joined.add(pairKey(wire));
    const fresh = freeId(taken, "w");
    taken.push(fresh);
    return [{ ...wire, id: fresh }];
  });
}

/** The two terminals of a wire, in whichever order. */
const pairKey = ({ a, b }: Conductor): string => [endKey(a), endKey(b)].sort().join(" ");

/**
 * The wire that takes the place of a contact in a row: its branch has nothing else at one of its ends,
 * or no other contacts lead from one end to the other.
 */
function inSeries(
  circuit: Circuit,
  id: string,
  terminals: readonly string[],
  staying: readonly (readonly [End, End])[],
): Conductor[] {
  const nets = netsByEnd(findNets(circuit));
  const [first, second] = terminals.map((terminal) => ({ device: id, terminal }));
  if (!first || !second) return [];
  const [one, two] = [nets.get(endKey(first)), nets.get(endKey(second))];
  const [above, below] = [first, second].map(
    (end) => circuit.conductors.flatMap((wire) => far(wire, end))[0],
  );
  if (!one || !two || one === two || !above || !below) return [];
  if (above.end.device === id || below.end.device === id) return [];
  const alone = one.ends.length === 2 || two.ends.length === 2;
  return alone || !leads(one, two, staying, nets) ? [{ ...above.wire, a: above.end, b: below.end }] : [];
}

/** Do contacts lead from one potential to another? */
function leads(
  from: Net,
  to: Net,
  contacts: readonly (readonly [End, End])[],
  nets: ReadonlyMap<string, Net>,
): boolean {
  const reached = new Set<Net | undefined>([from]);
  for (let grown = true; grown; ) {
    grown = false;
    for (const [a, b] of contacts) {
      const [one, two] = [nets.get(endKey(a)), nets.get(endKey(b))];
      if (!one || !two || reached.has(one) === reached.has(two)) continue;
      reached.add(one).add(two);
      grown = true;
    }
  }
  return reached.has(to);
}

/** The single contacts of all devices, each by its two terminals. */
function contactsOf(
  circuit: Circuit,
  catalogue: Catalogue,
): { device: string; part: string; ends: [End, End] }[] {
  return circuit.devices.flatMap((device) =>
    catalogue.parts(device).flatMap((part) => {
      const [a, b] = part.terminals.map((terminal) => ({ device: device.id, terminal }));
      return a && b && isLink(part)
        ? [{ device: device.id, part: part.name, ends: [a, b] as [End, End] }]
        : [];
    }),
  );
}

/** The other end of a wire that ends here. */
function far(wire: Conductor, here: End): { wire: Conductor; end: End }[] {
  if (endKey(wire.a) === endKey(here)) return [{ wire, end: wire.b }];
  return endKey(wire.b) === endKey(here) ? [{ wire, end: wire.a }] : [];
}
