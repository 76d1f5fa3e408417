import { Button, HStack } from "@chakra-ui/react";
import { useEffect, useRef } from "react";
import { useBench, useTheBench } from "../../bench/context";
import type { Circuit } from "../../circuit/types";
import { endKey } from "../../circuit/types";
import { download } from "../../common/download";
import { useDocument } from "../../job/document";

/** Potentials of all terminals to the one chosen: now, and at the moments that were kept, side by side. */
export function MapTable({ circuit, onClose }: { circuit: Circuit; onClose: () => void }) {
  const { meters } = useTheBench();
  const dialog = useRef<HTMLDialogElement>(null);
  useEffect(() => dialog.current?.showModal(), []);
  const catalogue = useDocument((document) => document.catalogue);
  const named = catalogue.designations(circuit);
  const potentials = useBench((state) => state.potentials);
  const reference = useBench((state) => state.reference);
  const kept = useBench((state) => state.keptMaps);
  const columns = potentials ? [...kept, potentials] : kept;
  const ends = circuit.devices.flatMap((device) =>
    catalogue.terminals(device).map((terminal) => ({ device: device.id, terminal })),
  );
  const heads = columns.map(({ of }) => `${(of.time_us / 1e6).toFixed(3)} s`);
  const rows = ends.map((end) => ({
    name: named(end),
    volts: columns.map(({ volts }) => volts.get(endKey(end)) || "–"),
  }));
  const csv = (): string =>
    [["Terminal", ...heads], ...rows.map(({ name, volts }) => [name, ...volts])]
      .map((row) => row.join(","))
      .join("\r\n");
  const title = `Potentials to ${reference ? named(reference) : ""}`;
  return (
    <dialog ref={dialog} className="state-table" aria-label={title} onClose={onClose}>
      <HStack justify="space-between" wrap="wrap">
        <h2>{title}, volts</h2>
        <HStack>
          <Button size="xs" variant="outline" disabled={!potentials} onClick={() => meters.keepMap()}>
            Keep this moment beside
          </Button>
          <Button size="xs" variant="outline" onClick={() => download("potentials.csv", `${csv()}\r\n`)}>
            CSV
          </Button>
          <Button size="xs" colorPalette="accent" onClick={() => dialog.current?.close()}>
            Close
          </Button>
        </HStack>
      </HStack>
      <div className="state-table-rows">
        <table>
          <thead>
            <tr>
              <th scope="col">Terminal</th>
              {columns.map(({ of }, index) => (
                // biome-ignore lint/suspicious/noArrayIndexKey: two columns may be of one moment
                <th scope="col" key={index}>
                  {(of.time_us / 1e6).toFixed(3)} s
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {rows.map(({ name, volts }) => (
              <tr key={name}>
                <th scope="row">{name}</th>
                {volts.map((display, index) => (
                  <td
                    // biome-ignore lint/suspicious/noArrayIndexKey: as its column
                    key={index}
                    className={index > 0 && volts[index - 1] !== display ? "changed" : ""}
                  >
                    {display}
                  </td>
                ))}
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </dialog>
  );
}
