import { Box, Button, Flex, Heading, HStack, Stack, Text } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { Trash2 } from "lucide-react";
import { useState } from "react";
import { Link } from "react-router";
import { api, asProblem } from "../../api/client";
import type { JobLine } from "../../circuit/types";
import { Bar } from "../../common/Bar";
import { ProblemNotice } from "../../common/Notice";
import { ImportJob } from "./ImportJob";
import { NewJob } from "./NewJob";

/** The list of jobs: one motor circuit each. */
export function JobsPage() {
  const jobs = useQuery({ queryKey: ["jobs"], queryFn: api.jobs });
  return (
    <Box minH="100%">
      <Bar />
      <Box as="main" maxW="1040px" mx="auto" px="6" py="8">
        <Heading as="h1" fontSize="large" fontWeight="600" mb="1">
          Jobs
        </Heading>
        <Text color="var(--soft)" mb="6">
          One motor circuit each. Open one to run it, measure it and change it.
        </Text>
        <NewJob />
        <ImportJob />
        {jobs.error && <ProblemNotice problem={asProblem(jobs.error)} onRetry={() => void jobs.refetch()} />}
        {jobs.data?.jobs.length === 0 && <Text mb="4">No jobs yet. Begin one above.</Text>}
        <Stack
          as="ul"
          listStyleType="none"
          gap="0"
          borderTop="1px solid var(--rule)"
          mb="10"
          aria-label="Jobs"
        >
          {jobs.data?.jobs.map((job) => (
            <JobRow key={job.id} job={job} />
          ))}
        </Stack>
      </Box>
    </Box>
  );
}

function JobRow({ job }: { job: JobLine }) {
  const queries = useQueryClient();
  const [sure, setSure] = useState(false);
  const remove = useMutation({
    mutationFn: () => api.deleteJob(job.id),
    onSettled: () => queries.invalidateQueries({ queryKey: ["jobs"] }),
  });
  return (
    <Flex as="li" align="center" gap="4" py="3" borderBottom="1px solid var(--rule)">
      <Box flex="1" minW="0">
        <Link to={`/jobs/${job.id}/run`}>
          <Text fontSize="title" fontWeight="600" color="var(--accent)">
            {job.title}
          </Text>
        </Link>
        <Text color="var(--soft)">{job.place || "No place given"}</Text>
      </Box>
      <Text color="var(--soft)" fontSize="line">
        changed{" "}
        {new Date(job.updated_at).toLocaleString("en-GB", { dateStyle: "medium", timeStyle: "short" })}
      </Text>
      {sure ? (
        <HStack>
          <Button size="sm" colorPalette="accent" onClick={() => remove.mutate()} loading={remove.isPending}>
            Delete for good
          </Button>
          <Button size="sm" variant="ghost" onClick={() => setSure(false)}>
            Keep
          </Button>
        </HStack>
      ) : (
        <Button size="sm" variant="ghost" aria-label={`Delete ${job.title}`} onClick={() => setSure(true)}>
          <Trash2 size={16} />
        </Button>
      )}
    </Flex>
  );
}
