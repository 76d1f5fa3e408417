import { type Catalogue, sample } from "../../circuit/catalogue";
import { findTerminal } from "../../sheet/layout";
import type { Hit, Layout } from "../../sheet/page";
import { partKey } from "../../sheet/placed";
import { SymbolView } from "../../sheet/SymbolView";
import { symbolOn } from "../../sheet/symbols";
import { type Tool, useView } from "../../sheet/view";
import { dropPlace } from "./gestures";

/** What is in hand, as it would come to stand: a part, a wire, parts being moved, a box, a way. */
export function Ghost({ tool, hit, catalogue }: { tool: Tool; hit: Hit; catalogue: Catalogue }) {
  const device = sample(tool.kind, tool.params);
  const drawing = symbolOn(hit.page.sheet, catalogue.part(device, tool.part)?.symbol ?? "");
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

export function Rubber({
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

export function DragGhost({ layout }: { layout: Layout }) {
  const drag = useView((view) => view.drag);
  const page = layout.pages.find(({ sheet }) => sheet.id === drag?.sheet);
  if (!drag || !page) return null;
  const keys = new Set(drag.parts.map(partKey));
  const { x, y } = { x: drag.by.x + page.shift.x, y: drag.by.y + page.shift.y };
  return (
    <g className="ghost" transform={`translate(${x} ${y})`} pointerEvents="none">
      {page.parts
        .filter(({ key }) => keys.has(key))
        .map(({ key, placement, drawing }) => (
          <g key={key} transform={`translate(${placement.x} ${placement.y})`}>
            <SymbolView drawing={drawing} />
          </g>
        ))}
    </g>
  );
}

export function BoxGhost({ layout }: { layout: Layout }) {
  const box = useView((view) => view.box);
  const page = layout.pages.find(({ sheet }) => sheet.id === box?.sheet);
  if (!box || !page) return null;
  return (
    <rect
      className="box"
      x={Math.min(box.from.x, box.to.x) + page.shift.x}
      y={Math.min(box.from.y, box.to.y) + page.shift.y}
      width={Math.abs(box.to.x - box.from.x)}
      height={Math.abs(box.to.y - box.from.y)}
      pointerEvents="none"
    />
  );
}

export function PullGhost({ layout }: { layout: Layout }) {
  const pull = useView((view) => view.pull);
  const page = layout.pages.find(({ sheet }) => sheet.id === pull?.sheet);
  if (!pull || !page) return null;
  return (
    <g transform={`translate(${page.shift.x} ${page.shift.y})`} pointerEvents="none">
      {Object.entries(pull.routes).map(([id, points]) => (
        <path key={id} className="rubber" d={`M${points.map(([x, y]) => `${x} ${y}`).join("L")}`} />
      ))}
    </g>
  );
}
