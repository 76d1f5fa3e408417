import { Button, HStack } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useRef, useState } from "react";
import { api, asProblem, sequenceOf } from "../../../api/client";
import type { Schemas } from "../../../api/types";
import type { Circuit } from "../../../circuit/types";
import { download, fileName } from "../../../common/download";
import type { Step } from "./recording";

type Answer = Schemas["TableAnswer"];

interface Props {
  readonly job: number;
  readonly circuit: Circuit;
  readonly name: string;
  readonly steps: readonly Step[];
  readonly onClose: () => void;
}

/** What every device does at each step, and where a version of the job does something else. */
export function StateTable({ job, circuit, name, steps, onClose }: Props) {
  const dialog = useRef<HTMLDialogElement>(null);
  const [version, setVersion] = useState<number | null>(null);
  const [events, setEvents] = useState(false);
  const versions = useQuery({ queryKey: ["versions", job], queryFn: () => api.versions(job) });
  const sequence = sequenceOf([...steps]);
  const table = useQuery({
    queryKey: ["state-table", job, circuit.devices, circuit.conductors, steps, version],
    queryFn: async () => {
      const against = version === null ? null : (await api.version(job, version)).circuit;
      return api.stateTable(circuit, sequence, against);
    },
    gcTime: 0,
  });
  useEffect(() => dialog.current?.showModal(), []);
  const title = `State table: ${name}`;
  const { data } = table;
  return (
    <dialog ref={dialog} className="state-table" aria-label={title} onClose={onClose}>
      <HStack justify="space-between" wrap="wrap">
        <h2>{title}</h2>
        <HStack wrap="wrap">
          <label>
            Beside{" "}
            <select
              aria-label="Compare with"
              value={version ?? ""}
              onChange={(event) => setVersion(Number(event.target.value) || null)}
            >
              <option value="">nothing</option>
              {versions.data?.versions.map((one) => (
                <option key={one.id} value={one.id}>
                  {one.name}
                </option>
              ))}
            </select>
          </label>
          <Button size="xs" variant="outline" aria-pressed={events} onClick={() => setEvents(!events)}>
            Events
          </Button>
          <Button
            size="xs"
            variant="outline"
            disabled={!data}
            onClick={async () =>
              download(`${fileName(title)}.csv`, await api.stateTableFile(circuit, sequence))
            }
          >
            CSV
          </Button>
          <Button
            size="xs"
            variant="outline"
            disabled={!data}
            onClick={async () =>
              data && download(`${fileName(title)}.pdf`, await api.paper(paperOf(title, data)))
            }
          >
            PDF
          </Button>
          <Button size="xs" colorPalette="accent" onClick={() => dialog.current?.close()}>
            Close
          </Button>
        </HStack>
      </HStack>
      {table.error && <p className="caution">{asProblem(table.error).detail}</p>}
      {data && <Cells answer={data} events={events} />}
    </dialog>
  );
}

function Cells({ answer, events }: { answer: Answer; events: boolean }) {
  const { table, against, different } = answer;
  const [first] = different;
  const label = first && table.rows[first.row]?.text;
  return (
    <>
      {table.problem && <p className="caution">{table.problem}</p>}
      {against && (
        <p role="status">
          {first ? `First difference: ${first.device} in “${label}”.` : "Both do the same in every step."}
        </p>
      )}
      <div className="state-table-rows">
        <table>
          <thead>
            <tr>
              <th scope="col">Step</th>
              <th scope="col">Until</th>
              {table.devices.map((device) => (
                <th scope="col" key={device}>
                  {device}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {table.rows.map((row, index) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: a step has no other name than its place
              <tr key={index}>
                <th scope="row">
                  {row.text}
                  {events && <Events row={row} />}
                </th>
                <td>{(row.end_us / 1e6).toFixed(2)} s</td>
                {table.devices.map((device) => (
                  <Cell key={device} answer={answer} index={index} device={device} />
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </>
  );
}

/** What a device does in a row of a table, in words. */
const saysOf = (table: Answer["against"], index: number, device: string): string =>
  table?.words[table.rows[index]?.statuses[device] ?? ""] ?? "";

function Cell({ answer, index, device }: { answer: Answer; index: number; device: string }) {
  const row = answer.table.rows[index];
  const before = answer.table.rows[index - 1]?.statuses[device];
  const status = row?.statuses[device] ?? "";
  const other = answer.different.some((cell) => cell.row === index && cell.device === device);
  const unmet = row?.unmet[device];
  const look = other || unmet ? "other" : before !== undefined && before !== status ? "changed" : "";
  return (
    <td className={look}>
      {saysOf(answer.table, index, device)}
      {other && <span className="beside">{saysOf(answer.against, index, device) || "not there"}</span>}
      {unmet && <span className="beside">{answer.table.words[unmet[0]]} expected</span>}
    </td>
  );
}

function Events({ row }: { row: Answer["table"]["rows"][number] }) {
  return (
    <ul className="state-events">
      {row.events.map(({ after_us, label, what }) => (
        <li key={`${after_us}/${label}/${what}`}>
          {(after_us / 1000).toFixed(1)} ms {label} {what}
        </li>
      ))}
      {row.more > 0 && <li>and {row.more} more</li>}
    </ul>
  );
}

/** The table on paper: what differs from the step before, or from the other circuit, in bold. */
function paperOf(title: string, { table, against, different }: Answer): Schemas["Paper"] {
  const marked = against
    ? different.map(({ row, device }): [number, number] => [row, table.devices.indexOf(device) + 2])
    : table.rows.flatMap((row, index) =>
        table.devices.flatMap((device, at): [number, number][] =>
          index > 0 && table.rows[index - 1]?.statuses[device] !== row.statuses[device]
            ? [[index, at + 2]]
            : [],
        ),
      );
  const rows = table.rows.map((row, index) => [
    row.text,
    `${(row.end_us / 1e6).toFixed(2)} s`,
    ...table.devices.map((device) => {
      const other = different.some((cell) => cell.row === index && cell.device === device);
      const said = saysOf(table, index, device);
      return other ? `${said} / ${saysOf(against, index, device)}` : said;
    }),
  ]);
  return {
    title,
    turned: true,
    parts: [
      { kind: "table", head: ["Step", "Until", ...table.devices].slice(0, 40), rows, marked },
      { kind: "words", heading: false, text: "A prediction of the circuit, not a test of a panel." },
    ],
  };
}
