import "./description.css";
import { Box, Button, Flex, Heading, Input, Text } from "@chakra-ui/react";
import { type KeyboardEvent, type ReactNode, useEffect, useId, useRef, useState } from "react";
import type { Circuit, DescriptionLine } from "../circuit/types";
import { edit, useDocument } from "../job/document";
import { useCheckResults } from "./checks";
import { PlayIt } from "./PlayIt";

const FIRST_LINE = "when S1 is pressed, then K1 goes in";

/** What the circuit is to do, line by line, each with how it stands; beside it what the circuit does. */
export function Description({ circuit }: { circuit: Circuit }) {
  const { played, late } = useCheckResults();
  const lines = circuit.description;
  // What was typed last is written as its field is left, just before the click that follows: the lines as they are then.
  const write = (next: (now: readonly string[]) => readonly string[]): void => {
    edit({ type: "writeDescription", lines: next(useDocument.getState().circuit.description) });
  };
  const open = (played?.proposed ?? []).filter((line) => !lines.includes(line));
  return (
    <Box as="section" aria-label="Description" className="description" aria-busy={late}>
      <div className="description-lines">
        <Heading as="h2" fontSize="head" fontWeight="600">
          What it is to do
        </Heading>
        <ol>
          {lines.map((line, index) => (
            <Line
              // Lines may be the same, and change places with none: their number tells them apart.
              // biome-ignore lint/suspicious/noArrayIndexKey: see above
              key={`${index} ${line}`}
              name={`Line ${index + 1}`}
              text={line}
              keep={(text) => write((now) => now.map((old, at) => (at === index ? text : old)))}
            >
              <HowItStands line={late ? undefined : found(played?.lines, line)} />
            </Line>
          ))}
        </ol>
        <NewLine add={(text) => write((now) => [...now, text])} count={lines.length} />
      </div>
      <div className="description-side">
        <Flex justify="space-between" align="center" gap="2">
          <Heading as="h3" fontSize="head" fontWeight="600">
            What it does
          </Heading>
          {open.length > 1 && (
            <Button
              size="xs"
              variant="outline"
              onClick={() => write((now) => [...now, ...open.filter((line) => !now.includes(line))])}
            >
              Write all down
            </Button>
          )}
        </Flex>
        <Text fontSize="line" color="var(--soft)" aria-live="polite">
          {saidOf(played === null || late, open.length, lines.length)}
        </Text>
        <ul>
          {open.map((line) => (
            <li key={line}>
              <Button
                size="xs"
                variant="plain"
                className="description-offer"
                onClick={() => write((now) => [...now, line])}
              >
                {line}
              </Button>
            </li>
          ))}
        </ul>
      </div>
    </Box>
  );
}

function saidOf(working: boolean, open: number, written: number): string {
  if (working) return "Working the circuit ...";
  if (open > 0) return "Seen when every command was worked. Click a line to write it down.";
  return written > 0 ? "All that was seen is written down." : "Nothing was seen that could be written down.";
}

/** The lines that were judged are told by their words, with single spaces. */
const found = (lines: readonly DescriptionLine[] | undefined, text: string): DescriptionLine | undefined =>
  lines?.find((line) => line.text === text.split(/\s+/).join(" "));

const WORDS: Record<DescriptionLine["outcome"], string> = {
  held: "holds",
  broken: "does not hold",
  "never met": "never came about",
  "cannot tell": "cannot be told",
  unread: "not understood",
};

function HowItStands({ line }: { line: DescriptionLine | undefined }) {
  if (!line) return <Text className="description-standing">...</Text>;
  return (
    <Flex className="description-standing" data-standing={line.outcome} gap="2" align="center" wrap="wrap">
      <Text as="span">
        <b>{WORDS[line.outcome]}</b> {line.reason}
      </Text>
      {line.moves.length > 0 && <PlayIt moves={line.moves} seenUs={line.seen_us} />}
    </Flex>
  );
}

interface LineProps {
  name: string;
  text: string;
  keep: (text: string) => void;
  children: ReactNode;
}

/** A line that is written anew in its place. An empty one is taken away. */
function Line({ name, text, keep, children }: LineProps) {
  const [now, setNow] = useState(text);
  const told = useId();
  const done = (): void => {
    if (now.trim() !== text) keep(now);
  };
  return (
    <li>
      <Flex gap="1">
        <Input
          size="xs"
          aria-label={name}
          aria-describedby={told}
          maxLength={200}
          value={now}
          onChange={(event) => setNow(event.target.value)}
          onBlur={done}
          onKeyDown={onKeys(done, () => setNow(text))}
        />
        <Button
          size="xs"
          variant="ghost"
          aria-label={`Take ${name.toLowerCase()} away`}
          onClick={() => keep("")}
        >
          ×
        </Button>
      </Flex>
      <div id={told}>{children}</div>
    </li>
  );
}

function NewLine({ add, count }: { add: (text: string) => void; count: number }) {
  const [text, setText] = useState("");
  const field = useRef<HTMLInputElement>(null);
  const done = (): void => {
    if (text.trim() === "") return;
    add(text);
    setText("");
  };
  // Whoever writes one line after the other sees where the next one goes.
  useEffect(() => {
    if (count > 0 && document.activeElement === field.current)
      field.current?.scrollIntoView({ block: "nearest" });
  }, [count]);
  return (
    <Input
      ref={field}
      size="xs"
      aria-label="New line"
      placeholder={FIRST_LINE}
      maxLength={200}
      value={text}
      onChange={(event) => setText(event.target.value)}
      onBlur={done}
      onKeyDown={onKeys(done, () => setText(""))}
    />
  );
}

const onKeys =
  (done: () => void, undo: () => void) =>
  (event: KeyboardEvent): void => {
    if (event.key === "Enter") done();
    if (event.key === "Escape") undo();
  };
