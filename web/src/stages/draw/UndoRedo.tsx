import { HStack, IconButton } from "@chakra-ui/react";
import { Redo2, Undo2 } from "lucide-react";
import { keyWords } from "../../common/commands";
import { useDocument } from "../../job/document";
import { COMMANDS } from "./commands";

const BUTTONS = [
  [COMMANDS.undo, Undo2],
  [COMMANDS.redo, Redo2],
] as const;

export function UndoRedo() {
  useDocument((document) => document.history);
  return (
    <HStack gap="0">
      {BUTTONS.map(([command, Icon]) => (
        <IconButton
          key={command.id}
          size="sm"
          variant="ghost"
          aria-label={command.label}
          title={`${command.label} (${keyWords(command.keys[0] ?? "")})`}
          disabled={!command.when()}
          onClick={command.run}
        >
          <Icon size={17} />
        </IconButton>
      ))}
    </HStack>
  );
}
