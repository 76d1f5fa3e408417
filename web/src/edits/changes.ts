import { type Catalogue, freeId, freeLabel, letterOf, sample } from "../circuit/catalogue";
import { findNets, netsByEnd } from "../circuit/nets";
import {
  type Circuit,
  type Device,
  type End,
  endKey,
  type ParamValue,
  type PartRef,
  type Point,
  sameEnd,
} from "../circuit/types";
import { healing } from "./heal";

/** Why an edit cannot be made, in words for whoever tried. */
export class EditRefused extends Error {}

const LABEL = /^[A-Za-z0-9_.\-+/]{1,24}$/;

export function place(
  circuit: Circuit,
  edit: { kind: string; part: string; sheet: string; at: Point; params?: Device["params"]; label?: string },
  catalogue: Catalogue,
): { circuit: Circuit; device: string } {
  const kind = catalogue.kind(edit.kind);
  if (!kind) throw new EditRefused(`The catalogue has no ${edit.kind}.`);
  const id = freeId(
    circuit.devices.map((device) => device.id),
    `${kind.letter.toLowerCase()}-`,
  );
  const label = edit.label ?? freeLabel(circuit, letterOf(circuit, kind));
  const device: Device = { ...sample(kind.name, edit.params), id, label };
  const grown = { ...circuit, devices: [...circuit.devices, device] };
  return { circuit: putOnSheet(grown, edit.sheet, id, edit.part, edit.at, catalogue), device: id };
}

export function putOnSheet(
  circuit: Circuit,
  sheet: string,
  device: string,
  part: string,
  at: Point,
  catalogue: Catalogue,
): Circuit {
  const owner = circuit.devices.find(({ id }) => id === device);
  if (!owner || !catalogue.part(owner, part)) throw new EditRefused("This device has no such part.");
  const goal = circuit.sheets.find((s) => s.id === sheet);
  if (!goal) throw new EditRefused("This sheet is no longer there.");
  const taken = circuit.sheets.some(
    (s) => s.convention === goal.convention && s.symbols.some((p) => p.device === device && p.part === part),
  );
  if (taken) throw new EditRefused("This part is on a sheet already.");
  const sheets = circuit.sheets.map((s) =>
    s.id === sheet ? { ...s, symbols: [...s.symbols, { device, part, x: at.x, y: at.y }] } : s,
  );
  return { ...circuit, sheets };
}

export function pairOf(circuit: Circuit, device: string, part: string, catalogue: Catalogue): [End, End] {
  const found = circuit.devices.find((d) => d.id === device);
  const terminals = found ? (catalogue.part(found, part)?.terminals ?? []) : [];
  const [first, second] = terminals;
  if (first === undefined || second === undefined || terminals.length !== 2)
    throw new EditRefused("Only a part with two terminals goes in series or in parallel.");
  return [
    { device, terminal: first },
    { device, terminal: second },
  ];
}

export function splitConductor(circuit: Circuit, conductorId: string, [first, second]: [End, End]): Circuit {
  const old = circuit.conductors.find((conductor) => conductor.id === conductorId);
  if (!old) throw new EditRefused("This wire is no longer there.");
  // The end that keeps the wire's number is the one that is nearer to the source side, its first.
  const { number: _, ...plain } = old;
  const id = freeId(
    circuit.conductors.map((conductor) => conductor.id),
    "w",
  );
  const conductors = circuit.conductors.flatMap((conductor) =>
    conductor.id === conductorId
      ? [
          { ...old, b: first },
          { ...plain, number: null, id, a: second, b: old.b },
        ]
      : [conductor],
  );
  return withoutRoutes({ ...circuit, conductors: renumberSplit(conductors, old.number ?? null, old.b) }, [
    conductorId,
  ]);
}

/** Wires that stay on the far side of a split are another potential now and lose the old number. */
function renumberSplit(
  conductors: Circuit["conductors"],
  number: string | null,
  far: End,
): Circuit["conductors"] {
  if (number === null) return conductors;
  const reached = new Set([endKey(far)]);
  for (let grown = true; grown; ) {
    grown = false;
    for (const { a, b } of conductors) {
      if (reached.has(endKey(a)) !== reached.has(endKey(b))) {
        reached.add(endKey(a)).add(endKey(b));
        grown = true;
      }
    }
  }
  return conductors.map((c) =>
    reached.has(endKey(c.a)) && c.number === number ? { ...c, number: null } : c,
  );
}

/** Join a part in parallel to another, or to a stretch of parts in series. */
export function joinPairs(
  circuit: Circuit,
  to: readonly PartRef[],
  device: string,
  part: string,
  catalogue: Catalogue,
): Circuit {
  return joinEnds(circuit, to, pairOf(circuit, device, part, catalogue), catalogue);
}

