import "./run.css";
import "./meters.css";
import { Box, Button } from "@chakra-ui/react";
import { type ComponentType, useEffect, useRef, useState } from "react";
import { BenchProvider, useBench, useTheBench } from "../../bench/context";
import { takeProof } from "../../checks/proof";
import type { Catalogue } from "../../circuit/catalogue";
import type { Circuit } from "../../circuit/types";
import { Notice, ProblemNotice } from "../../common/Notice";
import type { Stage, Views } from "../stage";
import { Door } from "./Door";
import { Meter } from "./Meter";
import { RunBoard } from "./RunBoard";
import { TimeChart } from "./TimeChart";
import { Troubles } from "./Troubles";
import { theBench } from "./theBench";

/** Put the circuit under power, or go on with it, and let its clock run while the stage is open. */
function enter(circuit: Circuit, catalogue: Catalogue): () => void {
  const bench = theBench.here();
  if (bench.holds(circuit)) bench.redraw(circuit);
  else bench.start(circuit, catalogue);
  const proof = takeProof();
  if (proof) bench.play(proof.hands, proof.untilUs);
  let running = true;
  const loop = (): void => {
    if (!running) return;
    bench.tick();
    requestAnimationFrame(loop);
  };
  loop();
  return () => {
    running = false;
  };
}

function BenchNotice({ circuit, catalogue }: Views) {
  const bench = useTheBench();
  const problem = useBench((state) => state.problem);
  const chatters = useBench((state) => state.chatters);
  const frames = useBench((state) => state.frames);
  const now = useBench((state) => state.now);
  const time = frames[now]?.time_us ?? 0;
  const chatter = chatters.find((c) => c.since_us <= time && time <= c.until_us);
  const refused = useBench((state) => state.refused);
  if (refused)
    return (
      <Notice
        title={refused}
        actions={
          <Button size="xs" variant="outline" onClick={() => bench.use.setState({ refused: null })}>
            Understood
          </Button>
        }
      >
        Switch the isolator off and put the padlock on first. On a real panel prove dead as well.
      </Notice>
    );
  if (problem) return <ProblemNotice problem={problem} onRetry={() => bench.start(circuit, catalogue)} />;
  if (!chatter) return <Troubles circuit={circuit} catalogue={catalogue} />;
  const names = chatter.devices
    .map((id) => circuit.devices.find((device) => device.id === id)?.label)
    .join(", ");
  return (
    <Notice title={`${names} chatters.`}>
      It opens its own coil and closes it again, every {(chatter.period_us / 1000).toFixed(1)} ms.
    </Notice>
  );
}

function Chart({ circuit, catalogue }: Views) {
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(600);
  useEffect(() => {
    const observer = new ResizeObserver(([entry]) => entry && setWidth(entry.contentRect.width));
    if (box.current) observer.observe(box.current);
    return () => observer.disconnect();
  }, []);
  return (
    <Box ref={box} h="140px" overflowY="auto" borderTop="1px solid var(--rule)" bg="var(--panel)">
      <TimeChart circuit={circuit} catalogue={catalogue} width={width} />
    </Box>
  );
}

function on(View: ComponentType<Views>): ComponentType<Views> {
  return function OnBench(views) {
    return (
      <BenchProvider value={theBench.use()}>
        <View {...views} />
      </BenchProvider>
    );
  };
}

/** The circuit under power: hands on the left, the meter on the right, time below. */
export const stage: Stage = {
  left: on(Door),
  middle: on(RunBoard),
  notice: on(BenchNotice),
  below: on(Chart),
  right: on(Meter),
  titles: { left: "Door", below: "Time chart", right: "Meter", legend: true },
  tools: null,
  enter,
};
