import { Button, Flex } from "@chakra-ui/react";
import { useState } from "react";
import { api, Problem } from "../../api/client";
import { download, fileName } from "../../common/download";
import { FileButton } from "../../common/FileButton";
import { useDoing } from "./doing";
import { Earlier } from "./Earlier";
import { change, type SizingData, useSizing } from "./sizing";

/** The sheet on paper and as files, a blank one for a class, and standard sizes of one's own. */
export function Exports({ title }: { title: string }) {
  const form = useSizing((state) => state.form);
  const data = useSizing((state) => state.data);
  const [series, setSeries] = useState("breakers-iec");
  const [problem, doing] = useDoing();
  const name = fileName(`${title || "motor"} sizing`);
  const button = (words: string, work: () => Promise<void>) => (
    <Button size="xs" variant="outline" onClick={() => void doing(work)}>
      {words}
    </Button>
  );
  return (
    <>
      <h2>Paper and files</h2>
      <Flex gap="2" wrap="wrap">
        {button("Sheet (PDF)", async () => download(`${name}.pdf`, await paper(name, false)))}
        {button("Blank form (PDF)", async () => download(`${name} blank.pdf`, await paper(name, true)))}
        {button("Sheet (CSV)", async () => download(`${name}.csv`, await api.sizingFile(data)))}
        {button("Sizing (JSON)", async () => download(`${name}.json`, JSON.stringify(data, null, 2)))}
        <FileButton
          words="Open a sizing (JSON)"
          label="Sizing as JSON"
          accept=".json,application/json"
          size="xs"
          onFile={(file) => void doing(async () => open(await file.text()))}
        />
      </Flex>
      {problem && (
        <p className="caution" role="alert">
          {problem}
        </p>
      )}
      <Earlier />
      <h2>Standard sizes</h2>
      <Flex gap="2" wrap="wrap" align="center">
        <select aria-label="Series" value={series} onChange={(event) => setSeries(event.target.value)}>
          {Object.keys(form?.series ?? {}).map((one) => (
            <option key={one} value={one}>
              {one}
              {data.series[one] ? " (own)" : ""}
            </option>
          ))}
        </select>
        {button("Get", async () =>
          download(`${series}.csv`, data.series[series] ?? form?.series[series] ?? ""),
        )}
        <FileButton
          words="Use own (CSV)"
          label="Own series as CSV"
          accept=".csv,text/csv"
          size="xs"
          onFile={(file) =>
            void doing(async () => change({ series: { ...data.series, [series]: await file.text() } }))
          }
        />
        {data.series[series] &&
          button("As shipped", async () => change({ series: without(data.series, series) }))}
      </Flex>
      <SeriesTrouble />
    </>
  );
}

/** Take what a file says in place of what is there. It is read by the core first: what is no sizing changes nothing. */
async function open(text: string): Promise<void> {
  const read = parsed(text);
  await api.size(read as SizingData);
  change({ fields: {}, schools: {}, own: {}, series: {}, ...read });
}

function parsed(text: string): Partial<SizingData> {
  try {
    return JSON.parse(text) as Partial<SizingData>;
  } catch {
    throw new Problem(-1, "No sizing", "This file holds no JSON. A sizing is a file that was saved here.");
  }
}

function SeriesTrouble() {
  const names = useSizing((state) => state.form?.series ?? {});
  const troubles = useSizing((state) => state.answer?.troubles ?? []);
  return troubles
    .filter(({ field }) => field in names)
    .map(({ field, message }) => (
      <p key={field} className="caution" role="alert">
        {message} The series that ships is used.
      </p>
    ));
}

const without = (series: SizingData["series"], name: string): SizingData["series"] =>
  Object.fromEntries(Object.entries(series).filter(([key]) => key !== name));

/** The sheet as a PDF: with its results, or blank for a class. */
async function paper(title: string, blank: boolean): Promise<Blob> {
  const { answer, form, data } = useSizing.getState();
  const words = (text: string, heading = false) => ({ kind: "words" as const, heading, text });
  const row = (name: string, text: string, after = ""): string[] => {
    const field = form?.fields.find((one) => one.name === name);
    // What is chosen from a list is read by its title.
    return [field?.title ?? name, `${field?.titles[field.words.indexOf(text)] ?? text}${after}`];
  };
  const given = Object.entries(data.fields)
    .filter(([, text]) => text)
    .map(([field, text]) => row(field, text));
  const estimates = Object.entries(answer?.estimates ?? {}).map(([field, text]) =>
    row(field, text, " (estimated)"),
  );
  const schools = (form?.questions ?? []).map((question) => [
    question.title,
    question.rules.find((rule) => rule.name === answer?.schools[question.name])?.title ?? "",
  ]);
  const rows = (answer?.lines ?? []).map((line) =>
    blank
      ? [line.title, line.formula, "", ""]
      : [
          line.title,
          [line.formula, line.put_in].filter(Boolean).join(" = "),
          `${line.shown} ${line.unit}`,
          line.warning || line.choice,
        ],
  );
  const buy = (answer?.buy ?? []).map(({ title: what, shown, warning }) => [what, shown, warning]);
  const table = (head: string[], body: string[][]) => ({
    kind: "table" as const,
    head,
    rows: body,
    marked: [],
  });
  return api.paper({
    title: blank ? `${title}, blank form` : title,
    turned: true,
    parts: [
      ...(blank ? [] : [words("To buy and set", true), table(["What", "Size and setting", "Caution"], buy)]),
      words("What is given", true),
      table(["Field", "Value"], [...given, ...(blank ? [] : estimates)]),
      words("Practice followed", true),
      table(["Question", "Rule"], schools),
      words("Sheet", true),
      table(["What", blank ? "Formula" : "Formula and numbers", "Result", blank ? "" : "Reason"], rows),
      words(answer?.caution ?? ""),
    ],
  });
}
