import { Button } from "@chakra-ui/react";
import { useState } from "react";
import { api, asProblem, type PredictionSheet } from "../../../api/client";
import { useTheBench } from "../../../bench/context";
import type { Circuit } from "../../../circuit/types";
import { useDocument } from "../../../job/document";

type Found = Awaited<ReturnType<typeof api.positions>>;

/** Which meters of a sheet can never tell anything, and where one would tell its first state from its last. */
export function Positions(props: {
  sheet: () => PredictionSheet;
  circuit: Circuit;
  states: boolean;
  ready: boolean;
}) {
  const { sheet, circuit, states, ready } = props;
  const { meters } = useTheBench();
  const catalogue = useDocument((document) => document.catalogue);
  const [found, setFound] = useState<Found | null>(null);
  const [problem, setProblem] = useState("");
  const ask = async (): Promise<void> => {
    const asked = sheet();
    const last = asked.states.length - 1;
    try {
      setFound(await api.positions(circuit, asked, last > 0 ? [0, last] : null));
      setProblem("");
    } catch (error) {
      setProblem(asProblem(error).detail);
    }
  };
  const propose = async (): Promise<void> => {
    try {
      const proposed = await api.proposedMeters(circuit, sheet());
      meters.leave(proposed.meters);
      setProblem(proposed.meters.length ? "" : "No meter would tell anything in these states.");
    } catch (error) {
      setProblem(asProblem(error).detail);
    }
  };
  const named = catalogue.designations(circuit);
  return (
    <div className="predict-positions">
      <Button size="xs" variant="outline" disabled={!states} onClick={() => void propose()}>
        Leave the six meters that tell most
      </Button>
      <Button size="xs" variant="outline" disabled={!ready} onClick={() => void ask()}>
        Can each meter tell something?
      </Button>
      {problem && <p className="caution">{problem}</p>}
      {found && (
        <p>
          {found.useless.length
            ? `${found.useless.join(", ")} can never tell anything: both probes stand on one potential in every state.`
            : "Each of them can."}
        </p>
      )}
      {found && found.telling.length > 0 && (
        <ul className="predict-list" aria-label="Meters that tell the first state from the last">
          {found.telling.map(({ red, black, first, second }) => (
            <li key={`${named(red)} ${named(black)}`}>
              <button
                type="button"
                className="predict-open"
                onClick={() => {
                  meters.probe(red, "red");
                  meters.probe(black, "black");
                  meters.pin();
                }}
              >
                <strong>
                  Leave one at {named(red)} to {named(black)}
                </strong>
                <span>
                  {first} V in the first state, {second} V in the last
                </span>
              </button>
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}
