import "../bench/bench.css";
import "../draw/draw.css";
import "../meters/meters.css";
import { Box, Button, HStack, Spinner } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useNavigate, useParams } from "react-router";
import { api, asProblem } from "../api/client";
import { Catalogue } from "../circuit/catalogue";
import { Bar } from "../common/Bar";
import { download } from "../common/download";
import { Notice, ProblemNotice } from "../common/Notice";
import { closeJob, openJob, rememberHistory, useDocument } from "./document";
import { dropDraft, findDraft, leftDraft } from "./drafts";
import { JobBar } from "./JobBar";
import { SaveNotice } from "./SaveNotice";
import type { Stage } from "./stages";
import { resetView } from "./view";
import { Workbench } from "./Workbench";
import { settleWindow } from "./windows";

/** One job: its sheets in the middle, the stages as navigation. */
export function JobPage() {
  const params = useParams();
  const navigate = useNavigate();
  const id = Number(params["id"]);
  const stage: Stage = params["stage"] === "draw" ? "draw" : "run";
  const [openId, setOpenId] = useState<number | null>(null);
  const loaded = useQuery({
    queryKey: ["open", id],
    queryFn: async () => {
      await settleWindow();
      const [job, catalogue, left] = await Promise.all([api.job(id), api.catalogue(), leftDraft(id)]);
      return { job, catalogue: new Catalogue(catalogue.kinds), left };
    },
    gcTime: 0,
    staleTime: Number.POSITIVE_INFINITY,
  });
  const data = loaded.data;
  useEffect(() => {
    if (!data) return undefined;
    openJob(data.job, data.catalogue, data.left);
    resetView();
    setOpenId(data.job.id);
    window.addEventListener("pagehide", rememberHistory);
    return () => {
      window.removeEventListener("pagehide", rememberHistory);
      closeJob();
    };
  }, [data]);
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
    <Box h="100vh" display="flex" flexDirection="column" overflow="hidden">
      <JobBar stage={stage} onStage={(next) => void navigate(`/jobs/${id}/${next}`)} />
      <SaveNotice />
      <Workbench stage={stage} />
    </Box>
  );
}

/** What this browser still has of a job that cannot be opened. */
function Rescue({ id }: { id: number }) {
  const navigate = useNavigate();
  const draft = findDraft(id);
  const [failed, setFailed] = useState<unknown>(null);
  if (!draft) return null;
  const saveAnew = async (): Promise<void> => {
    const made = await api.createJob({ title: draft.circuit.title || "Rescued job", circuit: draft.circuit });
    dropDraft(id);
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
              onClick={() => download("rescued circuit.json", JSON.stringify(draft.circuit, null, 2))}
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
