import { useBench, useTheBench } from "../../bench/context";
import { readingOf } from "../../bench/state";
import type { Circuit } from "../../circuit/types";
import { useDocument } from "../../job/document";

/** Meters left in the circuit, as on a worksheet. */
export function Pins({ circuit }: { circuit: Circuit }) {
  const pins = useBench((state) => state.pins);
  const catalogue = useDocument((document) => document.catalogue);
  if (!pins.length) return null;
  const named = catalogue.designations(circuit);
  return (
    <section className="pins" aria-label="Meters left in the circuit">
      <h2>Left in the circuit</h2>
      <table>
        <thead className="unseen">
          <tr>
            <th>Meter</th>
            <th>From</th>
            <th>To</th>
            <th>Reads</th>
            <th>Take off</th>
          </tr>
        </thead>
        <tbody>
          {pins.map((pin) => (
            <tr key={pin.letter}>
              <th scope="row">{pin.letter}</th>
              <td className="red">{named(pin.red)}</td>
              <td className="black">{named(pin.black)}</td>
              <PinReading letter={pin.letter} />
              <td>
                <TakeOff letter={pin.letter} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </section>
  );
}

function PinReading({ letter }: { letter: string }) {
  const display = useBench((state) => {
    const pin = state.pins.find((one) => one.letter === letter);
    return pin && readingOf(state, pin.red, pin.black)?.display;
  });
  return (
    <td className="figure" data-pin={letter}>
      {display ?? "…"} V
    </td>
  );
}

function TakeOff({ letter }: { letter: string }) {
  const { meters } = useTheBench();
  return (
    <button type="button" aria-label={`Take meter ${letter} off`} onClick={() => meters.unpin(letter)}>
      ×
    </button>
  );
}
