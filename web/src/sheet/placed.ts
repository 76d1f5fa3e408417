import type { Catalogue } from "../circuit/catalogue";
import {
  type Circuit,
  type Device,
  type End,
  endKey,
  type Part,
  type Placement,
  type Point,
  type Sheet,
  shownSheets,
} from "../circuit/types";
import { widthOf } from "./letters";
import { hasRungs, symbolOn } from "./symbols";
import { type Anchor, type Direction, LETTERS, type SymbolDrawing, wrapped } from "./symbols/shapes";
import { DESIGNATION, SMALL } from "./type";

/** A part on a sheet with everything that drawing it needs. */
export interface PlacedPart {
  readonly key: string;
  readonly placement: Placement;
  readonly device: Device;
  readonly part: Part;
  readonly drawing: SymbolDrawing;
  /** What is written at its terminals, in their order. */
  readonly markings: readonly string[];
}

export interface PlacedTerminal extends Point {
  readonly end: End;
  readonly anchor: Anchor;
  readonly leaves: Direction;
  readonly owner: PlacedPart;
}

export const partKey = (item: { device: string; part: string }): string => `${item.device}/${item.part}`;

/** The parts on a sheet. A placement that the catalogue does not know is left out. */
export function placedParts(
  circuit: Circuit,
  sheet: Sheet,
  catalogue: Catalogue,
  before: readonly PlacedPart[] = [],
): readonly PlacedPart[] {
  const devices = new Map(circuit.devices.map((device) => [device.id, device]));
  const known = new Map(before.map((part) => [part.placement, part]));
  return sheet.symbols.flatMap((placement) => {
    const device = devices.get(placement.device);
    const same = known.get(placement);
    if (same && same.device === device) return [same];
    const part = device && catalogue.part(device, placement.part);
    const drawing = part && symbolOn(sheet, part.symbol);
    if (!device || !part || !drawing) return [];
    const markings = part.terminals.map((name) => catalogue.marking(device, name, sheet.convention));
    return [{ key: partKey(placement), placement, device, part, drawing, markings }];
  });
}

/** The terminals of the parts, by `endKey`. */
export function placedTerminals(parts: readonly PlacedPart[]): ReadonlyMap<string, PlacedTerminal> {
  return new Map(parts.flatMap((part) => terminalsOf(part).map((found) => [endKey(found.end), found])));
}

const terminalsByPart = new WeakMap<PlacedPart, readonly PlacedTerminal[]>();

/** The terminals of a part, the same objects for the same part. */
function terminalsOf(owner: PlacedPart): readonly PlacedTerminal[] {
  const known = terminalsByPart.get(owner);
  if (known) return known;
  const { x, y } = owner.placement;
  const found = owner.part.terminals.flatMap((terminal, index): PlacedTerminal[] => {
    const anchor = owner.drawing.anchors[index];
    const end = { device: owner.device.id, terminal };
    if (!anchor) return [];
    return [{ x: x + anchor.at[0], y: y + anchor.at[1], end, anchor, leaves: anchor.leaves, owner }];
  });
  terminalsByPart.set(owner, found);
  return found;
}

export interface Box {
  readonly left: number;
  readonly top: number;
  readonly right: number;
  readonly bottom: number;
}

export function bodyOf(part: PlacedPart): Box {
  const [left, top, right, bottom] = part.drawing.body;
  const { x, y } = part.placement;
  return { left: x + left, top: y + top, right: x + right, bottom: y + bottom };
}

/** The middle of a part that stands on a sheet of the convention shown. */
export function whereIs(
  circuit: Circuit,
  catalogue: Catalogue,
  key: string,
): { sheet: string; at: Point } | undefined {
  for (const sheet of shownSheets(circuit)) {
    const part = placedParts(circuit, sheet, catalogue).find((candidate) => candidate.key === key);
    if (!part) continue;
    const { left, top, right, bottom } = bodyOf(part);
    return { sheet: sheet.id, at: { x: Math.round((left + right) / 2), y: Math.round((top + bottom) / 2) } };
  }
  return undefined;
}

/** Where the words beside a part begin, if they stand where its symbol has them. */
function labelLeft({ drawing, device, placement }: PlacedPart): number {
  if (drawing.label.align !== "end") return placement.x + drawing.body[0];
  const words = wrapped(device.function, LETTERS).map((line) => widthOf(line, SMALL));
  return placement.x + drawing.label.at[0] - Math.max(widthOf(device.label, DESIGNATION), ...words) - 1;
}

const STEP = 2;

/**
 * The frame of a sheet: all its parts with room for wires, flags and labels. It grows in steps,
 * so that it stays where it is while a part is moved about.
 */
export function frameOf(parts: readonly PlacedPart[], sheet: Pick<Sheet, "convention" | "kind">): Box {
  const [width, height] = hasRungs(sheet) ? [48, 24] : [24, 36];
  const boxes = parts.map(bodyOf);
  const least = (values: number[], room: number): number =>
    Math.min(0, STEP * Math.floor((Math.min(0, ...values) - room) / STEP));
  const most = (values: number[], room: number, atLeast: number): number =>
    Math.max(atLeast, STEP * Math.ceil((Math.max(...values, 0) + room) / STEP));
  return {
    left: least(parts.map(labelLeft), 0),
    top: least(
      boxes.map((box) => box.top - 3),
      0,
    ),
    right: most(
      boxes.map((box) => box.right),
      2,
      width,
    ),
    bottom: most(
      boxes.map((box) => box.bottom),
      3,
      height,
    ),
  };
}
