import { Button, HStack, Input, Text } from "@chakra-ui/react";
import { useEffect, useState } from "react";
import { ConventionSwitch } from "../../job/ConventionSwitch";
import { renameJob, useDocument } from "../../job/document";
import type { SaveState } from "../../saved/saver";
import { STAGES } from "../../stages";
import { Bar } from "../../theme/Bar";

const SAVE_WORDS: Readonly<Record<SaveState, string>> = {
  saved: "Saved",
  unsaved: "Saving soon",
  saving: "Saving",
  waiting: "Not saved",
  conflict: "Not saved: changed elsewhere",
  gone: "Not saved: deleted elsewhere",
  refused: "Not saved",
};

interface Props {
  readonly open: string;
  readonly onOpen: (path: string) => void;
  /** What the open stage has to say here. */
  readonly children: React.ReactNode;
}

/** Title, stages, the tools of the open stage and the state of saving. */
export function JobBar({ open, onOpen, children }: Props) {
  const save = useDocument((document) => document.save);
  const title = useDocument((document) => document.job?.title ?? "");
  return (
    <Bar>
      <h1 className="unseen">{title}</h1>
      <JobTitle />
      <HStack as="nav" aria-label="Stages" gap={{ base: "0", xl: "1" }}>
        {STAGES.map(({ path, title }) => (
          <Button
            key={path}
            size="sm"
            px={{ base: "2", xl: "3" }}
            variant={open === path ? "solid" : "ghost"}
            colorPalette="accent"
            aria-current={open === path ? "page" : undefined}
            onClick={() => onOpen(path)}
          >
            {title}
          </Button>
        ))}
      </HStack>
      <ConventionSwitch />
      {children && (
        <HStack gap="1" wrap={{ base: "wrap", lg: "nowrap" }}>
          {children}
        </HStack>
      )}
      <Text
        ml="auto"
        fontSize="line"
        color={save === "saved" ? "var(--soft)" : "var(--ink)"}
        role="status"
        whiteSpace="nowrap"
      >
        {SAVE_WORDS[save]}
      </Text>
    </Bar>
  );
}

function JobTitle() {
  const title = useDocument((document) => document.job?.title ?? "");
  const [text, setText] = useState(title);
  useEffect(() => setText(title), [title]);
  return (
    <Input
      size="sm"
      variant="flushed"
      fontSize="title"
      fontWeight="500"
      flex="1"
      minW="64px"
      maxW="420px"
      aria-label="Title of the job"
      value={text}
      maxLength={200}
      onChange={(event) => setText(event.target.value)}
      onBlur={() => void renameJob(text).catch(() => setText(title))}
      onKeyDown={(event) => {
        if (event.key === "Enter") event.currentTarget.blur();
        if (event.key === "Escape") setText(title);
      }}
    />
  );
}
