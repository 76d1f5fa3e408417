import "./workbench.css";
import { useEffect } from "react";
import { useDocument } from "../../job/document";
import { useLayout } from "../../sheet/useLayout";
import type { Stage } from "../../stages/stage";
import { PaneButtons } from "./PaneButtons";
import { inSight, type Pane, usePanes } from "./panes";
import { useRoom } from "./useRoom";

/** The views of a stage around the sheets: beside each other on a desk, one at a time where there is less room. */
export function Workbench({ stage }: { stage: Stage }) {
  const circuit = useDocument((document) => document.circuit);
  const catalogue = useDocument((document) => document.catalogue);
  const views = { circuit, catalogue, layout: useLayout(circuit, catalogue) };
  const panes = usePanes();
  const room = useRoom();
  useEffect(() => stage.enter?.(circuit, catalogue), [stage, circuit, catalogue]);
  const seen = (pane: Pane): boolean => stage.titles[pane] !== undefined && inSight(panes, pane, room);
  const alone = room === "phone" && (["left", "right", "below"] as const).some(seen);
  return (
    <main className={`workbench ${room}`}>
      <div className="workbench-row">
        {seen("left") && (
          <div className="pane left">
            <stage.left {...views} />
          </div>
        )}
        {!alone && (
          <div className="workbench-middle">
            <stage.notice {...views} />
            <div className="workbench-sheets">
              <stage.middle {...views} />
            </div>
            {(stage.titles.below === undefined || (seen("below") && room !== "phone")) && (
              <stage.below {...views} />
            )}
          </div>
        )}
        {alone && seen("below") && (
          <div className="pane below">
            <stage.below {...views} />
          </div>
        )}
        {seen("right") && (
          <div className="pane right">
            <stage.right {...views} />
          </div>
        )}
      </div>
      <PaneButtons titles={stage.titles} room={room} />
    </main>
  );
}
