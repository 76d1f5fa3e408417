import { Button, HStack } from "@chakra-ui/react";
import { useState } from "react";
import { useNavigate } from "react-router";
import { asProblem, type Problem } from "../../api/client";
import { download, fileName } from "../../common/download";
import { Notice, ProblemNotice } from "../../common/Notice";
import { keepMine, saveAsCopy, takeTheirs, useDocument } from "../../job/document";

/** Shown only when the circuit is not where it should be: on the server. */
export function SaveNotice() {
  const save = useDocument((document) => document.save);
  const problem = useDocument((document) => document.saveProblem);
  const kept = useDocument((document) => document.kept);
  const place = kept
    ? "What you changed here is kept in this browser."
    : "This browser has no room to keep your changes: they are in this window alone. Do not close it.";
  if (save === "conflict")
    return (
      <Choice
        title="This job was saved in another window."
        place={`Nothing was overwritten. ${place}`}
        both
      />
    );
  if (save === "gone") return <Choice title="This job was deleted elsewhere." place={place} />;
  if (save === "waiting")
    return (
      <Notice title={`${problem?.title ?? "No connection"}.`} polite actions={!kept && <DownloadButton />}>
        {place} Your changes are saved as soon as the server answers again.
      </Notice>
    );
  if (save === "refused" && problem)
    return <ProblemNotice problem={problem} more={place} actions={<DownloadButton />} />;
  return null;
}

function DownloadButton() {
  return (
    <Button size="xs" variant="outline" onClick={downloadCircuit}>
      Save as a file
    </Button>
  );
}

/** The circuit as it stands in this window, as a file. */
function downloadCircuit(): void {
  const { circuit, job } = useDocument.getState();
  download(`${fileName(job?.title ?? "circuit")} circuit.json`, JSON.stringify(circuit, null, 2));
}

/** What to do with a circuit that cannot take its place on the server; `both` when another is there. */
function Choice({ title, place, both = false }: { title: string; place: string; both?: boolean }) {
  const navigate = useNavigate();
  const [failed, setFailed] = useState<Problem | null>(null);
  const attempt = (what: () => Promise<unknown>) => (): void => {
    what().catch((error: unknown) => setFailed(asProblem(error)));
  };
  return (
    <>
      <Notice
        title={title}
        actions={
          <HStack flexShrink={0} flexWrap="wrap">
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
            {both && (
              <>
                <Button size="xs" variant="outline" onClick={attempt(takeTheirs)}>
                  Show theirs, drop mine
                </Button>
                <Button size="xs" variant="outline" onClick={attempt(keepMine)}>
                  Replace theirs with mine
                </Button>
              </>
            )}
            <DownloadButton />
          </HStack>
        }
      >
        {place}
      </Notice>
      {failed && <ProblemNotice problem={failed} />}
    </>
  );
}
