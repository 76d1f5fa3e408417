import type { Catalogue } from "../circuit/catalogue";
import { contactOf, isCoil, restName } from "../circuit/purpose";
import type { PartRef } from "../circuit/types";
import {
  type Circuit,
  type Device,
  type End,
  type Part,
  type Point,
  type Sheet,
  sameEnd,
  shownSheets,
} from "../circuit/types";
import { bodyOf, placedParts } from "../sheet/placed";
import { hasRungs } from "../sheet/symbols";
import { changeDevice, dropConductors, EditRefused, join, joinEnds, putOnSheet } from "./changes";

/**
 * What one says about two parts: this one fed from that one, these two interlocked, this button
 * sealed by that contactor. Each is one edit.
 */

/** Join the outgoing poles of one part to the incoming poles of another, in their order. */
export function feed(circuit: Circuit, from: PartRef, to: PartRef, catalogue: Catalogue): Circuit {
  const [outs, ins] = [ways(circuit, from, catalogue).outs, ways(circuit, to, catalogue).ins];
  const count = Math.min(outs.length, ins.length);
  if (count === 0) throw new EditRefused("One of the two has no pole that could feed the other.");
  return joinAll(
    circuit,
    outs.slice(0, count).map((end, index) => [end, ins[index]]),
  );
}

/** The second contactor beside the first, with the outer two phases exchanged below. */
export function reverse(circuit: Circuit, first: PartRef, second: PartRef, catalogue: Catalogue): Circuit {
  const [one, two] = [ways(circuit, first, catalogue), ways(circuit, second, catalogue)];
  if (one.outs.length !== 3 || two.outs.length !== 3)
    throw new EditRefused("Phases are exchanged between two devices of three poles.");
  const own = [...one.outs, ...two.outs];
  const between = (end: End): boolean => own.some((other) => sameEnd(other, end));
  const loose = dropConductors(circuit, ({ a, b }) => between(a) && between(b) && a.device !== b.device);
  return joinAll(loose, [
    ...one.ins.map((end, index) => [end, two.ins[index]] as const),
    ...one.outs.map((end, index) => [end, two.outs[2 - index]] as const),
  ]);
}

/** A normally closed contact of each in front of the coil of the other. */
export function interlock(circuit: Circuit, first: string, second: string, catalogue: Catalogue): Circuit {
  const guarded = guard(circuit, first, second, catalogue);
  return guard(guarded, second, first, catalogue);
}

/** A normally open contact of the contactor in parallel to the button. */
export function sealIn(circuit: Circuit, button: PartRef, contactor: string, catalogue: Catalogue): Circuit {
  const { circuit: ready, part, ends } = spareContact(circuit, contactor, false, catalogue);
  const sheet = sheetOf(ready, button);
  const at = beside(ready, sheet, button, catalogue);
  const placed = putOnSheet(ready, sheet.id, contactor, part.name, at, catalogue);
  return joinEnds(placed, [button], ends, catalogue);
}

/** The first place beside a part where another has room: to its right, in a ladder below it. */
export function beside(circuit: Circuit, sheet: Sheet, to: PartRef, catalogue: Catalogue): Point {
  const parts = placedParts(circuit, sheet, catalogue);
  const here = parts.find(({ device, part }) => device.id === to.device && part.name === to.part)?.placement;
  if (!here) throw new EditRefused("This part is on no sheet.");
  const rungs = hasRungs(sheet);
  const boxes = parts.map(bodyOf);
  for (let step = rungs ? 5 : 8; ; step += 1) {
    const at = rungs ? { x: here.x, y: here.y + step } : { x: here.x + step, y: here.y };
    const room = rungs
      ? { left: at.x, right: at.x + 4, top: at.y - 3.5, bottom: at.y + 1.5 }
      : { left: at.x - 5, right: at.x + 2, top: at.y + 1, bottom: at.y + 3 };
    if (boxes.every((box) => apart(box, room))) return at;
  }
}

interface Room {
  readonly left: number;
  readonly right: number;
  readonly top: number;
  readonly bottom: number;
}

const apart = (a: Room, b: Room): boolean =>
  a.right <= b.left || a.left >= b.right || a.bottom <= b.top || a.top >= b.bottom;

