import { Button, HStack, IconButton, Input, Text } from "@chakra-ui/react";
import { Redo2, Undo2 } from "lucide-react";
import { useEffect, useState } from "react";
import { Bar } from "../common/Bar";
import { ConventionSwitch, DrawTools } from "../draw/DrawTools";
import { Finder } from "../draw/Finder";
import { redo, renameJob, type SaveState, undo, useDocument } from "./document";
import { STAGES, type Stage } from "./stages";

const SAVE_WORDS: Readonly<Record<SaveState, string>> = {
  saved: "Saved",
  unsaved: "Saving soon",
  saving: "Saving",
  waiting: "Not saved",
  conflict: "Not saved: changed elsewhere",
  gone: "Not saved: deleted elsewhere",
  refused: "Not saved",
};

/** Title, stages, undo and the state of saving. */
export function JobBar({ stage, onStage }: { stage: Stage; onStage: (stage: Stage) => void }) {
  const save = useDocument((document) => document.save);
  const canUndo = useDocument((document) => document.history.past.length > 0);
  const canRedo = useDocument((document) => document.history.future.length > 0);
  return (
    <Bar>
      <JobTitle />
      <HStack as="nav" aria-label="Stages" gap="1">
        {STAGES.map(([name, title]) => (
          <Button
            key={name}
            size="sm"
            variant={stage === name ? "solid" : "ghost"}
            colorPalette="accent"
            aria-current={stage === name ? "page" : undefined}
            onClick={() => onStage(name)}
          >
            {title}
          </Button>
        ))}
      </HStack>
      <ConventionSwitch />
      {stage === "draw" && (
        <HStack gap="0">
          <IconButton size="sm" variant="ghost" aria-label="Undo" disabled={!canUndo} onClick={undo}>
            <Undo2 size={17} />
          </IconButton>
          <IconButton size="sm" variant="ghost" aria-label="Redo" disabled={!canRedo} onClick={redo}>
            <Redo2 size={17} />
          </IconButton>
          <DrawTools />
          <Finder />
        </HStack>
      )}
      <Text
        ml="auto"
        fontSize="13px"
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
      fontSize="16px"
      fontWeight="500"
      flex="1"
      minW="120px"
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
