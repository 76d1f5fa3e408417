import { Box, Flex } from "@chakra-ui/react";
import { useEffect, useRef, useState } from "react";
import { isOnBench, redraw, startBench, tick, useBench } from "../bench/bench";
import { Door } from "../bench/Door";
import { RunBoard } from "../bench/RunBoard";
import { TimeChart } from "../bench/TimeChart";
import { clearLatches } from "../bench/working";
import { CheckLine } from "../checks/CheckLine";
import { useChecks } from "../checks/checks";
import { Findings } from "../checks/Findings";
import { Notice, ProblemNotice } from "../common/Notice";
import { DrawBoard } from "../draw/DrawBoard";
import { Inspector } from "../draw/Inspector";
import { Palette } from "../draw/Palette";
import { Meter } from "../meters/Meter";
import { PanelPlan } from "../panel/PanelPlan";
import { Legend } from "../sheet/Legend";
import { useLayout } from "../sheet/layout";
import { Versions } from "../versions/Versions";
import { dismissRefusal, useDocument } from "./document";
import { StatusLine } from "./StatusLine";
import type { Stage } from "./stages";
import { useView } from "./view";

/** The sheets in the middle, hands on the left, instruments or properties on the right. */
export function Workbench({ stage }: { stage: Stage }) {
  const circuit = useDocument((document) => document.circuit);
  const catalogue = useDocument((document) => document.catalogue);
  const layout = useLayout(circuit, catalogue);
  useEffect(() => {
    if (stage !== "run") return undefined;
    if (isOnBench(circuit)) redraw(circuit);
    else {
      clearLatches();
      startBench(circuit, catalogue);
    }
    let running = true;
    const loop = (): void => {
      if (!running) return;
      tick();
      requestAnimationFrame(loop);
    };
    loop();
    return () => {
      running = false;
    };
  }, [stage, circuit, catalogue]);
  useChecks(circuit);
  const running = stage === "run";
  const plan = useView((view) => view.plan);
  return (
    <Flex as="main" flex="1" minH="0">
      <Box
        w={{ base: "176px", xl: "208px" }}
        flexShrink={0}
        overflowY="auto"
        borderRight="1px solid var(--rule)"
        bg="var(--panel)"
      >
        {running ? <Door circuit={circuit} catalogue={catalogue} /> : <Palette catalogue={catalogue} />}
      </Box>
      <Flex flex="1" minW="0" direction="column">
        {running ? <BenchNotice /> : <RefusalNotice />}
        <Box flex="1" minH="0" position="relative">
          {running ? (
            <RunBoard layout={layout} catalogue={catalogue} />
          ) : (
            <DrawBoard layout={layout} circuit={circuit} catalogue={catalogue} />
          )}
        </Box>
        <Flex px="3" py="1" minH="32px" align="center" borderTop="1px solid var(--rule)" bg="var(--panel)">
          {running ? (
            <Legend />
          ) : (
            <>
              <StatusLine />
              <CheckLine circuit={circuit} />
            </>
          )}
        </Flex>
        {!running && plan && <PanelPlan circuit={circuit} catalogue={catalogue} layout={layout} />}
        {running && (
          <Measured>
            {(width) => <TimeChart circuit={circuit} catalogue={catalogue} width={width} />}
          </Measured>
        )}
      </Flex>
      <Box
        w={{ base: "216px", xl: "256px" }}
        flexShrink={0}
        overflowY="auto"
        borderLeft="1px solid var(--rule)"
        bg="var(--panel)"
      >
        {running ? (
          <Meter circuit={circuit} />
        ) : (
          <>
            <Inspector circuit={circuit} catalogue={catalogue} />
            <Findings circuit={circuit} />
            <Versions circuit={circuit} />
          </>
        )}
      </Box>
    </Flex>
  );
}

function Measured({ children }: { children: (width: number) => React.ReactNode }) {
  const box = useRef<HTMLDivElement>(null);
  const [width, setWidth] = useState(600);
  useEffect(() => {
    const observer = new ResizeObserver(([entry]) => entry && setWidth(entry.contentRect.width));
    if (box.current) observer.observe(box.current);
    return () => observer.disconnect();
  }, []);
  return (
    <Box ref={box} h="164px" overflowY="auto" borderTop="1px solid var(--rule)" bg="var(--panel)">
      {children(width)}
    </Box>
  );
}

function BenchNotice() {
  const problem = useBench((bench) => bench.problem);
  const chatters = useBench((bench) => bench.chatters);
  const frames = useBench((bench) => bench.frames);
  const now = useBench((bench) => bench.now);
  const devices = useDocument((document) => document.circuit.devices);
  const circuit = useDocument((document) => document.circuit);
  const catalogue = useDocument((document) => document.catalogue);
  const time = frames[now]?.time_us ?? 0;
  const chatter = chatters.find((c) => c.since_us <= time && time <= c.until_us);
  if (problem) return <ProblemNotice problem={problem} onRetry={() => startBench(circuit, catalogue)} />;
  if (!chatter) return null;
  const names = chatter.devices.map((id) => devices.find((device) => device.id === id)?.label).join(", ");
  return (
    <Notice title={`${names} chatters.`}>
      It opens its own coil and closes it again, every {(chatter.period_us / 1000).toFixed(1)} ms.
    </Notice>
  );
}

function RefusalNotice() {
  const refusal = useDocument((document) => document.refusal);
  useEffect(() => {
    if (!refusal) return undefined;
    const timer = setTimeout(dismissRefusal, 6000);
    return () => clearTimeout(timer);
  }, [refusal]);
  return refusal ? <Notice title="Not done.">{refusal}</Notice> : null;
}
