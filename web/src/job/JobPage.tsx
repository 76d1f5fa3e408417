import "../bench/bench.css";
import "../draw/draw.css";
import "../meters/meters.css";
import { Box, Spinner } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useEffect, useState } from "react";
import { useNavigate, useParams } from "react-router";
import { api, asProblem } from "../api/client";
import { Catalogue } from "../circuit/catalogue";
import { Bar } from "../common/Bar";
import { ProblemNotice } from "../common/Notice";
import { closeJob, openJob, rememberHistory, useDocument } from "./document";
import { JobBar } from "./JobBar";
import { SaveNotice } from "./SaveNotice";
import type { Stage } from "./stages";
import { resetView } from "./view";
import { Workbench } from "./Workbench";

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
      const [job, catalogue] = await Promise.all([api.job(id), api.catalogue()]);
      return { job, catalogue: new Catalogue(catalogue.kinds) };
    },
    gcTime: 0,
    staleTime: Number.POSITIVE_INFINITY,
  });
  const data = loaded.data;
  useEffect(() => {
    if (!data) return undefined;
    openJob(data.job, data.catalogue);
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
