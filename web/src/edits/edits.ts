import type { Catalogue } from "../circuit/catalogue";
import type { Circuit, Convention, Device, End, ParamValue, PartRef, Point } from "../circuit/types";
import { changeKind } from "./another";
import {
  changeDevice,
  deleteDevice,
  dropConductors,
  EditRefused,
  joinByHand,
  joinPairs,
  move,
  pairOf,
  place,
  putOnSheet,
  rename,
  setConductor,
  setParam,
  splitConductor,
  takeOff,
} from "./changes";
import { type Clip, insert, paste } from "./clip";
import { feed, interlock, reverse, sealIn } from "./commands";
import { deleteParts } from "./remove";
import { addSheet, deleteSheet, moveToSheet, pull, renameSheet } from "./sheets";

export { EditRefused };

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
      to: readonly PartRef[];
      params?: Device["params"];
    }
  | { type: "partInSeries"; device: string; part: string; sheet: string; at: Point; conductor: string }
  | {
      type: "partInParallel";
      device: string;
      part: string;
      sheet: string;
      at: Point;
      to: readonly PartRef[];
    }
  | { type: "join"; a: End; b: End }
  | { type: "move"; sheet: string; items: readonly { device: string; part: string }[]; by: Point }
  | { type: "rename"; device: string; label: string }
  | { type: "describe"; device: string; text: string }
  | { type: "mount"; device: string; mounting: Device["mounting"] }
  | { type: "setParam"; device: string; name: string; value: ParamValue }
  | { type: "setParams"; device: string; params: Device["params"] }
  | {
      type: "setConductor";
      conductor: string;
      values: { number?: string | null; cross_section_mm2?: number; length_m?: number };
    }
  | { type: "takeOff"; device: string; part: string }
  | { type: "deleteDevice"; device: string }
  | { type: "deleteConductor"; conductor: string }
  | { type: "deleteParts"; parts: readonly PartRef[] }
  | { type: "changeKind"; device: string; kind: string; params: Device["params"]; of?: string; part?: string }
  | { type: "feed"; from: PartRef; to: PartRef }
  | { type: "reverse"; first: PartRef; second: PartRef }
  | { type: "interlock"; first: string; second: string }
  | { type: "parallel"; part: PartRef; to: PartRef }
  | { type: "sealIn"; button: PartRef; contactor: string }
  | { type: "paste"; clip: Clip; sheet: string; at: Point }
  | { type: "insert"; circuit: Circuit }
  | { type: "addSheet"; kind: "power" | "control" }
  | { type: "renameSheet"; sheet: string; title: string }
  | { type: "deleteSheet"; sheet: string }
  | { type: "moveToSheet"; items: readonly PartRef[]; sheet: string }
  | { type: "pull"; sheet: string; routes: Circuit["sheets"][number]["routes"] }
  | { type: "show"; convention: Convention }
  | { type: "replace"; circuit: Circuit }
  | { type: "setAside"; rule: string; key: string; note: string }
  | { type: "bringBack"; rule: string; key: string }
  | { type: "writeDescription"; lines: readonly string[] };

type Handlers = {
  readonly [T in Edit["type"]]: (
    circuit: Circuit,
    edit: Extract<Edit, { type: T }>,
    catalogue: Catalogue,
  ) => Circuit;
};