/** A normally closed contact of `by` between the coil of `of` and all that feeds it. */
function guard(circuit: Circuit, by: string, of: string, catalogue: Catalogue): Circuit {
  const { circuit: ready, part, ends } = spareContact(circuit, by, true, catalogue);
  const coil = coilOf(ready, of, catalogue);
  const sheet = sheetOf(ready, { device: of, part: coil.name });
  const coilEnd = { device: of, terminal: coil.terminals[0] ?? "" };
  const [above, below] = ends;
  const guards = wiresAt(ready, coilEnd).some((end) => isContactOf(ready, by, end, catalogue));
  if (guards) throw new EditRefused("These two are interlocked already.");
  const { circuit: roomy, at } = roomBefore(ready, sheet, { device: of, part: coil.name }, catalogue);
  const placed = putOnSheet(roomy, sheet.id, by, part.name, at, catalogue);
  const moved = placed.conductors.map((wire) => ({
    ...wire,
    a: sameEnd(wire.a, coilEnd) ? above : wire.a,
    b: sameEnd(wire.b, coilEnd) ? above : wire.b,
  }));
  return join({ ...placed, conductors: moved }, below, coilEnd);
}

const wiresAt = (circuit: Circuit, end: End): End[] =>
  circuit.conductors.flatMap(({ a, b }) => (sameEnd(a, end) ? [b] : sameEnd(b, end) ? [a] : []));

function isContactOf(circuit: Circuit, device: string, end: End, catalogue: Catalogue): boolean {
  const found = circuit.devices.find(({ id }) => id === device);
  return (
    end.device === device &&
    found !== undefined &&
    catalogue.parts(found).some((part) => {
      const contact = contactOf(part, true);
      return contact !== undefined && [contact.a, contact.b].includes(end.terminal);
    })
  );
}

/** Distance from the first terminal of a contact to that of what follows it. */
const AHEAD = { upright: 7, rung: 10 } as const;

/** A place for a contact before a part; what stands in the way is moved on with all that follows. */
function roomBefore(
  circuit: Circuit,
  sheet: Sheet,
  of: PartRef,
  catalogue: Catalogue,
): { circuit: Circuit; at: Point } {
  const parts = placedParts(circuit, sheet, catalogue);
  const here = parts.find(({ device, part }) => device.id === of.device && part.name === of.part)?.placement;
  if (!here) throw new EditRefused("The coil is on no sheet.");
  const rungs = hasRungs(sheet);
  const at = rungs ? { x: here.x - AHEAD.rung, y: here.y } : { x: here.x, y: here.y - AHEAD.upright };
  const room = rungs
    ? { left: at.x - 2, right: here.x - 1, top: at.y - 2, bottom: at.y + 2 }
    : { left: at.x - 2, right: at.x + 2, top: at.y - 2, bottom: here.y - 1 };
  if (parts.every((part) => apart(bodyOf(part), room))) return { circuit, at };
  const behind = (symbol: Point): boolean => (rungs ? symbol.x >= here.x : symbol.y >= here.y);
  const sheets = circuit.sheets.map((candidate) =>
    candidate.id !== sheet.id
      ? candidate
      : {
          ...candidate,
          routes: {},
          symbols: candidate.symbols.map((symbol) =>
            !behind(symbol)
              ? symbol
              : rungs
                ? { ...symbol, x: symbol.x + AHEAD.rung }
                : { ...symbol, y: symbol.y + AHEAD.upright },
          ),
        },
  );
  return { circuit: { ...circuit, sheets }, at: { x: here.x, y: here.y } };
}

interface Spare {
  readonly part: Part;
  readonly ends: readonly [End, End];
}

/** A contact of a part by where it stands at rest, with its ends. */
function asSpare(device: string, part: Part, closed: boolean): Spare[] {
  const contact = contactOf(part, closed);
  return contact
    ? [
        {
          part,
          ends: [
            { device, terminal: contact.a },
            { device, terminal: contact.b },
          ],
        },
      ]
    : [];
}

/** The contacts left to a device: neither wired nor drawn; a contact by itself before a changeover. */
export function contactsLeft(
  circuit: Circuit,
  device: Device,
  closed: boolean,
  catalogue: Catalogue,
): readonly Spare[] {
  return [...spareParts(circuit, device, catalogue)]
    .sort((a, b) => a.contacts.length - b.contacts.length)
    .flatMap((part) => asSpare(device.id, part, closed));
}

