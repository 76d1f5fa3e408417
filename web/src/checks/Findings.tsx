import { Box, Button, Flex, Heading, Input, Text } from "@chakra-ui/react";
import { memo, useMemo, useState } from "react";
import { type Circuit, shownSheets } from "../circuit/types";
import { edit, useDocument } from "../job/document";
import { showPart, symbolOfDevice } from "../job/show";
import { type Found, foundIn, isDrawn, reasons, summary, useAllResults, useCheckResults } from "./checks";
import { PlayIt } from "./PlayIt";
import { Roles } from "./Roles";

/** What the rules have found: the reason with each, where it is, and a way to set it aside. */
export function Findings({ circuit }: { circuit: Circuit }) {
  const results = useAllResults();
  const { problem, played, late } = useCheckResults();
  const everything = useMemo(() => foundIn(results, circuit.set_aside), [results, circuit.set_aside]);
  const found = everything.filter((one) => !isDrawn(one));
  const drawn = everything.filter(isDrawn);
  const old = useMemo(() => new Set(late ? played?.results.map(({ rule }) => rule) : []), [late, played]);
  const worked = late ? undefined : played?.results.find(({ over }) => over !== "")?.over;
  const [all, setAll] = useState(false);
  const placed = useMemo(
    () => new Set(shownSheets(circuit).flatMap(({ symbols }) => symbols.map(({ device }) => device))),
    [circuit],
  );
  return (
    <Box as="section" aria-label="Check" borderTop="1px solid var(--rule)" p="3">
      <Heading as="h2" fontSize="head" fontWeight="600">
        Check
      </Heading>
      <Text fontSize="line" color="var(--soft)" mb="2" aria-live="polite" data-testid="check-summary">
        {problem ?? summary(results, circuit.set_aside)}
        {problem === null && (late || played === null) && ", still working it"}
      </Text>
      {found.slice(0, all ? found.length : FIRST).map((item) => (
        <FindingCard
          key={`${item.rule} ${item.finding.key}`}
          found={item}
          old={old.has(item.rule)}
          placed={placed.has(item.finding.device ?? "")}
        />
      ))}
      {!late && <Roles roles={played?.roles ?? []} circuit={circuit} />}
      {drawn.length > 0 && (
        <Box as="section" aria-label="Still being drawn" mb="3" fontSize="line" lineHeight="1.4">
          <Text fontWeight="500">Still being drawn</Text>
          {drawn.slice(0, FIRST).map(({ rule, finding }) => (
            <Text key={`${rule} ${finding.key}`} color="var(--soft)" data-rule={rule} data-drawing>
              {finding.message}
            </Text>
          ))}
          {drawn.length > FIRST && <Text color="var(--soft)">And {drawn.length - FIRST} more.</Text>}
        </Box>
      )}
      {reasons(results).map(({ reason, rules }) => (
        <Box
          key={reason}
          borderLeft="3px dashed var(--rule)"
          pl="2"
          mb="3"
          lineHeight="1.4"
          fontSize="line"
          data-unclear={rules.map(({ rule }) => rule).join(" ")}
        >
          <Text fontWeight="500">Cannot tell: {rules.map(({ title }) => lower(title)).join("; ")}</Text>
          <Text color="var(--soft)">{reason}</Text>
        </Box>
      ))}
      {worked && (
        <Text fontSize="line" color="var(--soft)" data-testid="check-worked">
          Every command was worked from every state that commands lead to. {worked}
        </Text>
      )}
      {found.length > FIRST && !all && (
        <Button size="xs" variant="outline" onClick={() => setAll(true)}>
          Show all {found.length}
        </Button>
      )}
    </Box>
  );
}

const lower = (title: string): string => title.charAt(0).toLowerCase() + title.slice(1);

/** Findings that are shown before all are asked for. */
const FIRST = 20;

/** Shows the device of a finding, wherever it stands by now. */
function show(device: string | null): void {
  const symbol = symbolOfDevice(useDocument.getState().circuit, device);
  if (symbol) showPart(symbol);
}

interface CardProps {
  found: Found;
  /** Is it of the drawing as it was, which is being looked at anew? */
  old: boolean;
  placed: boolean;
}

const FindingCard = memo(function FindingCard({ found, old, placed }: CardProps) {
  const { rule, finding, note } = found;
  const [writing, setWriting] = useState(false);
  const [text, setText] = useState("");
  const setAside = (): void => {
    edit({ type: "setAside", rule, key: finding.key, note: text });
    setWriting(false);
  };
  return (
    <Box
      borderLeft={`3px solid ${note === undefined ? "var(--warn)" : "var(--rule)"}`}
      pl="2"
      mb="3"
      lineHeight="1.4"
      data-rule={rule}
      data-old={old || undefined}
      opacity={old ? 0.6 : 1}
    >
      {old && (
        <Text fontSize="note" color="var(--soft)">
          Of the drawing as it was
        </Text>
      )}
      <Text fontSize="line" fontWeight="500">
        {finding.message}
      </Text>
      <Text fontSize="line" color="var(--soft)">
        {finding.why}
      </Text>
      {note !== undefined && (
        <Text fontSize="line" fontStyle="italic">
          Set aside{note && `: ${note}`}
        </Text>
      )}
      <Flex gap="1" mt="1" wrap="wrap">
        {placed && (
          <Button size="xs" variant="outline" onClick={() => show(finding.device)}>
            Show
          </Button>
        )}
        {finding.moves.length > 0 && <PlayIt moves={finding.moves} seenUs={finding.seen_us} />}
        {note !== undefined ? (
          <Button
            size="xs"
            variant="outline"
            onClick={() => edit({ type: "bringBack", rule, key: finding.key })}
          >
            Bring back
          </Button>
        ) : (
          !writing && (
            <Button size="xs" variant="outline" onClick={() => setWriting(true)}>
              Set aside
            </Button>
          )
        )}
      </Flex>
      {writing && (
        <Flex gap="1" mt="1">
          <Input
            size="xs"
            aria-label="Note"
            placeholder="Reason for accepting"
            value={text}
            autoFocus
            onChange={(event) => setText(event.target.value)}
            onKeyDown={(event) => {
              if (event.key === "Enter") setAside();
              if (event.key === "Escape") setWriting(false);
            }}
          />
          <Button size="xs" onClick={setAside}>
            Keep
          </Button>
        </Flex>
      )}
    </Box>
  );
});
