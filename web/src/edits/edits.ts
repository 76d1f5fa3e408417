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
  | { type: "bringBack"; rule: string; key: string };

export function applyEdit(circuit: Circuit, edit: Edit, catalogue: Catalogue): Circuit {
  switch (edit.type) {
    case "place":
      return place(circuit, edit, catalogue).circuit;
    case "placePart":
      return putOnSheet(circuit, edit.sheet, edit.device, edit.part, edit.at, catalogue);
    case "inSeries": {
      const { circuit: placed, device } = place(circuit, edit, catalogue);
      return splitConductor(placed, edit.conductor, pairOf(placed, device, edit.part, catalogue));
    }
    case "partInSeries": {
      const placed = putOnSheet(circuit, edit.sheet, edit.device, edit.part, edit.at, catalogue);
      return splitConductor(placed, edit.conductor, pairOf(placed, edit.device, edit.part, catalogue));
    }
    case "inParallel": {
      const { circuit: placed, device } = place(circuit, edit, catalogue);
      return joinPairs(placed, edit.to, device, edit.part, catalogue);
    }
    case "partInParallel": {
      const placed = putOnSheet(circuit, edit.sheet, edit.device, edit.part, edit.at, catalogue);
      return joinPairs(placed, edit.to, edit.device, edit.part, catalogue);
    }
    case "join":
      return joinByHand(circuit, edit.a, edit.b, catalogue);
    case "move":
      return move(circuit, edit);
    case "rename":
      return rename(circuit, edit.device, edit.label, catalogue);
    case "describe":
      return changeDevice(circuit, edit.device, (device) => ({
        ...device,
        function: edit.text.slice(0, 200),
      }));
    case "mount":
      return changeDevice(circuit, edit.device, (device) => ({ ...device, mounting: edit.mounting }));
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
    case "deleteParts":
      return deleteParts(circuit, edit.parts, catalogue);
    case "changeKind":
      return changeKind(circuit, edit, catalogue);
    case "feed":
      return feed(circuit, edit.from, edit.to, catalogue);
    case "reverse":
      return reverse(circuit, edit.first, edit.second, catalogue);
    case "interlock":
      return interlock(circuit, edit.first, edit.second, catalogue);
    case "parallel":
      return joinPairs(circuit, [edit.to], edit.part.device, edit.part.part, catalogue);
    case "sealIn":
      return sealIn(circuit, edit.button, edit.contactor, catalogue);
    case "paste":
      return paste(circuit, edit.clip, edit.sheet, edit.at, catalogue);
    case "insert":
      return insert(circuit, edit.circuit, catalogue);
    case "addSheet":
      return addSheet(circuit, edit.kind);
    case "renameSheet":
      return renameSheet(circuit, edit.sheet, edit.title);
    case "deleteSheet":
      return deleteSheet(circuit, edit.sheet);
    case "moveToSheet":
      return moveToSheet(circuit, edit.items, edit.sheet);
    case "pull":
      return pull(circuit, edit.sheet, edit.routes);
    case "show":
      return { ...circuit, convention: edit.convention };
    case "replace":
      return { ...edit.circuit, title: circuit.title };
    case "setAside":
    case "bringBack": {
      const others = circuit.set_aside.filter((s) => s.rule !== edit.rule || s.key !== edit.key);
      if (edit.type === "bringBack") return { ...circuit, set_aside: others };
      const note = edit.note.trim().slice(0, 200);
      return { ...circuit, set_aside: [...others, { rule: edit.rule, key: edit.key, note }] };
    }
  }
}
