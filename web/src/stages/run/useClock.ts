import { useEffect, useState } from "react";
import { useBench, useTheBench } from "../../bench/context";

/** Simulated time, ten times a second, and at once where it stands still. */
export function useClock(): number {
  const bench = useTheBench();
  const paused = useBench((state) => state.paused);
  const at = useBench((state) => state.now);
  const [now, setNow] = useState(() => bench.nowUs());
  useEffect(() => {
    const timer = setInterval(() => setNow(bench.nowUs()), 100);
    return () => clearInterval(timer);
  }, [bench]);
  void at;
  return paused ? bench.nowUs() : now;
}
