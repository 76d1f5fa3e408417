import "./draw.css";
import { useEffect } from "react";
import { useChecks } from "../../checks/checks";
import { Description } from "../../checks/Description";
import { Findings } from "../../checks/Findings";
import { StateDiagram } from "../../checks/StateDiagram";
import { Notice } from "../../common/Notice";
import { dismissRefusal, useDocument } from "../../job/document";
import { useView } from "../../sheet/view";
import type { Stage, Views } from "../stage";
import { DrawBoard } from "./DrawBoard";
import { DrawTools } from "./DrawTools";
import { Finder } from "./Finder";
import { Inspector } from "./Inspector";
import { Palette } from "./Palette";
import { PanelPlan } from "./PanelPlan";
import { UndoRedo } from "./UndoRedo";
import { Versions } from "./Versions";

function Properties({ circuit, catalogue }: Views) {
  return (
    <>
      <Inspector circuit={circuit} catalogue={catalogue} />
      <Findings circuit={circuit} />
      <Versions circuit={circuit} />
    </>
  );
}

function Below(views: Views) {
  const below = useView((view) => view.below);
  if (below === "description") return <Description circuit={views.circuit} />;
  if (below === "states") return <StateDiagram circuit={views.circuit} />;
  return below === "panel" ? <PanelPlan {...views} /> : null;
}

/** Beside the title whatever pane is in sight, so that the circuit is checked with any of them. */
function Tools() {
  useChecks(useDocument((state) => state.circuit));
  return (
    <>
      <UndoRedo />
      <DrawTools />
      <Finder />
    </>
  );
}

function Refusal() {
  const refusal = useDocument((document) => document.refusal);
  useEffect(() => {
    if (!refusal) return undefined;
    const timer = setTimeout(dismissRefusal, 6000);
    return () => clearTimeout(timer);
  }, [refusal]);
  return refusal ? <Notice title="Not done.">{refusal}</Notice> : null;
}

/** The drawing board: parts on the left, properties, findings and versions on the right. */
export const stage: Stage = {
  left: Palette,
  middle: DrawBoard,
  notice: Refusal,
  below: Below,
  right: Properties,
  titles: { left: "Parts", right: "Properties" },
  tools: Tools,
};
