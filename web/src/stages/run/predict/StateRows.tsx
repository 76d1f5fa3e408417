import { Input, Textarea } from "@chakra-ui/react";
import type { Schemas } from "../../../api/types";
import { useTheBench } from "../../../bench/context";
import { useDocument } from "../../../job/document";
import { send, useWritten, write } from "./answers";
import { handsBefore, NEXT, type Place, placesOf, type SheetBody } from "./sheetBody";

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
  const catalogue = useDocument((document) => document.catalogue);
  const bench = useTheBench();
  const why = (place: string): (() => void) | undefined => {
    const meter = sheet.sheet.meters.find(({ letter }) => letter === place);
    if (!meter) return undefined;
    return () => {
      bench.meters.choose("voltmeter");
      bench.meters.probe(meter.red, "red");
      bench.meters.probe(meter.black, "black");
      void bench.meters.askWhy();
    };
  };
  return (
    <>
      <p className="predict-hands">{handsBefore(sheet, index, catalogue)}</p>
      <ul className="predict-rows">
        {placesOf(sheet, index, catalogue).map((one) => (
          <Row
            key={one.place}
            index={index}
            asked={one}
            mark={marks?.[one.place]}
            explains={explains}
            onWhy={why(one.place)}
          />
        ))}
      </ul>
    </>
  );
}

function Row(props: {
  index: number;
  asked: Place;
  mark: Mark | undefined;
  explains: readonly string[];
  onWhy: (() => void) | undefined;
}) {
  const { index, mark, explains, onWhy } = props;
  const { place, name, where, hint } = props.asked;
  const text = useWritten((state) => state.answers[index]?.[place] ?? "");
  const field = {
    size: "xs",
    fontSize: "sm",
    color: "fg",
    "aria-label": `${name}, ${where}`,
    maxLength: 200,
    value: text,
    readOnly: mark !== undefined,
    onBlur: () => void send(),
  } as const;
  return (
    <li>
      <div className="predict-row">
        <strong>{name}</strong>
        <span>{where}</span>
        {place === NEXT ? (
          <Textarea
            {...field}
            gridColumn="1 / -1"
            rows={2}
            onChange={(event) => write(index, place, event.target.value)}
          />
        ) : (
          <Input
            {...field}
            w="78px"
            placeholder={hint}
            onChange={(event) => write(index, place, event.target.value)}
            onKeyDown={(event) => event.key === "Enter" && void send()}
          />
        )}
      </div>
      {mark && place === NEXT && <Beside mark={mark} />}
      {mark && place !== NEXT && <MarkLine mark={mark} explains={explains} {...(onWhy ? { onWhy } : {})} />}
    </li>
  );
}

/** What whoever made the sheet would measure next: people compare that, no mark is given. */
function Beside({ mark }: { mark: Mark }) {
  return (
    <div className="predict-mark">
      <p>
        {mark.shown
          ? `Whoever made the sheet: ${mark.shown}`
          : "Not marked here: whoever made the sheet reads it."}
      </p>
    </div>
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
