import { Button, HStack } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { Trash2 } from "lucide-react";
import { useMemo, useState } from "react";
import { Link } from "react-router";
import { api, asProblem } from "../../api/client";
import type { JobLine } from "../../circuit/types";
import { when } from "../../common/when";
import { MiniatureView } from "../home/MiniatureView";
import { lastStage } from "../job/lastStage";

/** A job as a card: its drawing, where it stands, and where one left it. */
export function JobCard({ job }: { job: JobLine }) {
  const stage = lastStage(job.id);
  const subject = useMemo(
    () => ({
      key: `job/${job.id}/${job.version}/${job.updated_at}`,
      load: async () => (await api.job(job.id)).circuit,
    }),
    [job],
  );
  return (
    <li className="card">
      <MiniatureView subject={subject} />
      <div className="card-words">
        <Link className="card-title" to={`/jobs/${job.id}/${stage.path}`}>
          {job.title}
        </Link>
        <span className="card-note">{job.place || "No place given"}</span>
        <div className="card-foot">
          <span className="card-note">
            {stage.title}, {when(job.updated_at)}
          </span>
          <Delete job={job} />
        </div>
      </div>
    </li>
  );
}

function Delete({ job }: { job: JobLine }) {
  const queries = useQueryClient();
  const [sure, setSure] = useState(false);
  const remove = useMutation({
    mutationFn: () => api.deleteJob(job.id),
    onSettled: () => queries.invalidateQueries({ queryKey: ["jobs"] }),
  });
  if (remove.error) return <span role="alert">{asProblem(remove.error).message}</span>;
  if (!sure)
    return (
      <button type="button" className="bin" aria-label={`Delete ${job.title}`} onClick={() => setSure(true)}>
        <Trash2 size={16} aria-hidden />
      </button>
    );
  return (
    <HStack gap="1" flexShrink={0}>
      <Button size="xs" colorPalette="accent" onClick={() => remove.mutate()} loading={remove.isPending}>
        Delete for good
      </Button>
      <Button size="xs" variant="ghost" onClick={() => setSure(false)}>
        Keep
      </Button>
    </HStack>
  );
}
