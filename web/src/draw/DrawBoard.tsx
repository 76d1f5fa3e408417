import { useEffect, useMemo, useRef } from "react";
import { foundIn, markedDevices, useCheckResults } from "../checks/checks";
import type { Catalogue } from "../circuit/catalogue";
import { type Circuit, endKey, type Point, sameEnd } from "../circuit/types";
import { edit, redo, undo } from "../job/document";
import { letGo, setView, type Tool, useView } from "../job/view";
import { Board } from "../sheet/Board";
import { findTerminal, type Hit, type Layout } from "../sheet/layout";
import { PageView } from "../sheet/PageView";
import { partKey } from "../sheet/placed";
import { SymbolView } from "../sheet/SymbolView";
import { SYMBOLS } from "../sheet/symbols";
import { act, deleteSelection, describe, dropPlace } from "./gestures";

interface Props {
  readonly layout: Layout;
  readonly circuit: Circuit;
  readonly catalogue: Catalogue;
}

const NOTHING: ReadonlySet<string> = new Set();
const never = (): boolean => false;

/** The sheets on the drawing board. */
export function DrawBoard({ layout, circuit, catalogue }: Props) {
  const view = useView();
  const { tool, wireFrom, selection, hover, drag } = view;
  const pressed = useRef<Hit | null>(null);
  const labels = useMemo(() => new Map(circuit.devices.map((d) => [d.id, d.label])), [circuit.devices]);
  const selected = useMemo(
    () => (selection?.kind === "part" ? new Set([partKey(selection)]) : NOTHING),
    [selection],
  );
  const results = useCheckResults((checks) => checks.results);
  const marked = useMemo(
    () => markedDevices(foundIn(results, circuit.set_aside)),
    [results, circuit.set_aside],
  );
  useKeys();

  const onPress = (hit: Hit, how: { byKey: boolean }): void => {
    const grabbed = useView.getState().drag;
    pressed.current = how.byKey ? null : hit;
    if (grabbed && how.byKey) drop();
    else act(hit);
  };
  const onHover = (hit: Hit | undefined): void => {
    const start = pressed.current;
    const now = useView.getState();
    if (
      hit &&
      start?.kind === "part" &&
      !now.tool &&
      !now.wireFrom &&
      start.page.sheet.id === hit.page.sheet.id
    ) {
      setView({ drag: dragOf(start, hit.at) });
    } else if (now.drag && !start && now.cursor && hit) {
      setView({
        drag: { ...now.drag, by: { x: hit.at.x - now.drag.from.x, y: hit.at.y - now.drag.from.y } },
      });
    }
    setView({ hover: hit ?? null });
  };
  const onRelease = (hit: Hit | undefined, how: { byKey: boolean }): void => {
    const start = pressed.current;
    pressed.current = null;
    if (how.byKey) return;
    if (useView.getState().drag) {
      drop();
      return;
    }
    const { wireFrom: from } = useView.getState();
    // A wire may also be pulled from terminal to terminal in one stroke.
    if (from && hit?.kind === "terminal" && start?.kind === "terminal" && !sameEnd(hit.terminal.end, from))
      act(hit);
  };
  const onKey = (key: string, hit: Hit | undefined): boolean => {
    if (key === "m" && hit?.kind === "part")
      setView({ drag: dragOf(hit, hit.at), said: `Moving ${describe(hit)}` });
    else return false;
    return true;
  };
  return (
    <Board
      layout={layout}
      label="Drawing board"
      placing={tool !== null}
      onPress={onPress}
      onRelease={onRelease}
      onHover={onHover}
      onKey={onKey}
      describe={describe}
    >
      <defs>
        <pattern id="grid-dots" width={2} height={2} patternUnits="userSpaceOnUse">
          <circle className="grid-dot" cx={0} cy={0} r={0.11} />
          <circle className="grid-dot" cx={2} cy={0} r={0.11} />
          <circle className="grid-dot" cx={0} cy={2} r={0.11} />
          <circle className="grid-dot" cx={2} cy={2} r={0.11} />
        </pattern>
      </defs>
      <g data-pages>
        {layout.pages.map((page) => (
          <PageView
            key={page.sheet.id}
            page={page}
            catalogue={catalogue}
            frame={undefined}
            grid
            chattering={NOTHING}
            selectedParts={selected}
            selectedWire={selection?.kind === "wire" ? selection.conductor : undefined}
            pointedPart={hover?.kind === "part" ? hover.part.key : undefined}
            pointedTerminal={
              wireFrom
                ? endKey(wireFrom)
                : hover?.kind === "terminal" && !tool
                  ? endKey(hover.terminal.end)
                  : undefined
            }
            workable={never}
            deviceLabels={labels}
            coils={layout.coils}
            marked={marked}
          />
        ))}
      </g>
      {tool && hover && <Ghost tool={tool} hit={hover} catalogue={catalogue} />}
      {wireFrom && hover && <Rubber layout={layout} from={wireFrom} hit={hover} />}
      {drag && <DragGhost layout={layout} />}
    </Board>
  );
}

