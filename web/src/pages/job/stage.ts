import { useEffect, useState } from "react";
import { STAGES } from "../../stages";
import type { Stage } from "../../stages/stage";

const loaded = new Map<string, Stage>();

async function load(path: string): Promise<Stage> {
  const known = loaded.get(path);
  const entry = STAGES.find((candidate) => candidate.path === path);
  if (known) return known;
  if (!entry) throw new Error(`There is no stage ${path}.`);
  const { stage } = await entry.load();
  loaded.set(path, stage);
  return stage;
}

/** The stage with this address, once it is there; the others follow, so that they open without the server. */
export function useStage(path: string): { stage: Stage | undefined; failed: unknown; retry: () => void } {
  const [, setArrived] = useState(0);
  const [failed, setFailed] = useState<unknown>(null);
  const [tries, setTries] = useState(0);
  useEffect(() => {
    let wanted = true;
    void tries;
    load(path)
      .then(() => {
        if (!wanted) return;
        setFailed(null);
        setArrived((count) => count + 1);
        for (const other of STAGES) void load(other.path).catch(() => undefined);
      })
      .catch((error: unknown) => wanted && setFailed(error));
    return () => {
      wanted = false;
    };
  }, [path, tries]);
  return { stage: loaded.get(path), failed, retry: () => setTries((count) => count + 1) };
}
