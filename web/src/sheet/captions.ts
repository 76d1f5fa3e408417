import { type FlagLine, flagLine } from "./flags";
import { Ground } from "./ground";
import { CAPITAL, DESCENT, widthOf } from "./letters";
import type { Caption, CaptionKind, ContactList } from "./page";
import { type Box, bodyOf, type PlacedPart, type PlacedTerminal } from "./placed";
import { besideBelow, designationSpots, flagSpots, markingSpots, numberSpots, type Spot } from "./spots";
import { strokesOf } from "./strokes";
import { LETTERS, wrapped } from "./symbols/shapes";
import { DESIGNATION, LINE, SMALL } from "./type";
import { type Flag, standsAlone, type Wiring } from "./wiring";

export const sizeOf = (kind: CaptionKind): number => (kind === "designation" ? DESIGNATION : SMALL);

const WORDS = 4;
const STROKES = 1;
/** Words keep so far from the left edge of the sheet. */
const EDGE = 0.2;

/** The room that a caption takes. */
export function boxOf({ kind, x, y, align, text }: Caption): Box {
  const size = sizeOf(kind);
  const width = widthOf(text, size) * (kind === "designation" ? 1.02 : 1);
  const left = align === "start" ? x : align === "end" ? x - width : x - width / 2;
  const below = /[gjpqy(),/;]/.test(text) ? DESCENT * size : 0.03;
  return { left, right: left + width, top: y - CAPITAL * size, bottom: y + below };
}

export interface Sheetful {
  readonly parts: readonly PlacedPart[];
  readonly terminals: ReadonlyMap<string, PlacedTerminal>;
  readonly wiring: Wiring;
  readonly frame: Box;
  /** The numbers at the edge. */
  readonly scale: readonly Caption[];
  /** The contacts of each coil. */
  readonly lists: readonly ContactList[];
  /** Where the coil of a contact stands, by the key of the part. */
  readonly coils: ReadonlyMap<string, string>;
  /** The sheet as it was drawn before: the words of what is where it was stay, where nothing has come in their way. */
  readonly before?: Pick<Sheetful, "parts" | "wiring"> & { readonly captions: readonly Caption[] };
}

/** All words of a sheet, each where it covers no line and no other word, if there is such a place. */
export function captionsOf(sheet: Sheetful): readonly Caption[] {
  const { parts, wiring, before } = sheet;
  const table = new Table(sheet.frame, stayed(before));
  const flags = flagGroups(wiring.flags).map((group) => {
    const [first] = group;
    return {
      group,
      line:
        first &&
        flagLine(
          first,
          group.every((flag) => standsAlone(wiring, flag)),
        ),
    };
  });
  for (const { drawing, placement } of parts)
    for (const line of strokesOf(drawing)) table.ground.takeLine(line, STROKES, placement.x, placement.y);
  for (const part of parts) if (part.part.does === "turns") table.ground.take(turningRoom(part), STROKES);
  for (const { points } of wiring.runs)
    table.ground.takeLine(
      points.map(({ x, y }) => [x, y]),
      STROKES,
    );
  for (const { line } of flags)
    if (line) for (const way of [line.stub, line.mark]) table.ground.takeLine(way, STROKES);
  for (const caption of sheet.scale) table.set(caption);
  // The name of a terminal stands between the wires beside it: what is written at its ends gives way.
  const [joints, others] = [parts.filter(isJoint), parts.filter((part) => !isJoint(part))];
  for (const part of joints) setDesignation(table, part);
  for (const part of parts) setMarkings(table, part);
  for (const part of others) setDesignation(table, part);
  for (const { group, line } of flags) if (line) setFlag(table, group, line);
  for (const { net, lines } of wiring.nets) {
    const ways = told(numberSpots(lines), (spot) => [{ ...spot, text: net.number }]);
    table.together(lines[0] ?? net, "number", `number/${net.conductors[0]?.id}`, ways);
  }
  for (const list of sheet.lists) setList(table, list);
  for (const part of parts) setReference(table, part, sheet.coils.get(part.key));
  for (const part of parts) setFunction(table, part, sheet.coils.has(part.key));
  return table.captions;
}

