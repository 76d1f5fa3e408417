import { api } from "../../../api/client";
import type { Schemas } from "../../../api/types";
import type { Catalogue } from "../../../circuit/catalogue";
import type { End } from "../../../circuit/types";
import { drawnPages, type Stroke } from "../../../sheet/drawing";
import { findTerminal, layOut } from "../../../sheet/layout";
import type { Layout } from "../../../sheet/page";
import { handsBefore, NEXT, type Place, placesOf } from "./sheetBody";

type Paper = Schemas["Paper"];
type Marks = Schemas["Key"]["states"][number];
type Sheet = Pick<Schemas["SheetBody"], "id" | "sheet" | "circuit" | "faults" | "hides">;

/** A sheet on paper: the drawing with its meters, and a table a state, to be filled in or with what the circuit shows. */
export async function sheetOnPaper(
  job: number,
  kept: Sheet,
  catalogue: Catalogue,
  key: boolean,
): Promise<Blob> {
  const { sheet } = kept;
  const shown = key ? (await api.answerKey(job, kept.id)).states : [];
  const states = sheet.states.flatMap((state, index): Paper["parts"] => [
    { kind: "words", heading: true, text: `${index + 1}. ${state.title}` },
    { kind: "words", heading: false, text: handsBefore(kept, index, catalogue) },
    tableOf(placesOf(kept, index, catalogue), shown[index]),
    ...nextOf(placesOf(kept, index, catalogue), shown[index]),
  ]);
  const title = key ? `${sheet.title}: answer key` : sheet.title;
  const head = key
    ? "Answer key. A prediction of the circuit, not a test of a panel."
    : "Name:            Date:";
  return api.paper({
    title,
    turned: false,
    parts: [
      { kind: "words", heading: false, text: head },
      ...wrong(kept, key),
      ...drawings(kept, catalogue),
      ...states,
    ],
  });
}

/** What is wrong in the circuit: told, hidden from whoever fills it in, or nothing. */
function wrong({ sheet, faults, hides }: Sheet, key: boolean): Paper["parts"] {
  const told = sheet.told || key ? `With: ${faults.join("; ")}.` : "Something is wrong in this circuit.";
  return faults.length || hides ? [{ kind: "words", heading: false, text: told }] : [];
}

function tableOf(places: readonly Place[], marks: Marks | undefined): Paper["parts"][number] {
  const rows = places
    .filter(({ place }) => place !== NEXT)
    .map(({ place, name, where }) => [name, where, marks?.[place]?.shown ?? ""]);
  const head = ["What", "Where", marks ? "The circuit shows" : "I expect                  "];
  return { kind: "table", head, rows, marked: [] };
}

/** What one would measure next: lines to write it on, or what whoever made the sheet would. */
function nextOf(places: readonly Place[], marks: Marks | undefined): Paper["parts"] {
  const asked = places.find(({ place }) => place === NEXT);
  if (!asked) return [];
  const text = marks ? marks[NEXT]?.shown || "–" : `${"_".repeat(70)}\n${"_".repeat(70)}`;
  return [
    { kind: "words", heading: true, text: asked.where },
    { kind: "words", heading: false, text },
  ];
}

/** The sheets of the circuit, with the letter of each meter at its terminals: + at red, - at black. */
function drawings({ sheet, circuit }: Sheet, catalogue: Catalogue): Paper["parts"] {
  const layout = layOut(circuit, catalogue);
  return drawnPages(layout).map((page, index): Paper["parts"][number] => {
    const marks = sheet.meters.flatMap(({ letter, red, black }) => [
      ...markAt(layout, index, red, `${letter}+`),
      ...markAt(layout, index, black, `${letter}-`),
    ]);
    return { kind: "drawing", page: { ...page, strokes: [...page.strokes, ...marks] } };
  });
}

/** A letter in a circle beside a terminal, if it stands on this sheet. */
function markAt(layout: Layout, index: number, end: End, letter: string): Stroke[] {
  const found = findTerminal(layout, end);
  if (!found || layout.pages[index] !== found.page) return [];
  const { terminal, page } = found;
  const [x, y] = [terminal.x - page.frame.left, terminal.y - page.frame.top];
  const plain = { dashed: false, r: 0, text: "", size: 0, align: "start" as const };
  return [
    {
      ...plain,
      kind: "line",
      layer: "texts",
      points: [
        [x, y],
        [x - 0.9, y + 0.9],
      ],
    },
    { ...plain, kind: "circle", layer: "texts", points: [[x - 1.7, y + 1.5]], r: 1.1 },
    {
      ...plain,
      kind: "text",
      layer: "texts",
      points: [[x - 1.7, y + 1.9]],
      text: letter,
      size: 1.3,
      align: "middle",
    },
  ];
}