function dragOf(start: Hit & { kind: "part" }, at: Point) {
  const { device, part } = start.part;
  const by = { x: at.x - start.at.x, y: at.y - start.at.y };
  return { device: device.id, part: part.name, sheet: start.page.sheet.id, from: start.at, by };
}

function drop(): void {
  const { drag } = useView.getState();
  setView({ drag: null });
  if (!drag || (drag.by.x === 0 && drag.by.y === 0)) return;
  edit({ type: "move", sheet: drag.sheet, items: [{ device: drag.device, part: drag.part }], by: drag.by });
}

/** Keys that hold for the whole stage, unless a field has the focus. */
function useKeys(): void {
  useEffect(() => {
    const onKeyDown = (event: KeyboardEvent): void => {
      if (event.target instanceof HTMLElement && event.target.closest("input, select, textarea")) return;
      const command = event.ctrlKey || event.metaKey;
      const key = event.key.toLowerCase();
      if (event.key === "Escape") letGo();
      else if (event.key === "Delete" || event.key === "Backspace") deleteSelection();
      else if (command && key === "z" && !event.shiftKey) undo();
      else if (command && (key === "y" || (key === "z" && event.shiftKey))) redo();
      else return;
      event.preventDefault();
    };
    window.addEventListener("keydown", onKeyDown);
    return () => window.removeEventListener("keydown", onKeyDown);
  }, []);
}

function Ghost({ tool, hit, catalogue }: { tool: Tool; hit: Hit; catalogue: Catalogue }) {
  const device = { id: "", kind: tool.kind, label: "", function: "", params: tool.params ?? {} };
  const drawing = SYMBOLS[catalogue.part(device, tool.part)?.symbol ?? ""];
  if (!drawing) return null;
  const at = dropPlace(hit, tool);
  return (
    <g
      className="ghost"
      transform={`translate(${at.x + hit.page.shift.x} ${at.y + hit.page.shift.y})`}
      pointerEvents="none"
    >
      <SymbolView drawing={drawing} />
    </g>
  );
}

function Rubber({
  layout,
  from,
  hit,
}: {
  layout: Layout;
  from: { device: string; terminal: string };
  hit: Hit;
}) {
  const found = findTerminal(layout, from);
  if (!found) return null;
  const [x, y] = [found.terminal.x + found.page.shift.x, found.terminal.y + found.page.shift.y];
  const [tx, ty] = [hit.at.x + hit.page.shift.x, hit.at.y + hit.page.shift.y];
  return <path className="rubber" d={`M${x} ${y}L${tx} ${ty}`} pointerEvents="none" />;
}

function DragGhost({ layout }: { layout: Layout }) {
  const drag = useView((view) => view.drag);
  const page = layout.pages.find(({ sheet }) => sheet.id === drag?.sheet);
  const part = page?.parts.find((candidate) => drag && candidate.key === partKey(drag));
  if (!drag || !page || !part) return null;
  const { x, y } = part.placement;
  return (
    <g
      className="ghost"
      transform={`translate(${x + drag.by.x + page.shift.x} ${y + drag.by.y + page.shift.y})`}
      pointerEvents="none"
    >
      <SymbolView drawing={part.drawing} />
    </g>
  );
}