/** The captions of the parts and potentials that a sheet had before, by whose they are. */
function stayed(before: Sheetful["before"]): Stayed {
  const found: Stayed = new Map();
  if (!before) return found;
  const byKey = new Map<string, Caption[]>();
  for (const caption of before.captions) {
    const key = caption.key.replace(/\/\d+$/, "");
    const there = byKey.get(key);
    if (there) there.push(caption);
    else byKey.set(key, [caption]);
    if (key !== caption.key) byKey.set(caption.key, [caption]);
  }
  for (const part of before.parts) found.set(part, byKey);
  for (const { lines } of before.wiring.nets) for (const way of lines) found.set(way, byKey);
  return found;
}

/** Of each part, and of each way of a wire, that was there before, the captions of its sheet by their keys. */
type Stayed = Map<object, ReadonlyMap<string, readonly Caption[]>>;

/** Room beside a motor for what is said of its turning. */
function turningRoom(part: PlacedPart): Box {
  const { right, top } = bodyOf(part);
  return { left: right - 1.4, right: right + 6, top: top + 5.8, bottom: top + 7.2 };
}

/** The captions of a sheet as they find their places, one after the other. */
class Table {
  readonly ground = new Ground();
  readonly captions: Caption[] = [];
  private readonly at = new Map<string, Caption>();

  constructor(
    private readonly frame: Box,
    private readonly stayed: Stayed,
  ) {}

  /** Leave words where they were, if they are still the same and nothing has come in their way. */
  private stays(owner: object, key: string, texts: readonly string[]): boolean {
    const old = this.stayed.get(owner)?.get(key) ?? [];
    if (old.length === 0 || old.length !== texts.length) return false;
    if (!old.every((caption, index) => caption.text === texts[index] && this.isFree(caption))) return false;
    for (const caption of old) this.set(caption);
    return true;
  }

  set(caption: Caption): void {
    this.captions.push(caption);
    this.at.set(caption.key, caption);
    this.ground.take(boxOf(caption), WORDS);
  }

  found(key: string): Caption | undefined {
    return this.at.get(key);
  }

  private isFree(caption: Caption): boolean {
    const box = boxOf(caption);
    return box.left >= this.frame.left + EDGE && this.ground.isFree(box);
  }

  private cost(caption: Caption): number {
    const box = boxOf(caption);
    return this.ground.cost(box) + Math.max(0, this.frame.left + EDGE - box.left) * WORDS;
  }

  /** At the first free spot, or at that where it covers least. */
  best(owner: object, kind: CaptionKind, key: string, text: string, spots: Iterable<Spot>): void {
    if (!text || this.stays(owner, key, [text])) return;
    const tried: Caption[] = [];
    for (const spot of spots) {
      const caption = { kind, key, text, ...spot };
      if (this.isFree(caption)) {
        this.set(caption);
        return;
      }
      tried.push(caption);
    }
    const costs = tried.map((caption) => this.cost(caption));
    const least = tried[costs.indexOf(Math.min(...costs))];
    if (least) this.set(least);
  }

  /** Some lines together where all of them are free; returns whether there was such a place. */
  together(
    owner: object,
    kind: CaptionKind,
    key: string,
    ways: Iterable<readonly (Spot & { text: string })[]>,
  ): boolean {
    for (const lines of ways) {
      const texts = lines.map(({ text }) => text);
      if (this.stays(owner, key, texts)) return true;
      const captions = lines.map((line, index) => ({ kind, key: `${key}/${index}`, ...line }));
      if (!captions.every((caption) => this.isFree(caption))) continue;
      for (const caption of captions) this.set(caption);
      return true;
    }
    return false;
  }
}

/** Something made of each, as it is asked for. */
function* told<A, B>(all: Iterable<A>, of: (one: A) => B): Iterable<B> {
  for (const one of all) yield of(one);
}

const isJoint = ({ part }: PlacedPart): boolean => part.does === "joins";

