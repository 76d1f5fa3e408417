import { Box, Button, Flex, Heading, List, Text } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { useState } from "react";
import { useNavigate } from "react-router";
import { api, asProblem, type Imported } from "../../api/client";
import type { Circuit } from "../../circuit/types";
import { FileButton } from "../../common/FileButton";
import { ProblemNotice } from "../../common/Notice";

const LARGEST = 4_000_000;
const FORMATS: Readonly<Record<string, "wires" | "netlist">> = {
  csv: "wires",
  cir: "netlist",
  net: "netlist",
  sp: "netlist",
};

/** Read a file into a new job: first what could be read of it, then the job. */
export function ImportJob() {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const [read, setRead] = useState<{ title: string; imported: Imported } | null>(null);
  const open = useMutation({
    mutationFn: async (file: File) => {
      if (file.size > LARGEST) throw new Error(`${file.name} is larger than ${LARGEST / 1e6} MB.`);
      const [, title = file.name, ending = ""] = /^(.*?)(?:\.(json|csv|cir|net|sp))?$/i.exec(file.name) ?? [];
      const format = FORMATS[ending.toLowerCase()] ?? "circuit";
      return { title, imported: await api.importFile({ title, format, text: await file.text() }) };
    },
    onMutate: () => setRead(null),
    onSuccess: setRead,
  });
  const create = useMutation({
    mutationFn: ({ title, circuit }: { title: string; circuit: Circuit }) =>
      api.createJob({ title, circuit }),
    onSuccess: async (job) => {
      await queries.invalidateQueries({ queryKey: ["jobs"] });
      await navigate(`/jobs/${job.id}/draw`);
    },
  });
  const circuit = read?.imported.circuit;
  const error = open.error ?? create.error;
  return (
    <Box bg="var(--paper)" border="1px solid var(--rule)" p="5" borderRadius="4px" mt="4" mb="8">
      <Heading as="h2" fontSize="title" mb="1">
        From a file
      </Heading>
      <Text color="var(--soft)" mb="3">
        A circuit (JSON), a list of wires (CSV: from device, from terminal, to device, to terminal), or a
        netlist of devices (SPICE: XH1 4 N lamp).
      </Text>
      <FileButton
        words="Choose a file"
        label="File"
        accept=".json,.csv,.cir,.net,.sp"
        size="md"
        onFile={(file) => open.mutate(file)}
      />
      {error && (
        <Box mt="3">
          <ProblemNotice problem={asProblem(error)} />
        </Box>
      )}
      {read && (
        <Box mt="4" aria-live="polite">
          <Text>
            {circuit
              ? `${circuit.devices.length} devices and ${circuit.conductors.length} wires could be read.`
              : "This file could not be read as a circuit."}
          </Text>
          <Told
            title={circuit ? "Could not be read and is left out:" : "What is wrong with it:"}
            lines={read.imported.unreadable.map((u) => u.message)}
          />
          <Told title="Kind told by letter and terminals, to be looked at:" lines={read.imported.guessed} />
          <Flex gap="2" mt="3">
            {circuit && circuit.devices.length > 0 && (
              <Button
                colorPalette="accent"
                loading={create.isPending}
                onClick={() => create.mutate({ title: read.title, circuit })}
              >
                Make a job of it
              </Button>
            )}
            <Button variant="ghost" onClick={() => setRead(null)}>
              Leave it
            </Button>
          </Flex>
        </Box>
      )}
    </Box>
  );
}

function Told({ title, lines }: { title: string; lines: readonly string[] }) {
  if (lines.length === 0) return null;
  return (
    <Box mt="2" fontSize="body">
      <Text fontWeight="500">{title}</Text>
      <List.Root ps="5" maxH="180px" overflowY="auto">
        {lines.map((line) => (
          <List.Item key={line}>{line}</List.Item>
        ))}
      </List.Root>
    </Box>
  );
}
