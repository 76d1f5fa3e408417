import type { Layout } from "../../sheet/page";
import "./panel.css";
import { useMemo } from "react";
import type { Catalogue } from "../../circuit/catalogue";
import { findNets, netsByEnd } from "../../circuit/nets";
import { type Circuit, type Device, type End, endKey } from "../../circuit/types";
import { showPart, symbolOfDevice } from "../../job/show";
import { findTerminal } from "../../sheet/layout";
import { goTo, selectedParts, setView, useView } from "../../sheet/view";

const PLACES = [
  ["door", "Door"],
  ["plate", "Mounting plate"],
  ["field", "Outside the panel"],
] as const;

interface Props {
  readonly circuit: Circuit;
  readonly catalogue: Catalogue;
  readonly layout: Layout;
}

/** Where each device sits, and its terminals with what is wired to them; chosen here is chosen on the sheet. */
export function PanelPlan({ circuit, catalogue, layout }: Props) {
  const selection = useView((view) => view.selection);
  const chosen = new Set(selectedParts(selection).map(({ device }) => device));
  return (
    <section className="panel-plan" aria-label="Panel">
      {PLACES.map(([place, title]) => (
        <div key={place} className={`panel-zone ${place}`} role="group" aria-label={title}>
          <h2>{title}</h2>
          <div className="panel-devices">
            {circuit.devices
              .filter((device) => catalogue.mounting(device) === place)
              .map((device) => (
                <button
                  key={device.id}
                  type="button"
                  className="panel-device"
                  aria-pressed={chosen.has(device.id)}
                  title={device.function || catalogue.kind(device.kind)?.title}
                  onClick={() => choose(circuit, device)}
                >
                  {device.label}
                </button>
              ))}
          </div>
        </div>
      ))}
      <TerminalPlan circuit={circuit} catalogue={catalogue} layout={layout} chosen={chosen} />
    </section>
  );
}

function choose(circuit: Circuit, device: Device): void {
  const symbol = symbolOfDevice(circuit, device.id);
  if (symbol) showPart(symbol);
  else setView({ said: `${device.label} is on no sheet` });
}

/** The terminals of the chosen devices, or of the terminal blocks: wire, and where it goes. */
function TerminalPlan({ circuit, catalogue, layout, chosen }: Props & { chosen: ReadonlySet<string> }) {
  const cursor = useView((view) => view.cursor);
  const nets = useMemo(() => netsByEnd(findNets(circuit)), [circuit]);
  const designation = catalogue.designations(circuit);
  const blocks = circuit.devices.filter((device) => catalogue.kind(device.kind)?.group === "terminal");
  const devices = chosen.size ? circuit.devices.filter(({ id }) => chosen.has(id)) : blocks;
  const ends = devices.flatMap((device) =>
    catalogue.terminals(device).map((terminal): End => ({ device: device.id, terminal })),
  );
  return (
    <div className="panel-terminals">
      <table>
        <caption>{chosen.size ? "Terminals of what is selected" : "Terminal blocks"}</caption>
        <thead>
          <tr>
            <th scope="col">Terminal</th>
            <th scope="col">Wire</th>
            <th scope="col">Goes to</th>
          </tr>
        </thead>
        <tbody>
          {ends.map((end) => {
            const found = findTerminal(layout, end);
            const here =
              found !== undefined &&
              cursor?.sheet === found.page.sheet.id &&
              cursor.at.x === found.terminal.x &&
              cursor.at.y === found.terminal.y;
            return (
              <tr key={endKey(end)} className={here ? "here" : undefined}>
                <th scope="row">
                  <button
                    type="button"
                    disabled={!found}
                    onClick={() =>
                      found && goTo(found.page.sheet.id, { x: found.terminal.x, y: found.terminal.y })
                    }
                  >
                    {designation(end)}
                  </button>
                </th>
                <td>{nets.get(endKey(end))?.number ?? "–"}</td>
                <td>{farEnds(circuit, end).map(designation).join(", ") || "no wire"}</td>
              </tr>
            );
          })}
          {ends.length === 0 && (
            <tr>
              <td colSpan={3}>This circuit has no terminal blocks. Choose a device to see its terminals.</td>
            </tr>
          )}
        </tbody>
      </table>
    </div>
  );
}

const farEnds = (circuit: Circuit, end: End): End[] =>
  circuit.conductors.flatMap(({ a, b }) =>
    endKey(a) === endKey(end) ? [b] : endKey(b) === endKey(end) ? [a] : [],
  );