const HANDLERS: Handlers = {
  place: (circuit, edit, catalogue) => place(circuit, edit, catalogue).circuit,
  placePart: (circuit, edit, catalogue) =>
    putOnSheet(circuit, edit.sheet, edit.device, edit.part, edit.at, catalogue),
  inSeries: (circuit, edit, catalogue) => {
    const { circuit: placed, device } = place(circuit, edit, catalogue);
    return splitConductor(placed, edit.conductor, pairOf(placed, device, edit.part, catalogue));
  },
  partInSeries: (circuit, edit, catalogue) => {
    const placed = putOnSheet(circuit, edit.sheet, edit.device, edit.part, edit.at, catalogue);
    return splitConductor(placed, edit.conductor, pairOf(placed, edit.device, edit.part, catalogue));
  },
  inParallel: (circuit, edit, catalogue) => {
    const { circuit: placed, device } = place(circuit, edit, catalogue);
    return joinPairs(placed, edit.to, device, edit.part, catalogue);
  },
  partInParallel: (circuit, edit, catalogue) => {
    const placed = putOnSheet(circuit, edit.sheet, edit.device, edit.part, edit.at, catalogue);
    return joinPairs(placed, edit.to, edit.device, edit.part, catalogue);
  },
  join: (circuit, edit, catalogue) => joinByHand(circuit, edit.a, edit.b, catalogue),
  move: (circuit, edit) => move(circuit, edit),
  rename: (circuit, edit, catalogue) => rename(circuit, edit.device, edit.label, catalogue),
  describe: (circuit, edit) =>
    changeDevice(circuit, edit.device, (device) => ({
      ...device,
      function: edit.text.slice(0, 200),
    })),
  mount: (circuit, edit) =>
    changeDevice(circuit, edit.device, (device) => ({ ...device, mounting: edit.mounting })),
  setParam: (circuit, edit, catalogue) => setParam(circuit, edit, catalogue),
  setParams: (circuit, { device, params }, catalogue) =>
    Object.entries(params).reduce(
      (made, [name, value]) =>
        same(made, device, name, value) ? made : setParam(made, { device, name, value }, catalogue),
      circuit,
    ),
  setConductor: (circuit, edit) => setConductor(circuit, edit.conductor, edit.values),
  takeOff: (circuit, edit) =>
    takeOff(circuit, (symbol) => symbol.device === edit.device && symbol.part === edit.part),
  deleteDevice: (circuit, edit, catalogue) => deleteDevice(circuit, edit.device, catalogue),
  deleteConductor: (circuit, edit) => dropConductors(circuit, (conductor) => conductor.id === edit.conductor),
  deleteParts: (circuit, edit, catalogue) => deleteParts(circuit, edit.parts, catalogue),
  changeKind: (circuit, edit, catalogue) => changeKind(circuit, edit, catalogue),
  feed: (circuit, edit, catalogue) => feed(circuit, edit.from, edit.to, catalogue),
  reverse: (circuit, edit, catalogue) => reverse(circuit, edit.first, edit.second, catalogue),
  interlock: (circuit, edit, catalogue) => interlock(circuit, edit.first, edit.second, catalogue),
  parallel: (circuit, edit, catalogue) =>
    joinPairs(circuit, [edit.to], edit.part.device, edit.part.part, catalogue),
  sealIn: (circuit, edit, catalogue) => sealIn(circuit, edit.button, edit.contactor, catalogue),
  paste: (circuit, edit, catalogue) => paste(circuit, edit.clip, edit.sheet, edit.at, catalogue),
  insert: (circuit, edit, catalogue) => insert(circuit, edit.circuit, catalogue),
  addSheet: (circuit, edit) => addSheet(circuit, edit.kind),
  renameSheet: (circuit, edit) => renameSheet(circuit, edit.sheet, edit.title),
  deleteSheet: (circuit, edit) => deleteSheet(circuit, edit.sheet),
  moveToSheet: (circuit, edit) => moveToSheet(circuit, edit.items, edit.sheet),
  pull: (circuit, edit) => pull(circuit, edit.sheet, edit.routes),
  show: (circuit, edit) => ({ ...circuit, convention: edit.convention }),
  replace: (circuit, edit) => ({ ...edit.circuit, title: circuit.title }),
  setAside: (circuit, { rule, key, note }) => ({
    ...circuit,
    set_aside: [...without(circuit, rule, key), { rule, key, note: note.trim().slice(0, 200) }],
  }),
  bringBack: (circuit, { rule, key }) => ({ ...circuit, set_aside: without(circuit, rule, key) }),
  writeDescription: (circuit, { lines }) => ({ ...circuit, description: written(lines) }),
};

const MOST_LINES = 100;
const LONGEST_LINE = 200;

/** The lines of an operating description: empty ones are left out. */
function written(lines: readonly string[]): Circuit["description"] {
  const kept = lines.map((line) => line.replaceAll("\0", "").trim()).filter((line) => line !== "");
  if (kept.length > MOST_LINES)
    throw new EditRefused(`An operating description has at most ${MOST_LINES} lines.`);
  if (kept.some((line) => line.length > LONGEST_LINE))
    throw new EditRefused(`A line of the operating description has at most ${LONGEST_LINE} letters.`);
  return kept;
}

const same = (circuit: Circuit, device: string, name: string, value: ParamValue): boolean =>
  circuit.devices.find(({ id }) => id === device)?.params[name] === value;

/** The findings that are set aside, but for one. */
const without = (circuit: Circuit, rule: string, key: string): Circuit["set_aside"] =>
  circuit.set_aside.filter((aside) => aside.rule !== rule || aside.key !== key);

export function applyEdit(circuit: Circuit, edit: Edit, catalogue: Catalogue): Circuit {
  const handler = HANDLERS[edit.type] as (circuit: Circuit, edit: Edit, catalogue: Catalogue) => Circuit;
  return handler(circuit, edit, catalogue);
}
