import { Input } from "@chakra-ui/react";
import { Fragment } from "react";
import type { Schemas } from "../../api/types";
import { Chart } from "./Chart";
import { change, type SheetLine, useSizing } from "./sizing";

/** The sheet: chart above, then every line with its formula, numbers, result, and one's own figure for it. */
export function Worksheet() {
  const answer = useSizing((state) => state.answer);
  if (!answer?.lines.length)
    return (
      <section className="worksheet empty" aria-label="Worksheet">
        <p>
          Fill in the plate on the left: power and voltage are enough to begin with. What is missing is
          estimated, and marked so.
        </p>
      </section>
    );
  const groups = [...new Set(answer.lines.map(({ group }) => group))];
  return (
    <section className="worksheet" aria-label="Worksheet">
      <ToBuy items={answer.buy} />
      {answer.chart && <Chart chart={answer.chart} />}
      <table>
        <thead>
          <tr>
            <th scope="col">What</th>
            <th scope="col">Formula, and the numbers put in</th>
            <th scope="col">Result</th>
            <th scope="col">Your own</th>
          </tr>
        </thead>
        <tbody>
          {groups.map((group) => (
            <Fragment key={group}>
              <tr className="group">
                <th colSpan={4} scope="colgroup">
                  {group}
                </th>
              </tr>
              {answer.lines
                .filter((line) => line.group === group)
                .map((line) => (
                  <Row key={line.key} line={line} />
                ))}
            </Fragment>
          ))}
        </tbody>
      </table>
      <p className="caution">{answer.caution}</p>
    </section>
  );
}

/** What to buy and how to set it, each with the way to the line that leads there. */
function ToBuy({ items }: { items: Schemas["ItemData"][] }) {
  return (
    <>
      <h2>To buy and set</h2>
      <dl className="to-buy" aria-label="To buy and set">
        {items.map(({ title, shown, line, warning }) => (
          <div key={line}>
            <dt>{title}</dt>
            <dd>
              <a href={`#line-${line}`}>{shown}</a>
              {warning && <small className="caution">{warning}</small>}
            </dd>
          </div>
        ))}
      </dl>
    </>
  );
}

/** A formula with its indices set low: I_dial, U_w. */
function Formula({ text }: { text: string }) {
  return text.split(/(_\w+)/).map((piece, at) =>
    // biome-ignore lint/suspicious/noArrayIndexKey: pieces of one text, in their order
    piece.startsWith("_") ? <sub key={at}>{piece.slice(1)}</sub> : piece,
  );
}

function Row({ line }: { line: SheetLine }) {
  const own = useSizing((state) => state.data.own[line.key] ?? "");
  const wrong = useSizing((state) => state.answer?.troubles.find(({ field }) => field === `own.${line.key}`));
  const { verdict } = line;
  return (
    <tr id={`line-${line.key}`}>
      <th scope="row">
        {line.title}
        {line.estimated && <em title="From typical values"> estimate</em>}
      </th>
      <td>
        <Formula text={line.formula} />
        {line.put_in && <span className="put-in">{line.put_in}</span>}
        {line.choice && <small>{line.choice}</small>}
        {line.source && <small className="source">{line.source}</small>}
        {line.warning && <small className="caution">{line.warning}</small>}
      </td>
      <td className="result">
        <strong>{line.shown}</strong> {line.unit}
      </td>
      <td className="own">
        {line.unit && (
          <Input
            size="xs"
            aria-label={`Your own figure: ${line.title}`}
            value={own}
            maxLength={40}
            onChange={(event) =>
              change({ own: { ...useSizing.getState().data.own, [line.key]: event.target.value } })
            }
          />
        )}
        {wrong && <small className="caution">{wrong.message}</small>}
        {verdict && (
          <small className={`verdict ${verdict.kind}`} role="status">
            {verdict.says} {verdict.cost}
          </small>
        )}
      </td>
    </tr>
  );
}
