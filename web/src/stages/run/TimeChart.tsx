import { Box, Button, Flex, HStack, Text } from "@chakra-ui/react";
import { useEffect, useMemo, useState } from "react";
import { useBench, useTheBench } from "../../bench/context";
import type { Catalogue } from "../../circuit/catalogue";
import type { Circuit, Device, Frame } from "../../circuit/types";

const ROW = 17;
const LABELS = 156;
const SPEEDS = [
  [1, "real time"],
  [0.1, "1/10"],
  [0.01, "1/100"],
] as const;

/** Who was on when: one line a device, the present at the right edge. */
export function TimeChart({
  circuit,
  catalogue,
  width,
}: {
  circuit: Circuit;
  catalogue: Catalogue;
  width: number;
}) {
  const bench = useTheBench();
  const frames = useBench((state) => state.frames);
  const speed = useBench((bench) => bench.speed);
  const now = useClock();
  const span = 10_000_000 * speed;
  const devices = useMemo(() => charted(circuit, catalogue), [circuit, catalogue]);
  const from = now - span;
  const chart = Math.max(width - LABELS - 16, 100);
  const x = (timeUs: number): number => ((Math.min(Math.max(timeUs, from), now) - from) / span) * chart;
  return (
    <Box as="section" aria-label="Time chart" px="3" pt="1">
      <Flex justify="space-between" align="center" h="28px">
        <Text fontSize="line" fontWeight="600" color="var(--soft)">
          Last {span >= 1e6 ? `${span / 1e6} s` : `${span / 1e3} ms`}
        </Text>
        <HStack gap="1">
          <Text fontSize="note" color="var(--soft)">
            Speed
          </Text>
          {SPEEDS.map(([value, title]) => (
            <Button
              key={value}
              size="2xs"
              variant={speed === value ? "solid" : "ghost"}
              colorPalette="accent"
              aria-pressed={speed === value}
              onClick={() => bench.setSpeed(value)}
            >
              {title}
            </Button>
          ))}
        </HStack>
      </Flex>
      <svg width={LABELS + chart} height={devices.length * ROW + 4} role="img" aria-label="States over time">
        {devices.map((device, row) => (
          <g key={device.id} transform={`translate(0 ${row * ROW})`}>
            <text x={0} y={ROW - 5} className="chart-label">
              {device.label}
              <tspan className="chart-function" dx={6}>
                {device.function.slice(0, 20)}
              </tspan>
            </text>
            <path className="chart-base" d={`M${LABELS} ${ROW - 3}h${chart}`} />
            <path
              className="chart-line"
              transform={`translate(${LABELS} 0)`}
              d={steps(frames, device.id, from, now, x)}
            />
          </g>
        ))}
      </svg>
    </Box>
  );
}

/** Simulated time, ten times a second. */
function useClock(): number {
  const bench = useTheBench();
  const [now, setNow] = useState(() => bench.nowUs());
  useEffect(() => {
    const timer = setInterval(() => setNow(bench.nowUs()), 100);
    return () => clearInterval(timer);
  }, [bench]);
  return now;
}

function charted(circuit: Circuit, catalogue: Catalogue): Device[] {
  const order = ["command", "switching", "load", "signal"];
  const group = (device: Device): number => order.indexOf(catalogue.kind(device.kind)?.group ?? "");
  return circuit.devices.filter((device) => group(device) >= 0).sort((p, q) => group(p) - group(q));
}

function steps(
  frames: readonly Frame[],
  device: string,
  from: number,
  now: number,
  x: (t: number) => number,
): string {
  let path = "";
  let level: boolean | undefined;
  const y = (on: boolean): number => (on ? 3 : ROW - 3);
  for (const frame of frames) {
    if (frame.time_us > now) break;
    const on = frame.devices[device]?.active ?? false;
    if (on === level) continue;
    path += level === undefined ? `M${x(frame.time_us)} ${y(on)}` : `H${x(frame.time_us)}V${y(on)}`;
    level = on;
  }
  return level === undefined || now <= from ? "" : `${path}H${x(now)}`;
}