/** Join two ends to those of a part, or of a stretch of parts in series. */
export function joinEnds(
  circuit: Circuit,
  to: readonly PartRef[],
  here: readonly [End, End],
  catalogue: Catalogue,
): Circuit {
  const there = stretchEnds(circuit, to, catalogue);
  if (!there) throw new EditRefused("These parts are not one after the other, with two ends.");
  return join(join(circuit, there[0], here[0]), there[1], here[1]);
}

/** The two outer terminals of parts that stand in series, the upper one first; none where they do not. */
function stretchEnds(
  circuit: Circuit,
  parts: readonly PartRef[],
  catalogue: Catalogue,
): [End, End] | undefined {
  const nets = netsByEnd(findNets(circuit));
  const ends = parts.flatMap((ref) => pairOf(circuit, ref.device, ref.part, catalogue));
  const outer = ends.filter((end) => {
    const net = nets.get(endKey(end));
    return ends.every((other) => sameEnd(other, end) || net === undefined || nets.get(endKey(other)) !== net);
  });
  const [first, second] = outer;
  if (!first || !second || outer.length !== 2) return undefined;
  // Ends stand in pairs, the upper one first; parts may have been chosen from below.
  return ends.indexOf(first) % 2 === 0 ? [first, second] : [second, first];
}

/** A wire from terminal to terminal, as a hand lays it. */
export function joinByHand(circuit: Circuit, a: End, b: End, catalogue: Catalogue): Circuit {
  for (const { device, terminal } of [a, b]) {
    const owner = circuit.devices.find(({ id }) => id === device);
    if (!owner || !catalogue.terminals(owner).includes(terminal))
      throw new EditRefused("One of these terminals is no longer there.");
  }
  return join(circuit, a, b);
}

export function join(circuit: Circuit, a: End, b: End): Circuit {
  if (sameEnd(a, b)) throw new EditRefused("A wire needs two different terminals.");
  const there = circuit.conductors.some(
    (c) => (sameEnd(c.a, a) && sameEnd(c.b, b)) || (sameEnd(c.a, b) && sameEnd(c.b, a)),
  );
  if (there) throw new EditRefused("These two terminals are joined already.");
  const id = freeId(
    circuit.conductors.map((conductor) => conductor.id),
    "w",
  );
  const conductor = { id, a, b, number: null, colour: null, cross_section_mm2: 1.5, length_m: 1 };
  return { ...circuit, conductors: [...circuit.conductors, conductor] };
}

/** Move parts on a sheet. A way that was chosen by hand is given up where one end moves. */
export function move(
  circuit: Circuit,
  edit: { sheet: string; items: readonly PartRef[]; by: Point },
): Circuit {
  const moved = new Set(edit.items.map((item) => `${item.device}/${item.part}`));
  const devices = new Set(edit.items.map((item) => item.device));
  const loose = circuit.conductors.filter(({ a, b }) => devices.has(a.device) || devices.has(b.device));
  const ids = new Set(loose.map(({ id }) => id));
  const sheets = circuit.sheets.map((sheet) =>
    sheet.id !== edit.sheet
      ? sheet
      : {
          ...sheet,
          routes: Object.fromEntries(Object.entries(sheet.routes).filter(([id]) => !ids.has(id))),
          symbols: sheet.symbols.map((symbol) =>
            moved.has(`${symbol.device}/${symbol.part}`)
              ? { ...symbol, x: symbol.x + edit.by.x, y: symbol.y + edit.by.y }
              : symbol,
          ),
        },
  );
  return { ...circuit, sheets };
}

/** Rename a device, and wherever another device names it. */
export function rename(circuit: Circuit, deviceId: string, label: string, catalogue: Catalogue): Circuit {
  if (!LABEL.test(label))
    throw new EditRefused("A designation has 1 to 24 letters, digits or . - + / _, without spaces.");
  if (circuit.devices.some((device) => device.label === label && device.id !== deviceId))
    throw new EditRefused(`There is a ${label} already.`);
  const was = circuit.devices.find((device) => device.id === deviceId)?.label;
  const devices = circuit.devices.map((device) => {
    if (device.id === deviceId) return { ...device, label };
    const naming = (catalogue.kind(device.kind)?.params ?? []).filter(
      (param) => param.designation && (device.params[param.name] ?? param.default) === was,
    );
    if (naming.length === 0) return device;
    const names = Object.fromEntries(naming.map((param) => [param.name, label]));
    return { ...device, params: { ...device.params, ...names } };
  });
  const description = circuit.description.map((line) =>
    was === undefined ? line : renamedIn(line, was, label),
  );
  return { ...circuit, devices, description };
}

/** A line of the operating description with another designation wherever it names the device. */
function renamedIn(line: string, was: string, label: string): string {
  return line
    .split(/(\s+)/)
    .map((word) => {
      const [, bare = word, after = ""] = /^(.*?)([,.]*)$/.exec(word) ?? [];
      if (word === was) return label;
      return bare === was ? `${label}${after}` : word;
    })
    .join("");
}

