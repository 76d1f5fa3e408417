import { Box, Button, Flex, Heading, Input, NativeSelect, Text } from "@chakra-ui/react";
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { useNavigate } from "react-router";
import { api, asProblem } from "../../api/client";
import { type Choices, PATTERNS, USUAL } from "../../circuit/patterns";
import { ProblemNotice } from "../../common/Notice";
import { PatternChoices } from "./PatternChoices";

/** A job from an empty sheet, a pattern with choices, or a circuit that ships. */
export function NewJob() {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const library = useQuery({ queryKey: ["library"], queryFn: api.library });
  const [title, setTitle] = useState("");
  const [place, setPlace] = useState("");
  const [begin, setBegin] = useState("");
  const [choices, setChoices] = useState<Choices>(USUAL);
  const pattern = PATTERNS.find(([name]) => `pattern ${name}` === begin)?.[0];
  const shown = library.data?.families
    .flatMap((family) => family.circuits)
    .find((circuit) => circuit.name === begin);
  const create = useMutation({
    mutationFn: () =>
      api.createJob({
        title,
        place,
        ...(pattern ? { pattern: { ...choices, pattern } } : begin ? { template: begin } : {}),
      }),
    onSuccess: async (job) => {
      await queries.invalidateQueries({ queryKey: ["jobs"] });
      await navigate(`/jobs/${job.id}/${begin && !pattern ? "run" : "draw"}`);
    },
  });
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    if (title.trim()) create.mutate();
  };
  return (
    <Box
      as="form"
      onSubmit={submit}
      bg="var(--paper)"
      border="1px solid var(--rule)"
      p="5"
      borderRadius="4px"
    >
      <Heading as="h2" fontSize="title" mb="3">
        New job
      </Heading>
      <Flex gap="4" wrap="wrap" align="end">
        <Field label="What it is">
          <Input
            value={title}
            onChange={(event) => setTitle(event.target.value)}
            maxLength={200}
            placeholder="Borehole pump"
          />
        </Field>
        <Field label="Where it stands">
          <Input
            value={place}
            onChange={(event) => setPlace(event.target.value)}
            maxLength={200}
            placeholder="Pump house"
          />
        </Field>
        <Field label="Begin with">
          <NativeSelect.Root>
            <NativeSelect.Field value={begin} onChange={(event) => setBegin(event.target.value)}>
              <option value="">An empty sheet</option>
              <optgroup label="Made to your choices">
                {PATTERNS.map(([name, told]) => (
                  <option key={name} value={`pattern ${name}`}>
                    {told}
                  </option>
                ))}
              </optgroup>
              {library.data?.families.map((family) => (
                <optgroup key={family.title} label={family.title}>
                  {family.circuits.map((circuit) => (
                    <option key={circuit.name} value={circuit.name}>
                      {circuit.title}
                    </option>
                  ))}
                </optgroup>
              ))}
            </NativeSelect.Field>
            <NativeSelect.Indicator />
          </NativeSelect.Root>
        </Field>
        <Button type="submit" colorPalette="accent" disabled={!title.trim()} loading={create.isPending}>
          Make the job
        </Button>
      </Flex>
      {shown && (
        <Text mt="2" fontSize="line" color="var(--soft)">
          {shown.shows} Try: {shown.tries}
        </Text>
      )}
      {pattern && <PatternChoices pattern={pattern} choices={choices} onChange={setChoices} />}
      {create.error && (
        <Box mt="3">
          <ProblemNotice problem={asProblem(create.error)} />
        </Box>
      )}
    </Box>
  );
}

function Field(props: { label: string; children: React.ReactNode }) {
  return (
    // biome-ignore lint/a11y/noLabelWithoutControl: the control is the child
    <label style={{ flex: "1 1 220px" }}>
      <Text fontSize="line" fontWeight="500" mb="1">
        {props.label}
      </Text>
      {props.children}
    </label>
  );
}