function setMarkings(table: Table, part: PlacedPart): void {
  part.drawing.anchors.forEach((anchor, index) => {
    const key = `marking/${part.key}/${part.part.terminals[index]}`;
    table.best(part, "marking", key, part.markings[index] ?? "", markingSpots(anchor, part.placement));
  });
}

function setDesignation(table: Table, part: PlacedPart): void {
  table.best(part, "designation", `designation/${part.key}`, part.device.label, designationSpots(part));
}

function setReference(table: Table, part: PlacedPart, coilAt: string | undefined): void {
  const name = table.found(`designation/${part.key}`);
  if (!coilAt || !name) return;
  const ways = told(besideBelow(part, name, 1), (spots) => spots.map((spot) => ({ ...spot, text: coilAt })));
  table.together(part, "reference", `reference/${part.key}`, ways);
}

/** How far a list of contacts is moved down, at most, in modules. */
const FARTHEST = 16;

function setList(table: Table, list: ContactList): void {
  const ways = Array.from({ length: 2 * FARTHEST }, (_, step) =>
    list.lines.map((text, index) => ({
      x: list.x,
      y: list.y + step / 2 + index * LINE,
      align: "start" as const,
      text,
    })),
  );
  table.together(list, "contacts", `contacts/${list.key}`, ways);
}

/** What a device does stands once, at the part that leads it: a coil, a head, the heaters. It gives way. */
function setFunction(table: Table, part: PlacedPart, isContact: boolean): void {
  const name = table.found(`designation/${part.key}`);
  if (isContact || !part.device.function || !part.part.leads || !name) return;
  const key = `function/${part.key}`;
  table.together(part, "function", key, functionWays(part, name));
}

/** Letters in a line of what a device does, in the order in which they are tried. */
const WRAPS = [LETTERS, 11, 24, 8] as const;

function* functionWays(part: PlacedPart, name: Caption): Iterable<(Spot & { text: string })[]> {
  for (const letters of WRAPS) {
    const lines = wrapped(part.device.function, letters);
    for (const spots of besideBelow(part, name, lines.length))
      yield lines.flatMap((text, index) => {
        const spot = spots[index];
        return spot ? [{ ...spot, text }] : [];
      });
  }
}

function flagGroups(flags: readonly Flag[]): Flag[][] {
  const found = new Map<PlacedTerminal, Flag[]>();
  for (const flag of flags) found.set(flag.at, [...(found.get(flag.at) ?? []), flag]);
  return [...found.values()];
}

const flagWords = (flag: Flag): string =>
  `${flag.net.number} ${flag.note}${flag.toSheet === undefined ? ", on no sheet" : ""}`;

/** Where the wires of a terminal go on: in a line each, or in more where that is too wide. */
function setFlag(table: Table, group: readonly Flag[], line: FlagLine): void {
  const [first] = group;
  if (!first) return;
  const key = `flag/${first.conductor.id}/${first.at.end.device}`;
  const whole = group.map(flagWords);
  const broken = group.flatMap((flag) => [`${flag.net.number} to`, flagWords(flag).replace(/^.* to /, "")]);
  const apart = group.flatMap((flag) => flagWords(flag).split(" "));
  const ways = function* () {
    for (const lines of [whole, broken, apart])
      for (const spots of flagSpots(line, lines.length))
        yield spots.map((spot, index) => ({ ...spot, text: lines[index] ?? "" }));
  };
  if (table.together(first, "flag", key, ways())) return;
  whole.forEach((text, index) => {
    const spots = [...flagSpots(line, whole.length)].flatMap((block) => block[index] ?? []);
    table.best(first, "flag", `${key}/${index}`, text, spots);
  });
}

/** The frame with all captions well within it; to the left it stays. */
export function withCaptions(frame: Box, captions: readonly Caption[]): Box {
  let { top, right, bottom } = frame;
  for (const caption of captions) {
    const box = boxOf(caption);
    top = Math.min(top, Math.floor(box.top - 0.4));
    right = Math.max(right, Math.ceil(box.right + 0.6));
    bottom = Math.max(bottom, Math.ceil(box.bottom + 0.4));
  }
  return { ...frame, top, right, bottom };
}
