import { Box, Button, Spinner, Text } from "@chakra-ui/react";
import { useMutation, useQuery } from "@tanstack/react-query";
import { type ReactNode, useEffect, useState } from "react";
import { useNavigate } from "react-router";
import { api, asProblem } from "../../api/client";
import { Catalogue } from "../../circuit/catalogue";
import { ProblemNotice } from "../../common/Notice";
import { ConventionSwitch } from "../../job/ConventionSwitch";
import { lookAt, useDocument } from "../../job/document";
import { resetView } from "../../sheet/view";
import { Bar } from "../../theme/Bar";
import { useStage } from "../job/stage";
import { Workbench } from "../job/Workbench";

/** A circuit of the library under power, without a job of its own; `children` stand over it. */
export function Look({ name, children }: { name: string; children?: ReactNode }) {
  const { stage } = useStage("run");
  const [open, setOpen] = useState("");
  const loaded = useQuery({
    queryKey: ["library", name],
    queryFn: async () => {
      const [{ circuit }, { kinds }] = await Promise.all([api.libraryCircuit(name), api.catalogue()]);
      return { circuit, catalogue: new Catalogue(kinds) };
    },
    staleTime: Number.POSITIVE_INFINITY,
  });
  useEffect(() => {
    if (!loaded.data) return;
    lookAt(loaded.data.circuit, loaded.data.catalogue);
    resetView();
    setOpen(name);
  }, [loaded.data, name]);
  const title = useDocument((document) => document.circuit.title);
  if (loaded.error)
    return (
      <Box>
        <Bar />
        <ProblemNotice problem={asProblem(loaded.error)} onRetry={() => void loaded.refetch()} />
      </Box>
    );
  return (
    <Box h="100vh" display="flex" flexDirection="column" overflow="hidden" position="relative">
      <Bar>
        <Text as="h1" fontSize="title" fontWeight="500" truncate>
          {title}
        </Text>
        <ConventionSwitch />
        <OpenAsJob name={name} title={title} />
      </Bar>
      {stage && open === name ? (
        <Workbench stage={stage} />
      ) : (
        <Spinner m="8" aria-label="Opening the circuit" />
      )}
      {open === name && children}
    </Box>
  );
}

/** Makes a job of a circuit of the library and goes there. */
export function OpenAsJob({ name, title }: { name: string; title: string }) {
  const navigate = useNavigate();
  const create = useMutation({
    mutationFn: () => api.createJob({ title, template: name }),
    onSuccess: (job) => navigate(`/jobs/${job.id}/run`),
  });
  return (
    <>
      <Button
        size="xs"
        variant="outline"
        loading={create.isPending}
        aria-label={`Open as a job: ${title}`}
        onClick={() => create.mutate()}
      >
        Open as a job
      </Button>
      {create.error && <span role="alert">{asProblem(create.error).message}</span>}
    </>
  );
}
