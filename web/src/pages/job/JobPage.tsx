import { Box, Button, HStack, Spinner } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { type NavigateFunction, useNavigate, useParams } from "react-router";
import { api, asProblem } from "../../api/client";
import { Catalogue } from "../../circuit/catalogue";
import type { Circuit } from "../../circuit/types";
import { download } from "../../common/download";
import { Notice, ProblemNotice } from "../../common/Notice";
import { closeJob, openedCircuit, openJob, rememberHistory, useDocument } from "../../job/document";
import { dropDraft, findDraft } from "../../saved/drafts";
import { settleWindow } from "../../saved/windows";
import { resetView } from "../../sheet/view";
import { FIRST, STAGES } from "../../stages";
import { Bar } from "../../theme/Bar";
import { JobBar } from "./JobBar";
import { rememberStage } from "./lastStage";
import { SaveNotice } from "./SaveNotice";
import { useStage } from "./stage";
import { Workbench } from "./Workbench";

/** One job: its sheets in the middle, the stages as navigation. */
export function JobPage() {
  const params = useParams();
  const navigate = useNavigate();
  const id = Number(params["id"]);
  const entry = STAGES.find(({ path }) => path === params["stage"]);
  const path = entry?.path ?? FIRST;
  const { stage, failed, retry } = useStage(path);
  const [openId, setOpenId] = useState<number | null>(null);
  const loaded = useQuery({
    queryKey: ["open", id],
    queryFn: async () => {
      await settleWindow();
      const [job, catalogue] = await Promise.all([api.job(id), api.catalogue()]);
      return { job, catalogue: new Catalogue(catalogue.kinds), found: await openedCircuit(job) };
    },
    gcTime: 0,
    staleTime: Number.POSITIVE_INFINITY,
  });
  const data = loaded.data;
  useEffect(() => {
    if (!data) return undefined;
    openJob(data.job, data.catalogue, data.found);
    resetView();
    setOpenId(data.job.id);
    window.addEventListener("pagehide", rememberHistory);
    return () => {
      window.removeEventListener("pagehide", rememberHistory);
      closeJob();
    };
  }, [data]);
  useEffect(() => rememberStage(id, path), [id, path]);
  const ready = useDocument((document) => document.job?.id === openId);
  if (loaded.error)
    return (
      <Box>
        <Bar />
        <ProblemNotice problem={asProblem(loaded.error)} onRetry={() => void loaded.refetch()} />
        <Rescue id={id} />
      </Box>
    );
  if (!data || openId !== id || !ready) return <Spinner m="8" aria-label="Opening the job" />;
  return (
    <Box h="100dvh" display="flex" flexDirection="column" overflow="hidden">
      <JobBar open={path} onOpen={(next) => openStage(id, next, navigate)}>
        {stage?.tools && <stage.tools />}
      </JobBar>
      <SaveNotice />
      {stage && <Workbench key={path} stage={stage} />}
      {!stage && failed === null && <Spinner m="8" aria-label="Opening the stage" />}
      {!stage && failed !== null && (
        <Notice
          title="This stage could not be loaded."
          actions={
            <Button size="xs" variant="outline" onClick={retry}>
              Try again
            </Button>
          }
        >
          The server does not answer. Nothing of the job is lost.
        </Notice>
      )}
    </Box>
  );
}

/** What this browser still has of a job that cannot be opened. */
function Rescue({ id }: { id: number }) {
  const navigate = useNavigate();
  const place = { kind: "circuit", of: String(id) };
  const draft = findDraft(place)?.value as Circuit | undefined;
  const [failed, setFailed] = useState<unknown>(null);
  if (!draft) return null;
  const saveAnew = async (): Promise<void> => {
    const made = await api.createJob({ title: draft.title || "Rescued job", circuit: draft });
    dropDraft(place);
    await navigate(`/jobs/${made.id}/draw`);
  };
  return (
    <>
      <Notice
        title="This browser has changes to it that were never saved."
        actions={
          <HStack flexShrink={0}>
            <Button size="xs" colorPalette="accent" onClick={() => void saveAnew().catch(setFailed)}>
              Save them as a new job
            </Button>
            <Button
              size="xs"
              variant="outline"
              onClick={() => download("rescued circuit.json", JSON.stringify(draft, null, 2))}
            >
              Save as a file
            </Button>
          </HStack>
        }
      />
      {failed !== null && <ProblemNotice problem={asProblem(failed)} />}
    </>
  );
}

/** Who leaves before a stage is there comes back to it all the same. */
function openStage(job: number, path: string, navigate: NavigateFunction): void {
  rememberStage(job, path);
  void navigate(`/jobs/${job}/${path}`);
}
