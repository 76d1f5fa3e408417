import { HStack, IconButton } from "@chakra-ui/react";
import { Redo2, Undo2 } from "lucide-react";
import { redo, undo, useDocument } from "../../job/document";

export function UndoRedo() {
  const canUndo = useDocument((document) => document.history.past.length > 0);
  const canRedo = useDocument((document) => document.history.future.length > 0);
  return (
    <HStack gap="0">
      <IconButton size="sm" variant="ghost" aria-label="Undo" disabled={!canUndo} onClick={undo}>
        <Undo2 size={17} />
      </IconButton>
      <IconButton size="sm" variant="ghost" aria-label="Redo" disabled={!canRedo} onClick={redo}>
        <Redo2 size={17} />
      </IconButton>
    </HStack>
  );
}
