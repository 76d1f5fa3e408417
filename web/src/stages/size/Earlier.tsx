import { Button } from "@chakra-ui/react";
import { useState } from "react";
import { api } from "../../api/client";
import type { Schemas } from "../../api/types";
import { useSession } from "../../common/session";
import { when } from "../../common/when";
import { useDoing } from "./doing";
import { change } from "./sizing";

/** What the sizing of this job was before, to be taken back: as one more change, so nothing is lost by it. */
export function Earlier() {
  const { job } = useSession();
  const [found, setFound] = useState<readonly Schemas["EarlierSizing"][] | null>(null);
  const [problem, doing] = useDoing();
  if (job === undefined) return null;
  const look = () => doing(async () => setFound((await api.earlierSizings(job)).versions));
  const back = (version: number) =>
    doing(async () => {
      const { sizing } = await api.earlierSizing(job, version);
      change(sizing);
      await look();
    });
  return (
    <details className="size-earlier" onToggle={(event) => event.currentTarget.open && void look()}>
      <summary>Earlier</summary>
      {problem && <p className="caution">{problem}</p>}
      {found?.length === 0 && <p>Nothing yet: the last of every ten minutes is kept.</p>}
      <ul aria-label="Earlier sizings">
        {(found ?? []).map((one) => (
          <li key={one.version}>
            <span>
              {when(one.kept_at)}
              <small>{one.plate || "nothing on the plate"}</small>
            </span>
            <Button
              size="xs"
              variant="outline"
              aria-label={`Take back: ${when(one.kept_at)}`}
              onClick={() => void back(one.version)}
            >
              Take back
            </Button>
          </li>
        ))}
      </ul>
    </details>
  );
}