export function setParam(
  circuit: Circuit,
  edit: { device: string; name: string; value: ParamValue },
  catalogue: Catalogue,
): Circuit {
  const device = circuit.devices.find((d) => d.id === edit.device);
  const param = device && catalogue.kind(device.kind)?.params.find((p) => p.name === edit.name);
  if (!device || !param) throw new EditRefused("This device has no such value.");
  if (param.type === "number") {
    const [low, high] = [param.minimum ?? -Infinity, param.maximum ?? Infinity];
    const fits = typeof edit.value === "number" && edit.value >= low && edit.value <= high;
    if (!fits) throw new EditRefused(`${param.title} must lie from ${low} to ${high} ${param.unit}`.trim());
  }
  if (param.type === "choice" && !param.choices.some((choice) => choice === edit.value))
    throw new EditRefused(
      `${param.title} must be one of ${param.choices.map((one) => param.titles[String(one)] ?? one).join(", ")}.`,
    );
  if (param.type === "switch" && typeof edit.value !== "boolean")
    throw new EditRefused(`${param.title} must be on or off.`);
  if (param.type === "text" && (typeof edit.value !== "string" || edit.value.length > 4000))
    throw new EditRefused(`${param.title} must be a text of at most 4000 letters.`);
  const changed = changeDevice(circuit, edit.device, (d) => ({
    ...d,
    params: { ...d.params, [edit.name]: edit.value },
  }));
  return dropWhatIsGone(changed, edit.device, catalogue);
}

/** A device that lost a contact block loses its symbols; wires on the block are refused first. */
function dropWhatIsGone(circuit: Circuit, deviceId: string, catalogue: Catalogue): Circuit {
  const device = circuit.devices.find((d) => d.id === deviceId);
  if (!device) return circuit;
  const terminals = new Set(catalogue.terminals(device));
  const lost = circuit.conductors
    .flatMap(({ a, b }) => [a, b])
    .find((e) => e.device === deviceId && !terminals.has(e.terminal));
  if (lost) throw new EditRefused(`${device.label}:${lost.terminal} still has a wire; take it off first.`);
  const parts = new Set(catalogue.parts(device).map((part) => part.name));
  return takeOff(circuit, (symbol) => symbol.device === deviceId && !parts.has(symbol.part));
}

export function setConductor(
  circuit: Circuit,
  conductorId: string,
  values: { number?: string | null; cross_section_mm2?: number; length_m?: number },
): Circuit {
  const { cross_section_mm2: section, length_m: length } = values;
  if (section !== undefined && !(section >= 0.05 && section <= 1000))
    throw new EditRefused("The cross-section must lie from 0.05 to 1000 mm².");
  if (length !== undefined && !(length >= 0.001 && length <= 10_000))
    throw new EditRefused("The length must lie from 0.001 to 10000 m.");
  const conductors = circuit.conductors.map((c) => (c.id === conductorId ? { ...c, ...values } : c));
  return { ...circuit, conductors };
}

export function changeDevice(circuit: Circuit, id: string, change: (device: Device) => Device): Circuit {
  return {
    ...circuit,
    devices: circuit.devices.map((device) => (device.id === id ? change(device) : device)),
  };
}

export function takeOff(
  circuit: Circuit,
  gone: (symbol: { device: string; part: string }) => boolean,
): Circuit {
  const sheets = circuit.sheets.map((sheet) =>
    sheet.symbols.some(gone) ? { ...sheet, symbols: sheet.symbols.filter((symbol) => !gone(symbol)) } : sheet,
  );
  return { ...circuit, sheets };
}

export function deleteDevice(circuit: Circuit, id: string, catalogue: Catalogue): Circuit {
  const wires = healing(circuit, id, catalogue);
  const bare = takeOff(circuit, (symbol) => symbol.device === id);
  const cut = dropConductors(bare, ({ a, b }) => a.device === id || b.device === id);
  const strays = cut.strays.filter(({ a, b }) => a.device !== id && b.device !== id);
  return {
    ...cut,
    strays,
    conductors: [...cut.conductors, ...wires],
    devices: cut.devices.filter((device) => device.id !== id),
  };
}

export function dropConductors(
  circuit: Circuit,
  gone: (conductor: Circuit["conductors"][number]) => boolean,
): Circuit {
  const ids = circuit.conductors.filter(gone).map((conductor) => conductor.id);
  return withoutRoutes({ ...circuit, conductors: circuit.conductors.filter((c) => !gone(c)) }, ids);
}

function withoutRoutes(circuit: Circuit, ids: readonly string[]): Circuit {
  const sheets = circuit.sheets.map((sheet) =>
    ids.some((id) => id in sheet.routes)
      ? {
          ...sheet,
          routes: Object.fromEntries(Object.entries(sheet.routes).filter(([id]) => !ids.includes(id))),
        }
      : sheet,
  );
  return { ...circuit, sheets };
}
