import { Box, Button, Flex, Heading, Input, Text } from "@chakra-ui/react";
import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useMemo, useState } from "react";
import { api, asProblem, type VersionLine } from "../../api/client";
import type { Circuit, Differences } from "../../circuit/types";
import { ProblemNotice } from "../../common/Notice";
import { randomId } from "../../common/randomId";
import { when } from "../../common/when";
import { edit, useDocument } from "../../job/document";

/** Keep the circuit under a name, see what has changed since, and go back. */
export function Versions({ circuit }: { circuit: Circuit }) {
  const job = useDocument((document) => document.job?.id);
  const queries = useQueryClient();
  const [name, setName] = useState("");
  const versions = useQuery({
    queryKey: ["versions", job],
    queryFn: () => api.versions(job ?? 0),
    enabled: job !== undefined,
  });
  const keep = useMutation({
    mutationFn: () => api.keepVersion(job ?? 0, name, circuit),
    onSuccess: async () => {
      setName("");
      await queries.invalidateQueries({ queryKey: ["versions", job] });
    },
  });
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    if (name.trim()) keep.mutate();
  };
  const error = versions.error ?? keep.error;
  return (
    <Box as="section" aria-label="Versions" borderTop="1px solid var(--rule)" p="3">
      <Heading as="h2" fontSize="head" fontWeight="600" mb="1">
        Versions
      </Heading>
      <Flex as="form" gap="1" mb="2" onSubmit={submit}>
        <Input
          size="xs"
          aria-label="Name of the version"
          placeholder="As delivered"
          maxLength={100}
          value={name}
          onChange={(event) => setName(event.target.value)}
        />
        <Button size="xs" variant="outline" type="submit" disabled={!name.trim()} loading={keep.isPending}>
          Keep
        </Button>
      </Flex>
      {error && <ProblemNotice problem={asProblem(error)} />}
      {versions.data?.versions.map((version) => (
        <VersionRow key={version.id} job={job ?? 0} version={version} circuit={circuit} />
      ))}
    </Box>
  );
}

function VersionRow({ job, version, circuit }: { job: number; version: VersionLine; circuit: Circuit }) {
  const queries = useQueryClient();
  const [open, setOpen] = useState(false);
  const kept = useQuery({
    queryKey: ["version", job, version.id],
    queryFn: () => api.version(job, version.id),
    enabled: open,
    staleTime: Number.POSITIVE_INFINITY,
  });
  const before = kept.data?.circuit;
  // A name for what is compared: the circuits themselves are too long for a key.
  const pair = useMemo(() => before && circuit && randomId(), [before, circuit]);
  const difference = useQuery({
    queryKey: ["difference", pair],
    queryFn: () => api.compare(before ?? circuit, circuit),
    enabled: open && before !== undefined,
    placeholderData: keepPreviousData,
    gcTime: 0,
  });
  const otherwise = useQuery({
    queryKey: ["does otherwise", pair],
    queryFn: () => api.doesOtherwise(before ?? circuit, circuit),
    enabled: open && before !== undefined,
    placeholderData: keepPreviousData,
    gcTime: 0,
  });
  const forget = useMutation({
    mutationFn: () => api.deleteVersion(job, version.id),
    onSettled: () => queries.invalidateQueries({ queryKey: ["versions", job] }),
  });
  const made = when(version.made_at);
  return (
    <Box borderTop="1px solid var(--rule)" py="1.5" fontSize="line">
      <Button
        size="xs"
        variant="plain"
        px="0"
        fontWeight="500"
        aria-expanded={open}
        onClick={() => setOpen(!open)}
      >
        {version.name}
      </Button>
      <Text color="var(--soft)">{made}</Text>
      {kept.data && open && (
        <>
          {difference.data && <DifferenceView difference={difference.data} />}
          {otherwise.data && <DoesOtherwise lines={otherwise.data.lines} reason={otherwise.data.reason} />}
          {otherwise.isFetching && <Text color="var(--soft)">Working both ...</Text>}
          {otherwise.error && <ProblemNotice problem={asProblem(otherwise.error)} />}
          {difference.error && <ProblemNotice problem={asProblem(difference.error)} />}
          <Flex gap="1" mt="1">
            <Button
              size="xs"
              variant="outline"
              onClick={() => edit({ type: "replace", circuit: kept.data.circuit })}
            >
              Go back to it
            </Button>
            <Button size="xs" variant="ghost" onClick={() => forget.mutate()}>
              Forget it
            </Button>
          </Flex>
        </>
      )}
    </Box>
  );
}

/** What commands do otherwise than before, when both circuits are worked. */
function DoesOtherwise({ lines, reason }: { lines: readonly string[]; reason: string }) {
  // Of what was not played whole nobody can say that all is as it was.
  const told = lines.length > 0 || reason ? lines : ["Every command does what it did."];
  return (
    <Box mt="1" data-testid="does-otherwise">
      <Text fontWeight="500">When it is worked</Text>
      {[...told, reason].map(
        (line) =>
          line && (
            <Text key={line} color="var(--soft)">
              {line}
            </Text>
          ),
      )}
    </Box>
  );
}

function DifferenceView({ difference }: { difference: Differences }) {
  const groups = [
    ["Added since", difference.added],
    ["Removed", difference.removed],
    ["Rewired", difference.rewired],
    ["Changed", difference.changed],
  ] as const;
  if (groups.every(([, lines]) => lines.length === 0)) return <Text>Nothing has changed since.</Text>;
  return groups.map(
    ([title, lines]) =>
      lines.length > 0 && (
        <Box key={title} mt="1">
          <Text fontWeight="500">{title}</Text>
          {lines.map((line) => (
            <Text key={line} color="var(--soft)">
              {line}
            </Text>
          ))}
        </Box>
      ),
  );
}
