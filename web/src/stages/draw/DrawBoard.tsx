import { useEffect, useMemo, useRef } from "react";
import { foundIn, markedDevices, useAllResults } from "../../checks/checks";
import type { Catalogue } from "../../circuit/catalogue";
import { type Circuit, endKey, type Point, sameEnd } from "../../circuit/types";
import { useCommandKeys } from "../../common/commands";
import { describe } from "../../job/describe";
import { edit } from "../../job/document";
import { Board } from "../../sheet/Board";
import { PageView } from "../../sheet/PageView";
import type { Hit, Layout } from "../../sheet/page";
import { bodyOf, partKey } from "../../sheet/placed";
import { selectedParts, setView, useView } from "../../sheet/view";
import { COMMAND_LIST } from "./commands";
import { DrawStatus } from "./DrawStatus";
import { act, pruneSelection } from "./gestures";
import { BoxGhost, DragGhost, Ghost, PullGhost, Rubber } from "./ghosts";
import { pulled } from "./pull";

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
  const { tool, wireFrom, selection, hover, drag, box, pull } = view;
  const selected = useMemo(
    () => (selection?.kind === "parts" ? new Set(selection.parts.map(partKey)) : NOTHING),
    [selection],
  );
  const results = useAllResults();
  const marked = useMemo(
    () => markedDevices(foundIn(results, circuit.set_aside)),
    [results, circuit.set_aside],
  );
  useCommandKeys(COMMAND_LIST);
  useEffect(() => pruneSelection(circuit), [circuit]);

  const hands = useDrawingHands(layout, selected);
  return (
    <Board
      layout={layout}
      label="Drawing board"
      placing={tool !== null}
      boxes
      {...hands}
      describe={describe}
      status={<DrawStatus circuit={circuit} />}
    >
      {(shown) => (
        <>
          <GridDots />
          <g data-pages>
            {shown.pages.map((page) => (
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
                marked={marked}
              />
            ))}
          </g>
          {tool && hover && <Ghost tool={tool} hit={hover} catalogue={catalogue} />}
          {wireFrom && hover && <Rubber layout={shown} from={wireFrom} hit={hover} />}
          {drag && <DragGhost layout={shown} />}
          {box && <BoxGhost layout={shown} />}
          {pull && <PullGhost layout={shown} />}
        </>
      )}
    </Board>
  );
}

