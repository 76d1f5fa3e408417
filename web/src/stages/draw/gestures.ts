import { sample } from "../../circuit/catalogue";
import type { PartRef } from "../../circuit/types";
import { type Circuit, type End, type Part, type Point, sameEnd, shownSheets } from "../../circuit/types";
import { keep, kept } from "../../common/store";
import { type Clip, copyParts } from "../../edits/clip";
import { beside } from "../../edits/commands";
import { takesDevice } from "../../edits/remove";
import { describe } from "../../job/describe";
import { edit, refuse, useDocument } from "../../job/document";
import type { Hit } from "../../sheet/page";

import type { PlacedPart } from "../../sheet/placed";
import { hasRungs, SYMBOLS } from "../../sheet/symbols";
import { choosePart, letGo, samePart, selectedParts, setView, type Tool, useView } from "../../sheet/view";

/** What a click, or Enter at the cursor, does in the drawing. */
export function act(hit: Hit, withKey = false): void {
  const { tool, wireFrom, adding } = useView.getState();
  const add = withKey || adding;
  if (tool) putDown(hit);
  else if (hit.kind === "terminal") joinAt(hit.terminal.end, wireFrom);
  else if (wireFrom) setView({ wireFrom: null });
  else if (hit.kind === "part") choosePart({ device: hit.part.device.id, part: hit.part.part.name }, add);
  else if (hit.kind === "wire") setView({ selection: { kind: "wire", conductor: hit.run.conductor.id } });
  else if (!add) setView({ selection: null });
}

function joinAt(end: End, from: End | null): void {
  if (!from) setView({ wireFrom: end });
  else if (sameEnd(from, end) || edit({ type: "join", a: from, b: end })) setView({ wireFrom: null });
}

/** Put the tool's part down: in series on a wire, in parallel to a part, else by itself. */
function putDown(hit: Hit): void {
  const { tool } = useView.getState();
  if (!tool) return;
  const sheet = hit.page.sheet.id;
  const at = dropPlace(hit, tool);
  const what = {
    kind: tool.kind,
    part: tool.part,
    sheet,
    at,
    ...(tool.params ? { params: tool.params } : {}),
  };
  const existing = tool.device ? { device: tool.device, part: tool.part, sheet, at } : undefined;
  const before = new Set(useDocument.getState().circuit.devices.map((device) => device.id));
  let done: boolean;
  if (hit.kind === "wire" && isPair(tool)) {
    const conductor = hit.run.conductor.id;
    done = edit(
      existing ? { type: "partInSeries", ...existing, conductor } : { type: "inSeries", ...what, conductor },
    );
  } else if (hit.kind === "part" && isPair(tool)) {
    const to = stretchAt(hit.part);
    done = edit(existing ? { type: "partInParallel", ...existing, to } : { type: "inParallel", ...what, to });
  } else {
    done = edit(existing ? { type: "placePart", ...existing } : { type: "place", ...what });
  }
  if (!done) return;
  const made =
    tool.device ?? useDocument.getState().circuit.devices.find((device) => !before.has(device.id))?.id;
  letGo();
  if (made) choosePart({ device: made, part: tool.part }, false);
}

/** The part under the tool; with it all that is selected, where it belongs to a selection. */
function stretchAt({ device, part }: PlacedPart): readonly PartRef[] {
  const own = { device: device.id, part: part.name };
  const chosen = selectedParts(useView.getState().selection);
  return chosen.some((other) => samePart(other, own)) ? chosen : [own];
}

/** The part that a tool puts down. */
function partOf(tool: Tool): Part | undefined {
  const device = sample(tool.kind, tool.params);
  return useDocument.getState().catalogue.part(device, tool.part);
}

/** Has the tool's part two terminals, so that it can go in series or in parallel? */
const isPair = (tool: Tool): boolean => partOf(tool)?.terminals.length === 2;

/** Where the part will stand if it is put down here. */
export function dropPlace(hit: Hit, tool: Tool): Point {
  if (!isPair(tool)) return hit.at;
  const { circuit, catalogue } = useDocument.getState();
  const { sheet } = hit.page;
  const rungs = hasRungs(sheet);
  if (hit.kind === "part") {
    const { device, part } = hit.part;
    return beside(circuit, sheet, { device: device.id, part: part.name }, catalogue);
  }
  const length = SYMBOLS[partOf(tool)?.symbol ?? ""]?.anchors[1]?.at[1] ?? 0;
  const half = Math.round(length / 2);
  if (hit.kind !== "wire")
    return rungs ? { x: hit.at.x - half, y: hit.at.y } : { x: hit.at.x, y: hit.at.y - half };
  // On a stretch that runs its way the part sits in the line itself.
  const stretch = hit.run.points.find((b, i) => {
    const a = hit.run.points[i - 1];
    if (!a) return false;
    return rungs
      ? a.y === b.y && Math.abs(a.y - hit.at.y) <= 1 && inside(hit.at.x, a.x, b.x)
      : a.x === b.x && Math.abs(a.x - hit.at.x) <= 1 && inside(hit.at.y, a.y, b.y);
  });
  return rungs
    ? { x: hit.at.x - half, y: stretch?.y ?? hit.at.y }
    : { x: stretch?.x ?? hit.at.x, y: hit.at.y - half };
}

