import { type End, endKey, type Part, type Point, sameEnd } from "../circuit/types";
import { edit, useDocument } from "../job/document";
import { letGo, setView, type Tool, useView } from "../job/view";
import type { Hit, Page } from "../sheet/layout";
import { bodyOf } from "../sheet/placed";
import { SYMBOLS } from "../sheet/symbols";

/** What a click, or Enter at the cursor, does in the drawing. */
export function act(hit: Hit): void {
  const { tool, wireFrom } = useView.getState();
  if (tool) putDown(hit);
  else if (hit.kind === "terminal") joinAt(hit.terminal.end, wireFrom);
  else if (wireFrom) setView({ wireFrom: null });
  else if (hit.kind === "part")
    setView({ selection: { kind: "part", device: hit.part.device.id, part: hit.part.part.name } });
  else if (hit.kind === "wire") setView({ selection: { kind: "wire", conductor: hit.run.conductor.id } });
  else setView({ selection: null });
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
    const to = { device: hit.part.device.id, part: hit.part.part.name };
    done = edit(existing ? { type: "partInParallel", ...existing, to } : { type: "inParallel", ...what, to });
  } else {
    done = edit(existing ? { type: "placePart", ...existing } : { type: "place", ...what });
  }
  if (!done) return;
  const made =
    tool.device ?? useDocument.getState().circuit.devices.find((device) => !before.has(device.id))?.id;
  letGo();
  if (made) setView({ selection: { kind: "part", device: made, part: tool.part } });
}

/** Distance at which a part stands beside the one that it is in parallel to. */
const BESIDE = 8;

/** The part that a tool puts down. */
function partOf(tool: Tool): Part | undefined {
  const device = { id: "", kind: tool.kind, label: "", function: "", params: tool.params ?? {} };
  return useDocument.getState().catalogue.part(device, tool.part);
}

/** Has the tool's part two terminals, so that it can go in series or in parallel? */
const isPair = (tool: Tool): boolean => partOf(tool)?.terminals.length === 2;

/** Where the part will stand if it is put down here. */
export function dropPlace(hit: Hit, tool: Tool): Point {
  const height = SYMBOLS[partOf(tool)?.symbol ?? ""]?.anchors[1]?.at[1] ?? 0;
  if (!isPair(tool)) return hit.at;
  if (hit.kind === "part") return beside(hit.page, hit.part.placement.x, hit.part.placement.y);
  if (hit.kind !== "wire") return { x: hit.at.x, y: hit.at.y - Math.round(height / 2) };
  // On an upright stretch the part sits in the line itself.
  const stretch = hit.run.points.find((b, i) => {
    const a = hit.run.points[i - 1];
    return a && a.x === b.x && Math.abs(a.x - hit.at.x) <= 1 && inside(hit.at.y, a.y, b.y);
  });
  return { x: stretch?.x ?? hit.at.x, y: hit.at.y - Math.round(height / 2) };
}

const inside = (value: number, a: number, b: number): boolean =>
  value >= Math.min(a, b) - 1 && value <= Math.max(a, b) + 1;

/** Room that a part with its designation takes to the left and to the right of its line. */
const ROOM = { left: 5, right: 2 };

/** The first place to the right of a part where another has room, designation included. */
function beside(page: Page, x: number, y: number): Point {
  const taken = page.parts.map(bodyOf).filter((box) => box.top < y + 4 && box.bottom > y);
  let at = x + BESIDE;
  while (taken.some((box) => box.left - ROOM.left < at + ROOM.right && box.right > at - ROOM.left)) at += 1;
  return { x: at, y };
}

/** What a click here would do, in a few words. */
export function promise(hit: Hit | null): string {
  const { tool, wireFrom } = useView.getState();
  const labelOf = (id: string): string =>
    useDocument.getState().circuit.devices.find((device) => device.id === id)?.label ?? id;
  if (tool) {
    const pair = isPair(tool);
    if (hit?.kind === "wire" && pair) return `${tool.title}: in series in wire ${hit.run.net.number}.`;
    if (hit?.kind === "part" && pair) return `${tool.title}: in parallel to ${hit.part.device.label}.`;
    return pair
      ? `${tool.title}: click an empty place, a wire (in series) or a part (in parallel). Esc lets go.`
      : `${tool.title}: click an empty place. Esc lets go.`;
  }
  if (wireFrom)
    return `Wire from ${labelOf(wireFrom.device)}:${wireFrom.terminal}: choose the other terminal. Esc lets go.`;
  if (hit?.kind === "terminal") return `${describe(hit)}: click to begin a wire.`;
  if (hit) return describe(hit);
  return "Choose a part on the left, or click a terminal to begin a wire.";
}

/** What is at a place, for status line and screen reader. */
export function describe(hit: Hit): string {
  switch (hit.kind) {
    case "terminal": {
      const wires = hit.page.wiring.runs.filter(({ conductor }) =>
        [conductor.a, conductor.b].some((end) => endKey(end) === endKey(hit.terminal.end)),
      );
      const name = `${hit.terminal.owner.device.label}:${hit.terminal.end.terminal}`;
      return wires[0] ? `${name}, wire ${wires[0].net.number}` : `${name}, no wire`;
    }
    case "part":
      return `${hit.part.device.label}, ${hit.part.part.title}`;
    case "wire":
      return `Wire ${hit.run.net.number}`;
    case "paper":
      return `${hit.page.sheet.title}, column ${hit.at.x}, row ${hit.at.y}`;
  }
}

/** Delete what is selected: a wire, or a device with all its parts and wires. */
export function deleteSelection(): void {
  const { selection } = useView.getState();
  if (!selection) return;
  const done =
    selection.kind === "wire"
      ? edit({ type: "deleteConductor", conductor: selection.conductor })
      : edit({ type: "deleteDevice", device: selection.device });
  if (done) setView({ selection: null });
}
