import { Button, HStack } from "@chakra-ui/react";
import { useState } from "react";
import { useNavigate } from "react-router";
import { asProblem, type Problem } from "../api/client";
import { Notice, ProblemNotice } from "../common/Notice";
import { keepMine, saveAsCopy, takeTheirs, useDocument } from "./document";

/** Shown only when the circuit is not where it should be: on the server. */
export function SaveNotice() {
  const save = useDocument((document) => document.save);
  const problem = useDocument((document) => document.saveProblem);
  if (save === "conflict") return <ConflictNotice />;
  if (save === "waiting")
    return (
      <Notice title={`${problem?.title ?? "No connection"}.`} polite>
        Your changes are kept in this browser and saved as soon as the server answers again.
      </Notice>
    );
  if (save === "refused" && problem) return <ProblemNotice problem={problem} />;
  return null;
}

function ConflictNotice() {
  const navigate = useNavigate();
  const [failed, setFailed] = useState<Problem | null>(null);
  const attempt = (what: () => Promise<unknown>) => (): void => {
    what().catch((error: unknown) => setFailed(asProblem(error)));
  };
  return (
    <>
      <Notice
        title="This job was saved in another window."
        actions={
          <HStack flexShrink={0}>
            <Button
              size="xs"
              colorPalette="accent"
              onClick={attempt(async () => {
                const id = await saveAsCopy();
                if (id !== undefined) await navigate(`/jobs/${id}/draw`);
              })}
            >
              Save mine as a new job
            </Button>
            <Button size="xs" variant="outline" onClick={attempt(takeTheirs)}>
              Show theirs, drop mine
            </Button>
            <Button size="xs" variant="outline" onClick={attempt(keepMine)}>
              Replace theirs with mine
            </Button>
          </HStack>
        }
      >
        Nothing was overwritten; what you changed here is kept in this browser.
      </Notice>
      {failed && <ProblemNotice problem={failed} />}
    </>
  );
}
