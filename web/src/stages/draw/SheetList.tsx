import { Button, Flex, Heading, IconButton, Stack } from "@chakra-ui/react";
import { Trash2 } from "lucide-react";
import { type Circuit, shownSheets } from "../../circuit/types";
import { letterDevices } from "../../job/conventions";
import { edit } from "../../job/document";
import { TextField } from "./fields";

/** The sheets of the circuit: their titles, further ones, and off with those that are empty. */
export function SheetList({ circuit }: { circuit: Circuit }) {
  const sheets = shownSheets(circuit);
  return (
    <Stack as="section" aria-label="Sheets" gap="2" mt="3">
      <Heading as="h2" fontSize="line" fontWeight="600" color="var(--soft)">
        Sheets
      </Heading>
      {sheets.map((sheet) => (
        <Flex key={sheet.id} gap="1" align="flex-end">
          <TextField
            label={sheet.kind === "power" ? "Power sheet" : "Control sheet"}
            value={sheet.title}
            onChange={(title) => edit({ type: "renameSheet", sheet: sheet.id, title })}
          />
          {sheet.symbols.length === 0 && sheets.length > 1 && (
            <IconButton
              size="sm"
              variant="ghost"
              aria-label={`Delete sheet ${sheet.title}`}
              onClick={() => edit({ type: "deleteSheet", sheet: sheet.id })}
            >
              <Trash2 size={15} />
            </IconButton>
          )}
        </Flex>
      ))}
      <Flex gap="1">
        {(["power", "control"] as const).map((kind) => (
          <Button key={kind} size="xs" variant="outline" onClick={() => edit({ type: "addSheet", kind })}>
            Add {kind} sheet
          </Button>
        ))}
      </Flex>
      <Button
        size="xs"
        variant="outline"
        alignSelf="flex-start"
        disabled={circuit.devices.length === 0}
        onClick={() => void letterDevices()}
      >
        Letter devices the {circuit.convention === "nema" ? "NEMA" : "IEC"} way
      </Button>
    </Stack>
  );
}
