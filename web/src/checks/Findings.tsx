import { Box, Button, Flex, Heading, Input, Text } from "@chakra-ui/react";
import { memo, useMemo, useState } from "react";
import { useNavigate } from "react-router";
import { type Circuit, shownSheets } from "../circuit/types";
import { edit, useDocument } from "../job/document";
import { showPart, symbolOfDevice } from "../job/show";
import { type Found, foundIn, reasons, summary, useAllResults, useCheckResults } from "./checks";
import { proofOf, setProof } from "./proof";

/** What the rules have found: the reason with each, where it is, and a way to set it aside. */
export function Findings({ circuit }: { circuit: Circuit }) {
  const results = useAllResults();
  const { problem, played } = useCheckResults();
  const found = useMemo(() => foundIn(results, circuit.set_aside), [results, circuit.set_aside]);
  const worked = played?.find(({ over }) => over !== "")?.over;
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
        {problem === null && played === null && ", still working it"}
      </Text>
      {found.slice(0, all ? found.length : FIRST).map((item) => (
        <FindingCard
          key={`${item.rule} ${item.finding.key}`}
          found={item}
          placed={placed.has(item.finding.device ?? "")}
        />
      ))}
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

/** Has the bench make the moves that show a finding, from the circuit just put under power. */
function PlayIt({ finding }: Pick<Found, "finding">) {
  const navigate = useNavigate();
  const job = useDocument((state) => state.job?.id);
  if (job === undefined) return null;
  return (
    <Button
      size="xs"
      variant="outline"
      onClick={() => {
        setProof(proofOf(finding.moves, finding.seen_us));
        void navigate(`/jobs/${job}/run`);
      }}
    >
      Play it
    </Button>
  );
}

const FindingCard = memo(function FindingCard({ found, placed }: { found: Found; placed: boolean }) {
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
    >
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
        {finding.moves.length > 0 && <PlayIt finding={finding} />}
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