const inside = (value: number, a: number, b: number): boolean =>
  value >= Math.min(a, b) - 1 && value <= Math.max(a, b) + 1;

/** What a click here would do, in a few words. */
export function promise(hit: Hit | null): string {
  const { tool, wireFrom } = useView.getState();
  const { circuit, catalogue } = useDocument.getState();
  if (tool) {
    const pair = isPair(tool);
    if (hit?.kind === "wire" && pair) return `${tool.title}: in series in wire ${hit.run.net.number}.`;
    if (hit?.kind === "part" && pair) {
      const labels = stretchAt(hit.part).map(labelOf).join(", ");
      return `${tool.title}: in parallel to ${labels}.`;
    }
    return pair
      ? `${tool.title}: click an empty place, a wire (in series) or a part (in parallel). Esc lets go.`
      : `${tool.title}: click an empty place. Esc lets go.`;
  }
  if (wireFrom)
    return `Wire from ${catalogue.designations(circuit)(wireFrom)}: choose the other terminal. Esc lets go.`;
  if (hit?.kind === "terminal") return `${describe(hit)}: click to begin a wire.`;
  if (hit) return describe(hit);
  return "Choose a part on the left, or click a terminal to begin a wire.";
}

/** Delete what is selected: a wire, or parts and with the leading one its device. */
export function deleteSelection(): void {
  const { selection } = useView.getState();
  if (!selection) return;
  const done =
    selection.kind === "wire"
      ? edit({ type: "deleteConductor", conductor: selection.conductor })
      : edit({ type: "deleteParts", parts: selection.parts });
  if (done) setView({ selection: null });
}

/** Take out of the selection what is no longer drawn, after an undo or on other sheets. */
export function pruneSelection(circuit: Circuit): void {
  const { selection } = useView.getState();
  if (selection?.kind !== "parts") return;
  const symbols = shownSheets(circuit).flatMap((sheet) => sheet.symbols);
  const parts = selection.parts.filter((part) => symbols.some((symbol) => samePart(symbol, part)));
  if (parts.length === selection.parts.length) return;
  setView({ selection: parts.length ? { kind: "parts", parts } : null });
}

/** What deleting the selection would take away. */
export function whatGoes(): string {
  const { circuit, catalogue } = useDocument.getState();
  const parts = selectedParts(useView.getState().selection);
  const labels = [...new Set(parts.filter((part) => takesDevice(circuit, part, catalogue)).map(labelOf))];
  const contacts = parts.filter((part) => !labels.includes(labelOf(part)));
  return [...labels, ...contacts.map((part) => `${labelOf(part)} ${part.part}`)].join(", ");
}

const labelOf = ({ device }: PartRef): string =>
  useDocument.getState().circuit.devices.find(({ id }) => id === device)?.label ?? "?";

const CLIP_KEY = "wiretrace-clip";

/** Copy what is selected, for this job or another. */
export function copySelection(): boolean {
  const { circuit, catalogue } = useDocument.getState();
  const parts = selectedParts(useView.getState().selection);
  const sheet = shownSheets(circuit).find((candidate) =>
    candidate.symbols.some((symbol) => parts[0] && samePart(symbol, parts[0])),
  );
  if (!sheet) return false;
  const clip = copyParts(circuit, sheet, parts, catalogue);
  if (!keep("localStorage", CLIP_KEY, JSON.stringify(clip))) {
    refuse("This browser has no room for a copy.");
    return false;
  }
  setView({ said: `Copied ${clip.symbols.length} ${clip.symbols.length === 1 ? "part" : "parts"}` });
  return true;
}

/** Paste what was copied where the pointer or the cursor is, and select it. */
export function pasteClip(): void {
  const clip = readClip();
  const { hover, cursor } = useView.getState();
  const [first] = shownSheets(useDocument.getState().circuit);
  const sheet = hover?.page.sheet.id ?? cursor?.sheet ?? first?.id;
  const at = hover?.at ?? cursor?.at ?? { x: 8, y: 8 };
  if (!clip || sheet === undefined) {
    refuse("Nothing was copied yet.");
    return;
  }
  const before = new Set(useDocument.getState().circuit.devices.map(({ id }) => id));
  if (!edit({ type: "paste", clip, sheet, at })) return;
  const parts = shownSheets(useDocument.getState().circuit)
    .flatMap(({ symbols }) => symbols)
    .filter(({ device }) => !before.has(device))
    .map(({ device, part }) => ({ device, part }));
  setView({ selection: { kind: "parts", parts } });
}

function readClip(): Clip | undefined {
  try {
    const clip = JSON.parse(kept("localStorage", CLIP_KEY) ?? "null") as Clip | null;
    return clip?.devices && clip.symbols && clip.conductors ? clip : undefined;
  } catch {
    return undefined;
  }
}

/** Select every part of the sheet on which pointer or cursor is. */
export function selectAll(): void {
  const { hover, cursor } = useView.getState();
  const sheets = shownSheets(useDocument.getState().circuit);
  const id = hover?.page.sheet.id ?? cursor?.sheet;
  const sheet = sheets.find((candidate) => candidate.id === id) ?? sheets[0];
  const parts = (sheet?.symbols ?? []).map(({ device, part }) => ({ device, part }));
  setView({ selection: parts.length ? { kind: "parts", parts } : null });
}
