import { Button, HStack, Text } from "@chakra-ui/react";
import { Pause, Play, SkipBack, SkipForward } from "lucide-react";
import { useBench, useTheBench } from "../../bench/context";

const SPEEDS = [
  [0.01, "1/100"],
  [0.1, "1/10"],
  [1, "real time"],
  [10, "× 10"],
  [60, "× 60"],
] as const;

/** The moment that is shown, and the hands on time: stand still, go on, step, slower and faster. */
export function TimeBar({ now }: { now: number }) {
  const bench = useTheBench();
  const paused = useBench((state) => state.paused);
  const speed = useBench((state) => state.speed);
  const lines = useBench((state) => state.lines);
  return (
    <HStack gap="1" wrap="wrap">
      <HStack gap="0" role="group" aria-label="Time">
        <Button size="2xs" variant="ghost" aria-label="Previous event" onClick={() => bench.step("previous")}>
          <SkipBack size={14} />
        </Button>
        <Button
          size="2xs"
          variant={paused ? "solid" : "ghost"}
          colorPalette="accent"
          aria-label={paused ? "Go on" : "Stand still"}
          onClick={() => bench.pause(!paused)}
        >
          {paused ? <Play size={14} /> : <Pause size={14} />}
        </Button>
        <Button size="2xs" variant="ghost" aria-label="Next event" onClick={() => bench.step("next")}>
          <SkipForward size={14} />
        </Button>
      </HStack>
      <Text fontSize="line" fontFamily="mono" minW="84px" data-testid="clock">
        {(now / 1e6).toFixed(3)} s
      </Text>
      <HStack gap="0" role="group" aria-label="Speed">
        {SPEEDS.map(([value, title]) => (
          <Button
            key={value}
            size="2xs"
            variant={speed === value ? "subtle" : "ghost"}
            aria-pressed={speed === value}
            onClick={() => bench.setSpeed(value)}
          >
            {title}
          </Button>
        ))}
      </HStack>
      {lines.map((line) => (
        <Button key={line.id} size="2xs" variant="outline" onClick={() => bench.takeUp(line)}>
          What went on at {(line.leftUs / 1e6).toFixed(2)} s
        </Button>
      ))}
    </HStack>
  );
}
