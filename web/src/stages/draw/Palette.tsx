import { memo, useState } from "react";
import { type Catalogue, sample } from "../../circuit/catalogue";
import { keep, kept } from "../../common/store";
import { useDocument } from "../../job/document";
import { SymbolView } from "../../sheet/SymbolView";
import { symbolOn } from "../../sheet/symbols";
import { selectedParts, setView, type Tool, useView } from "../../sheet/view";
import { type Entry, entriesOf } from "./tools";

/** The catalogue as parts to be put down: by family, each to be folded, and to be searched in place. */
export const Palette = memo(function Palette({ catalogue }: { catalogue: Catalogue }) {
  const [words, setWords] = useState("");
  const [folded, setFolded] = useState(keptFolds);
  const asked = words.toLocaleLowerCase().split(/\s+/).filter(Boolean);
  const fits = ({ title }: Entry): boolean => asked.every((word) => title.toLocaleLowerCase().includes(word));
  const groups = new Map(catalogue.kinds.map((kind) => [kind.group, kind.group_title]));
  const families = [...groups]
    .map(([group, title]) => {
      const entries = catalogue.kinds.filter((kind) => kind.group === group).flatMap(entriesOf);
      return { group, title, entries: entries.filter(fits) };
    })
    .filter(({ entries }) => entries.length > 0);
  const fold = (group: string): void => {
    const next = folded.includes(group) ? folded.filter((other) => other !== group) : [...folded, group];
    setFolded(next);
    keep("localStorage", FOLDS, next.join(" "));
  };
  return (
    <section className="parts" aria-label="Parts">
      <input
        type="search"
        aria-label="Search parts"
        placeholder="Search parts"
        value={words}
        onChange={(event) => setWords(event.target.value)}
      />
      {families.length === 0 && <p role="status">No part is called that.</p>}
      {families.map(({ group, title, entries }) => {
        const open = asked.length > 0 || !folded.includes(group);
        return (
          <div key={group}>
            <h2>
              <button type="button" aria-expanded={open} onClick={() => fold(group)}>
                {title}
              </button>
            </h2>
            {open && (
              <div className="palette">
                {entries.map((entry) => (
                  <EntryView key={entry.title} entry={entry} catalogue={catalogue} />
                ))}
              </div>
            )}
          </div>
        );
      })}
    </section>
  );
});

const FOLDS = "wiretrace-parts-folded";
const keptFolds = (): readonly string[] => (kept("localStorage", FOLDS) ?? "").split(" ").filter(Boolean);

/** Take a part in hand, or put it back. */
function takeUp(tool: Tool, chosen: boolean): void {
  const { selection } = useView.getState();
  // Several selected parts stay so: the new one may go in parallel to the whole stretch.
  const several = selectedParts(selection).length > 1;
  setView({ tool: chosen ? null : tool, wireFrom: null, selection: several ? selection : null });
  if (!chosen) document.querySelector<SVGSVGElement>(".board")?.focus({ preventScroll: true });
}

function EntryView({ entry, catalogue }: { entry: Entry; catalogue: Catalogue }) {
  const inHand = useView((view) => (view.tool && !view.tool.device ? view.tool.title : null));
  const [first] = entry.tools;
  if (entry.tools.length === 1) {
    const chosen = inHand === first.title;
    return (
      <button
        type="button"
        className={chosen ? "tool chosen" : "tool"}
        aria-pressed={chosen}
        onClick={() => takeUp(first, chosen)}
      >
        <PartIcon catalogue={catalogue} kind={first.kind} part={first.part} params={first.params} />
        <span>{entry.title}</span>
      </button>
    );
  }
  const shown = entry.tools.find(({ title }) => title === inHand) ?? first;
  return (
    <div className={inHand === shown.title ? "tool chosen" : "tool"}>
      <PartIcon catalogue={catalogue} kind={shown.kind} part={shown.part} params={shown.params} />
      <span>
        {entry.title}
        <span className="poles" role="group" aria-label={`${entry.title}, poles`}>
          {entry.tools.map((tool, index) => (
            <button
              key={tool.title}
              type="button"
              aria-label={tool.title}
              aria-pressed={inHand === tool.title}
              onClick={() => takeUp(tool, inHand === tool.title)}
            >
              {entry.choices[index]}
            </button>
          ))}
        </span>
      </span>
    </div>
  );
}

export function PartIcon(props: {
  catalogue: Catalogue;
  kind: string;
  part: string;
  params?: Tool["params"] | undefined;
}) {
  const device = sample(props.kind, props.params);
  const convention = useDocument((document) => document.circuit.convention);
  const symbol = props.catalogue.part(device, props.part)?.symbol ?? "";
  const drawing = symbolOn({ convention, kind: "power" }, symbol);
  if (!drawing) return null;
  const { body, shapes } = drawing.icon ?? drawing;
  const [left, top, right, bottom] = body;
  // A small symbol is not blown up beyond what the others are drawn at.
  const [width, height] = [Math.max(right - left, 5) + 0.8, Math.max(bottom - top, 4) + 0.8];
  const [cx, cy] = [(left + right) / 2, (top + bottom) / 2];
  return (
    <svg
      className="part-icon"
      width="44"
      height="32"
      viewBox={`${cx - width / 2} ${cy - height / 2} ${width} ${height}`}
      aria-hidden
    >
      <SymbolView drawing={{ ...drawing, shapes }} />
    </svg>
  );
}
