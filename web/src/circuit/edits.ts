import { type Catalogue, freeId, freeLabel } from "./catalogue";
import { healing } from "./heal";
import { type Circuit, type Device, type End, endKey, type ParamValue, type Point, sameEnd } from "./types";

/**
 * Everything that can be done to a circuit, as data. `applyEdit` is pure: it returns the circuit
 * after the edit, or says why the edit cannot be made. What an edit does not touch keeps its identity.
 */
export type Edit =
  | {
      type: "place";
      kind: string;
      part: string;
      sheet: string;
      at: Point;
      params?: Device["params"];
      label?: string;
    }
  | { type: "placePart"; device: string; part: string; sheet: string; at: Point }
  | {
      type: "inSeries";
      kind: string;
      part: string;
      sheet: string;
      at: Point;
      conductor: string;
      params?: Device["params"];
    }
  | {
      type: "inParallel";
      kind: string;
      part: string;
      sheet: string;
      at: Point;
      to: { device: string; part: string };
      params?: Device["params"];
    }
  | { type: "partInSeries"; device: string; part: string; sheet: string; at: Point; conductor: string }
  | {
      type: "partInParallel";
      device: string;
      part: string;
      sheet: string;
      at: Point;
      to: { device: string; part: string };
    }
  | { type: "join"; a: End; b: End }
  | { type: "move"; sheet: string; items: readonly { device: string; part: string }[]; by: Point }
  | { type: "rename"; device: string; label: string }
  | { type: "describe"; device: string; text: string }
  | { type: "setParam"; device: string; name: string; value: ParamValue }
  | {
      type: "setConductor";
      conductor: string;
      values: { number?: string | null; cross_section_mm2?: number; length_m?: number };
    }
  | { type: "takeOff"; device: string; part: string }
  | { type: "deleteDevice"; device: string }
  | { type: "deleteConductor"; conductor: string }
  | { type: "goBack"; circuit: Circuit }
  | { type: "sheets"; sheets: Circuit["sheets"] }
  | { type: "setAside"; rule: string; key: string; note: string }
  | { type: "bringBack"; rule: string; key: string };

export class EditRefused extends Error {}

const LABEL = /^[A-Za-z0-9_.\-+/]{1,24}$/;

export function applyEdit(circuit: Circuit, edit: Edit, catalogue: Catalogue): Circuit {
  switch (edit.type) {
    case "place":
      return place(circuit, edit, catalogue).circuit;
    case "placePart":
      return putOnSheet(circuit, edit.sheet, edit.device, edit.part, edit.at);
    case "inSeries": {
      const { circuit: placed, device } = place(circuit, edit, catalogue);
      return splitConductor(placed, edit.conductor, pairOf(placed, device, edit.part, catalogue));
    }
    case "partInSeries": {
      const placed = putOnSheet(circuit, edit.sheet, edit.device, edit.part, edit.at);
      return splitConductor(placed, edit.conductor, pairOf(placed, edit.device, edit.part, catalogue));
    }
    case "inParallel": {
      const { circuit: placed, device } = place(circuit, edit, catalogue);
      return joinPairs(placed, edit.to, device, edit.part, catalogue);
    }
    case "partInParallel": {
      const placed = putOnSheet(circuit, edit.sheet, edit.device, edit.part, edit.at);
      return joinPairs(placed, edit.to, edit.device, edit.part, catalogue);
    }
    case "join":
      return join(circuit, edit.a, edit.b);
    case "move":
      return move(circuit, edit);
    case "rename":
      return rename(circuit, edit.device, edit.label);
    case "describe":
      return changeDevice(circuit, edit.device, (device) => ({
        ...device,
        function: edit.text.slice(0, 200),
      }));
    case "setParam":
      return setParam(circuit, edit, catalogue);
    case "setConductor":
      return setConductor(circuit, edit.conductor, edit.values);
    case "takeOff":
      return takeOff(circuit, (symbol) => symbol.device === edit.device && symbol.part === edit.part);
    case "deleteDevice":
      return deleteDevice(circuit, edit.device, catalogue);
    case "deleteConductor":
      return dropConductors(circuit, (conductor) => conductor.id === edit.conductor);
    case "goBack":
      return { ...edit.circuit, title: circuit.title };
    case "sheets":
      return { ...circuit, sheets: edit.sheets };
    case "setAside":
    case "bringBack": {
      const others = circuit.set_aside.filter((s) => s.rule !== edit.rule || s.key !== edit.key);
      if (edit.type === "bringBack") return { ...circuit, set_aside: others };
      const note = edit.note.trim().slice(0, 200);
      return { ...circuit, set_aside: [...others, { rule: edit.rule, key: edit.key, note }] };
    }
  }
}

