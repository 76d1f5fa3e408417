import "./invitation.css";
import { Button } from "@chakra-ui/react";
import { useEffect, useState } from "react";
import { BenchProvider, useBench, useFrame } from "../../bench/context";
import { useDocument } from "../../job/document";
import { theBench } from "./theBench";

interface Props {
  /** The label of the device that is to be started. */
  readonly starts: string;
  readonly onDone: () => void;
  readonly onLeave: (to: "/" | "/library") => void;
}

/** A plain invitation over a running circuit: start it, put two probes down, read, and ask why. */
export function Invitation(props: Props) {
  return (
    <BenchProvider value={theBench.use()}>
      <Steps {...props} />
    </BenchProvider>
  );
}

const STEPS = [
  ["Hold the green button", "S1, on the door at the left, until K1 is in."],
  ["Put the red probe down", "Click one of the small circles on the sheet."],
  ["Put the black probe down", "Click another one. The meter at the right reads."],
  ["Ask why", "The button below the probes shows the way of each."],
] as const;

function Steps({ starts, onDone, onLeave }: Props) {
  const device = useDocument(
    ({ circuit }) => circuit.devices.find(({ label }) => label === starts)?.id ?? "",
  );
  const now = useFrame()?.devices[device]?.active ?? false;
  const [started, setStarted] = useState(false);
  if (now && !started) setStarted(true);
  const red = useBench((state) => state.red !== null);
  const black = useBench((state) => state.black !== null);
  const why = useBench((state) => state.explanation !== null);
  const done = [started, red, black, why];
  const step = done.indexOf(false);
  useEffect(() => {
    if (step < 0) onDone();
  }, [step, onDone]);
  return (
    <aside className="invitation" aria-label="The first minute">
      <h2>{step < 0 ? "That is all it takes" : "A pump starter, under power. Try it."}</h2>
      {step >= 0 ? (
        <ol>
          {STEPS.map(([what, how], index) => (
            <li key={what} className={done[index] ? "done" : index === step ? "now" : ""}>
              <strong>{what}</strong>
              {index === step && <span>{how}</span>}
            </li>
          ))}
        </ol>
      ) : (
        <p>
          You have read a voltage and the reason for it. Every circuit here can be worked and measured like
          this one.
        </p>
      )}
      <div className="invitation-ways">
        <Button
          size="xs"
          colorPalette="accent"
          variant={step < 0 ? "solid" : "outline"}
          onClick={() => onLeave("/library")}
        >
          To the library
        </Button>
        <Button size="xs" variant="outline" onClick={() => onLeave("/")}>
          {step < 0 ? "To the jobs" : "Skip, to the jobs"}
        </Button>
      </div>
    </aside>
  );
}
