import { Legend } from "../../sheet/Legend";
import type { Stage } from "../../stages/stage";
import { inSight, type Pane, type Room, showSheets, togglePane, usePanes } from "./panes";

const ORDER = ["left", "below", "right"] as const satisfies readonly Pane[];

/** At the foot: what lies around the sheets, each to be folded away, and what the lines mean. */
export function PaneButtons({ titles, room }: { titles: Stage["titles"]; room: Room }) {
  const panes = usePanes();
  const built = ORDER.filter((pane) => titles[pane] !== undefined);
  const any = built.some((pane) => inSight(panes, pane, room));
  return (
    <nav className="pane-buttons" aria-label="Panes">
      {room !== "desk" && (
        <button type="button" aria-pressed={!any} onClick={showSheets}>
          Sheets
        </button>
      )}
      {built.map((pane) => (
        <button
          key={pane}
          type="button"
          aria-pressed={inSight(panes, pane, room)}
          onClick={() => togglePane(pane, room)}
        >
          {titles[pane]}
        </button>
      ))}
      {titles.legend && room === "desk" && <Legend />}
    </nav>
  );
}