function place(
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
  const label = edit.label ?? freeLabel(circuit, kind.letter);
  const device: Device = { id, kind: kind.name, label, function: "", params: edit.params ?? {} };
  const grown = { ...circuit, devices: [...circuit.devices, device] };
  return { circuit: putOnSheet(grown, edit.sheet, id, edit.part, edit.at), device: id };
}

function putOnSheet(circuit: Circuit, sheet: string, device: string, part: string, at: Point): Circuit {
  const taken = circuit.sheets.some((s) => s.symbols.some((p) => p.device === device && p.part === part));
  if (taken) throw new EditRefused("This part is on a sheet already.");
  const sheets = circuit.sheets.map((s) =>
    s.id === sheet ? { ...s, symbols: [...s.symbols, { device, part, x: at.x, y: at.y }] } : s,
  );
  return { ...circuit, sheets };
}

function pairOf(circuit: Circuit, device: string, part: string, catalogue: Catalogue): [End, End] {
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

function splitConductor(circuit: Circuit, conductorId: string, [first, second]: [End, End]): Circuit {
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

function joinPairs(
  circuit: Circuit,
  to: { device: string; part: string },
  device: string,
  part: string,
  catalogue: Catalogue,
): Circuit {
  const [there, here] = [
    pairOf(circuit, to.device, to.part, catalogue),
    pairOf(circuit, device, part, catalogue),
  ];
  return join(join(circuit, there[0], here[0]), there[1], here[1]);
}

function join(circuit: Circuit, a: End, b: End): Circuit {
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

function move(circuit: Circuit, edit: Extract<Edit, { type: "move" }>): Circuit {
  const moved = new Set(edit.items.map((item) => `${item.device}/${item.part}`));
  const sheets = circuit.sheets.map((sheet) =>
    sheet.id !== edit.sheet
      ? sheet
      : {
          ...sheet,
          symbols: sheet.symbols.map((symbol) =>
            moved.has(`${symbol.device}/${symbol.part}`)
              ? { ...symbol, x: symbol.x + edit.by.x, y: symbol.y + edit.by.y }
              : symbol,
          ),
        },
  );
  return { ...circuit, sheets };
}

function rename(circuit: Circuit, deviceId: string, label: string): Circuit {
  if (!LABEL.test(label))
    throw new EditRefused("A designation has 1 to 24 letters, digits or . - + / _, without spaces.");
  if (circuit.devices.some((device) => device.label === label && device.id !== deviceId))
    throw new EditRefused(`There is a ${label} already.`);
  return changeDevice(circuit, deviceId, (device) => ({ ...device, label }));
}

function setParam(
  circuit: Circuit,
  edit: Extract<Edit, { type: "setParam" }>,
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

function setConductor(
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

function changeDevice(circuit: Circuit, id: string, change: (device: Device) => Device): Circuit {
  return {
    ...circuit,
    devices: circuit.devices.map((device) => (device.id === id ? change(device) : device)),
  };
}

function takeOff(circuit: Circuit, gone: (symbol: { device: string; part: string }) => boolean): Circuit {
  const sheets = circuit.sheets.map((sheet) =>
    sheet.symbols.some(gone) ? { ...sheet, symbols: sheet.symbols.filter((symbol) => !gone(symbol)) } : sheet,
  );
  return { ...circuit, sheets };
}

function deleteDevice(circuit: Circuit, id: string, catalogue: Catalogue): Circuit {
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

function dropConductors(
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
