import { Input } from "@chakra-ui/react";
import type { Schemas } from "../../../api/types";
import { useTheBench } from "../../../bench/context";
import { useDocument } from "../../../job/document";
import { send, useWritten, write } from "./answers";
import { handsBefore, type SheetBody } from "./sheetBody";

type Mark = Schemas["MarkData"];

/** A state of a sheet: what the hands did, and a line for each meter and device. */
export function StateRows(props: {
  sheet: SheetBody;
  index: number;
  marks: Record<string, Mark> | undefined;
  /** What explains all answers: beside a wrong one only that is told. */
  believed: Schemas["Believed"] | undefined;
}) {
  const { sheet, index, marks, believed } = props;
  const explains = believed?.named.map(({ name }) => name) ?? [];
  const { meters, devices } = sheet.sheet;
  const catalogue = useDocument((document) => document.catalogue);
  const named = catalogue.designations(sheet.circuit);
  const bench = useTheBench();
  const device = (id: string) => sheet.circuit.devices.find((one) => one.id === id);
  return (
    <>
      <p className="predict-hands">{handsBefore(sheet, index, catalogue)}</p>
      <ul className="predict-rows">
        {meters.map(({ letter, red, black }) => (
          <Row
            key={letter}
            index={index}
            place={letter}
            name={letter}
            told={`${named(red)} to ${named(black)}`}
            hint="volts"
            mark={marks?.[letter]}
            explains={explains}
            onWhy={() => {
              bench.meters.choose("voltmeter");
              bench.meters.probe(red, "red");
              bench.meters.probe(black, "black");
              void bench.meters.askWhy();
            }}
          />
        ))}
        {devices.map((id) => (
          <Row
            key={id}
            index={index}
            place={id}
            name={device(id)?.label ?? id}
            told={device(id)?.function ?? ""}
            hint="in, out"
            mark={marks?.[id]}
            explains={explains}
          />
        ))}
      </ul>
    </>
  );
}

function Row(props: {
  index: number;
  place: string;
  name: string;
  told: string;
  hint: string;
  mark: Mark | undefined;
  explains: readonly string[];
  onWhy?: () => void;
}) {
  const { index, place, name, told, hint, mark, explains, onWhy } = props;
  const text = useWritten((state) => state.answers[index]?.[place] ?? "");
  return (
    <li>
      <div className="predict-row">
        <strong>{name}</strong>
        <span>{told}</span>
        <Input
          size="xs"
          w="78px"
          fontSize="sm"
          color="fg"
          aria-label={`${name}, ${told}`}
          placeholder={hint}
          maxLength={200}
          value={text}
          readOnly={mark !== undefined}
          onChange={(event) => write(index, place, event.target.value)}
          onBlur={() => void send()}
          onKeyDown={(event) => event.key === "Enter" && void send()}
        />
      </div>
      {mark && <MarkLine mark={mark} explains={explains} {...(onWhy ? { onWhy } : {})} />}
    </li>
  );
}

function MarkLine(props: { mark: Mark; explains: readonly string[]; onWhy?: () => void }) {
  const { mark, explains, onWhy } = props;
  const by = mark.right === false ? mark.fits.filter(({ name }) => explains.includes(name)) : [];
  const verdict = mark.right === null ? "" : mark.right ? "right" : "wrong";
  return (
    <div className={`predict-mark ${verdict}`}>
      <p>
        {verdict && <strong>{mark.right ? "Right. " : "Not so. "}</strong>}
        The circuit: {mark.shown}.{" "}
        {onWhy && (
          <button type="button" onClick={onWhy}>
            Why?
          </button>
        )}
      </p>
      {mark.question && <p className="caution">{mark.question}</p>}
      {by.map((fit) => (
        <p key={fit.name} className="predict-fit">
          {fit.title}
          {fit.about && ` (${fit.about})`}
        </p>
      ))}
    </div>
  );
}