/** What hands do on the drawing: click, drag, draw a box, pull a wire; by pointer or by key. */
function useDrawingHands(layout: Layout, selected: ReadonlySet<string>) {
  const pressed = useRef<Hit | null>(null);
  const keepMany = useRef(false);
  const onPress = (hit: Hit, how: { byKey: boolean; latch: boolean }): void => {
    const now = useView.getState();
    keepMany.current = how.latch || now.adding;
    pressed.current = how.byKey ? null : hit;
    if (now.drag && how.byKey) drop();
    else if (now.grip && how.byKey) layDown();
    else if (hit.kind === "part" && isSelected(hit) && !now.tool && !how.latch && !how.byKey && !now.adding)
      return;
    else act(hit, how.latch);
  };
  const onHover = (hit: Hit | undefined): void => {
    const start = pressed.current;
    const now = useView.getState();
    const idle = !now.tool && !now.wireFrom;
    if (hit && start && idle && start.page.sheet.id === hit.page.sheet.id) dragTo(start, hit);
    else if (now.grip && hit) dragTo(now.grip, hit);
    else if (now.drag && !start && now.cursor && hit) {
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
    const { drag: dragged, box: boxed, pull, wireFrom: from } = useView.getState();
    if (dragged) drop();
    else if (boxed) selectIn(layout);
    else if (pull) layDown();
    else if (start?.kind === "part" && hit?.kind === "part" && selected.size > 1 && isSelected(start)) {
      // A click, not a drag, on one of many selects it alone.
      if (start.part.key === hit.part.key && !keepMany.current) act(hit);
    } else if (
      from &&
      hit?.kind === "terminal" &&
      start?.kind === "terminal" &&
      !sameEnd(hit.terminal.end, from)
    )
      // A wire may also be pulled from terminal to terminal in one stroke.
      act(hit);
    keepMany.current = false;
  };
  const onKey = (key: string, hit: Hit | undefined): boolean => {
    if (key === "m" && hit?.kind === "part") {
      if (!isSelected(hit)) act(hit);
      setView({ drag: dragOf(hit, hit.at), said: `Moving ${describe(hit)}` });
    } else if (key === "m" && hit?.kind === "wire") {
      setView({ grip: hit, said: `Pulling ${describe(hit)}: arrows, then Enter` });
    } else if (key === "x" && hit?.kind === "part") act(hit, true);
    else return false;
    return true;
  };
  return { onPress, onHover, onRelease, onKey };
}

const isSelected = (hit: Hit & { kind: "part" }): boolean =>
  selectedParts(useView.getState().selection).some((part) => partKey(part) === hit.part.key);

/** A pointer that went down somewhere has come to another place of the sheet. */
function dragTo(start: Hit, hit: Hit): void {
  const sheet = start.page.sheet.id;
  if (start.kind === "part") setView({ drag: dragOf(start, hit.at) });
  else if (start.kind === "paper") setView({ box: { sheet, from: start.at, to: hit.at } });
  else if (start.kind === "wire") {
    const by = { x: hit.at.x - start.at.x, y: hit.at.y - start.at.y };
    const routes = pulled(start, by);
    setView({ pull: Object.keys(routes).length ? { sheet, routes } : null });
  }
}

/** All selected parts of the sheet go along with the one that was taken hold of. */
function dragOf(start: Hit & { kind: "part" }, at: Point) {
  const { device, part } = start.part;
  const here = new Set(start.page.parts.map(({ key }) => key));
  const chosen = selectedParts(useView.getState().selection).filter((other) => here.has(partKey(other)));
  const own = { device: device.id, part: part.name };
  const parts = chosen.some((other) => partKey(other) === partKey(own)) ? chosen : [own];
  const by = { x: at.x - start.at.x, y: at.y - start.at.y };
  return { parts, sheet: start.page.sheet.id, from: start.at, by };
}

function drop(): void {
  const { drag } = useView.getState();
  setView({ drag: null });
  if (!drag || (drag.by.x === 0 && drag.by.y === 0)) return;
  edit({ type: "move", sheet: drag.sheet, items: drag.parts, by: drag.by });
}

/** The wires that were pulled lie where they are now. */
function layDown(): void {
  const { pull } = useView.getState();
  setView({ pull: null, grip: null });
  if (pull) edit({ type: "pull", ...pull });
}

/** Select the parts that the box touches. */
function selectIn(layout: Layout): void {
  const { box } = useView.getState();
  setView({ box: null });
  const page = layout.pages.find(({ sheet }) => sheet.id === box?.sheet);
  if (!box || !page) return;
  const [left, right] = [Math.min(box.from.x, box.to.x), Math.max(box.from.x, box.to.x)];
  const [top, bottom] = [Math.min(box.from.y, box.to.y), Math.max(box.from.y, box.to.y)];
  const parts = page.parts
    .filter((part) => {
      const body = bodyOf(part);
      return body.right >= left && body.left <= right && body.bottom >= top && body.top <= bottom;
    })
    .map(({ device, part }) => ({ device: device.id, part: part.name }));
  setView({ selection: parts.length ? { kind: "parts", parts } : null });
}

function GridDots() {
  return (
    <defs>
      <pattern id="grid-dots" width={2} height={2} patternUnits="userSpaceOnUse">
        <circle className="grid-dot" cx={0} cy={0} r={0.11} />
        <circle className="grid-dot" cx={2} cy={0} r={0.11} />
        <circle className="grid-dot" cx={0} cy={2} r={0.11} />
        <circle className="grid-dot" cx={2} cy={2} r={0.11} />
      </pattern>
    </defs>
  );
}
