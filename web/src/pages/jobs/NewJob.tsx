import { Button, Flex, Input, NativeSelect, Text } from "@chakra-ui/react";
import { useMutation, useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useState } from "react";
import { Link, useNavigate } from "react-router";
import { api, asProblem } from "../../api/client";
import { type Choices, PATTERNS, USUAL } from "../../circuit/patterns";
import { ProblemNotice } from "../../common/Notice";
import { ImportJob } from "./ImportJob";
import { PatternChoices } from "./PatternChoices";

const WAYS = [
  ["pattern", "From a pattern"],
  ["file", "From a file"],
  ["empty", "An empty sheet"],
] as const;
type Way = (typeof WAYS)[number][0];

/** The ways into a new job, in sight at once; each opens below when it is chosen. */
export function NewJob() {
  const [way, setWay] = useState<Way | null>(null);
  return (
    <section aria-label="New job">
      <div className="begin">
        <Text as="span" alignSelf="center" fontWeight="600" mr="2">
          New job
        </Text>
        <Button asChild size="sm" colorPalette="accent">
          <Link to="/library">From the library</Link>
        </Button>
        {WAYS.map(([name, title]) => (
          <Button
            key={name}
            size="sm"
            variant={way === name ? "subtle" : "outline"}
            aria-expanded={way === name}
            onClick={() => setWay(way === name ? null : name)}
          >
            {title}
          </Button>
        ))}
      </div>
      {way === "file" && <ImportJob />}
      {(way === "pattern" || way === "empty") && <Begin key={way} withPattern={way === "pattern"} />}
    </section>
  );
}

/** What it is and where it stands; with a pattern also what it is made from. */
function Begin({ withPattern }: { withPattern: boolean }) {
  const navigate = useNavigate();
  const queries = useQueryClient();
  const [title, setTitle] = useState("");
  const [place, setPlace] = useState("");
  const [pattern, setPattern] = useState(PATTERNS[0]?.[0] ?? "start-stop");
  const [choices, setChoices] = useState<Choices>(USUAL);
  const create = useMutation({
    mutationFn: () =>
      api.createJob({ title, place, ...(withPattern ? { pattern: { ...choices, pattern } } : {}) }),
    onSuccess: async (job) => {
      await queries.invalidateQueries({ queryKey: ["jobs"] });
      await navigate(`/jobs/${job.id}/draw`);
    },
  });
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    if (title.trim()) create.mutate();
  };
  return (
    <form className="begin-form" onSubmit={submit}>
      <Flex gap="4" wrap="wrap" align="end">
        <Field label="Machine">
          <Input
            autoFocus
            value={title}
            onChange={(event) => setTitle(event.target.value)}
            maxLength={200}
            placeholder="Borehole pump"
          />
        </Field>
        <Field label="Location">
          <Input
            value={place}
            onChange={(event) => setPlace(event.target.value)}
            maxLength={200}
            placeholder="Pump house"
          />
        </Field>
        {withPattern && (
          <Field label="Pattern">
            <NativeSelect.Root>
              <NativeSelect.Field
                value={pattern}
                onChange={(event) => setPattern(event.target.value as typeof pattern)}
              >
                {PATTERNS.map(([name, told]) => (
                  <option key={name} value={name}>
                    {told}
                  </option>
                ))}
              </NativeSelect.Field>
              <NativeSelect.Indicator />
            </NativeSelect.Root>
          </Field>
        )}
        <Button type="submit" colorPalette="accent" disabled={!title.trim()} loading={create.isPending}>
          Make the job
        </Button>
      </Flex>
      {withPattern && <PatternChoices pattern={pattern} choices={choices} onChange={setChoices} />}
      {create.error && <ProblemNotice problem={asProblem(create.error)} />}
    </form>
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
