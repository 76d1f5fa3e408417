import { IconButton } from "@chakra-ui/react";
import { Moon, Sun } from "lucide-react";
import { useState } from "react";
import { chooseMode, firstMode } from "./mode";

export function ModeButton() {
  const [mode, setMode] = useState(firstMode);
  const other = mode === "light" ? "dark" : "light";
  return (
    <IconButton
      size="sm"
      variant="ghost"
      color="inherit"
      _hover={{ bg: "transparent" }}
      aria-label={`Show ${other} colours`}
      onClick={() => {
        chooseMode(other);
        setMode(other);
      }}
    >
      {mode === "light" ? <Moon size={18} /> : <Sun size={18} />}
    </IconButton>
  );
}