/** A contact that is left; where there is none, with an add-on block that has one. */
function spareContact(
  circuit: Circuit,
  id: string,
  closed: boolean,
  catalogue: Catalogue,
): Spare & { circuit: Circuit } {
  const device = circuit.devices.find((candidate) => candidate.id === id);
  if (!device) throw new EditRefused("There is no such device.");
  const [spare] = contactsLeft(circuit, device, closed, catalogue);
  if (spare) return { circuit, ...spare };
  const offer = blockWith(circuit, device, closed, catalogue);
  const [added] = offer ? asSpare(id, offer.part, closed) : [];
  if (!offer || !added)
    throw new EditRefused(
      `${device.label} has no ${restName(closed)} contact left, and no block that would add one.`,
    );
  const grown = changeDevice(circuit, id, (d) => ({
    ...d,
    params: { ...d.params, [offer.param]: offer.value },
  }));
  return { circuit: grown, ...added };
}

/** Parts of a device that stand on no sheet and carry no wire. */
export function spareParts(circuit: Circuit, device: Device, catalogue: Catalogue): readonly Part[] {
  const placed = new Set(
    shownSheets(circuit).flatMap((sheet) =>
      sheet.symbols.filter((symbol) => symbol.device === device.id).map((symbol) => symbol.part),
    ),
  );
  const wired = new Set(
    circuit.conductors.flatMap(({ a, b }) =>
      [a, b].filter((end) => end.device === device.id).map((end) => end.terminal),
    ),
  );
  return catalogue
    .parts(device)
    .filter((part) => !placed.has(part.name) && !part.terminals.some((terminal) => wired.has(terminal)));
}

/** The add-on that gives a device a further contact and takes none away that is in use. */
export function blockWith(
  circuit: Circuit,
  device: Device,
  closed: boolean,
  catalogue: Catalogue,
): { param: string; value: string | number; part: Part } | undefined {
  const now = catalogue.parts(device);
  const spare = new Set(spareParts(circuit, device, catalogue).map((part) => part.name));
  const inUse = now.filter((part) => !spare.has(part.name));
  for (const param of catalogue.kind(device.kind)?.params ?? []) {
    for (const value of param.choices) {
      const parts = catalogue.parts({ ...device, params: { ...device.params, [param.name]: value } });
      const added = parts.find(
        (part) => contactOf(part, closed) && !now.some((old) => old.name === part.name),
      );
      if (added && inUse.every((old) => parts.some((part) => part.name === old.name)))
        return { param: param.name, value, part: added };
    }
  }
  return undefined;
}

export function coilPart(device: Device, catalogue: Catalogue): Part | undefined {
  return catalogue.parts(device).find(isCoil);
}

function coilOf(circuit: Circuit, id: string, catalogue: Catalogue): Part {
  const device = circuit.devices.find((candidate) => candidate.id === id);
  const coil = device && coilPart(device, catalogue);
  if (!coil) throw new EditRefused(`${device?.label ?? "This device"} has no coil.`);
  return coil;
}

function sheetOf(circuit: Circuit, ref: PartRef): Sheet {
  const found = shownSheets(circuit).find((sheet) =>
    sheet.symbols.some((symbol) => symbol.device === ref.device && symbol.part === ref.part),
  );
  if (!found) throw new EditRefused("This part is on no sheet.");
  return found;
}

/** The poles of a part by which a current comes in and by which it leaves, in their order. */
export function ways(circuit: Circuit, ref: PartRef, catalogue: Catalogue): { ins: End[]; outs: End[] } {
  const device = circuit.devices.find((candidate) => candidate.id === ref.device);
  const part = device && catalogue.part(device, ref.part);
  const ends = (terminals: readonly string[]): End[] =>
    terminals.map((terminal) => ({ device: ref.device, terminal }));
  return { ins: ends(part?.fed ?? []), outs: ends(part?.leads_on ?? []) };
}

function joinAll(circuit: Circuit, pairs: readonly (readonly [End, End | undefined])[]): Circuit {
  const joined = (now: Circuit, a: End, b: End): boolean =>
    now.conductors.some((c) => (sameEnd(c.a, a) && sameEnd(c.b, b)) || (sameEnd(c.a, b) && sameEnd(c.b, a)));
  return pairs.reduce((now, [a, b]) => (b && !joined(now, a, b) ? join(now, a, b) : now), circuit);
}
