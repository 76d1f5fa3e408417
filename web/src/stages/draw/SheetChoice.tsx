import { NativeSelect } from "@chakra-ui/react";
import type { PartRef } from "../../circuit/types";
import { type Circuit, shownSheets } from "../../circuit/types";
import { edit } from "../../job/document";
import { Labelled } from "./fields";

/** On which sheet parts stand; another choice moves them there. */
export function SheetChoice({ parts, circuit }: { parts: readonly PartRef[]; circuit: Circuit }) {
  const sheets = shownSheets(circuit);
  const [first] = parts;
  const here = sheets.find((sheet) =>
    sheet.symbols.some((symbol) => symbol.device === first?.device && symbol.part === first.part),
  );
  if (sheets.length < 2 || !here) return null;
  return (
    <Labelled label="On sheet">
      <NativeSelect.Root size="sm">
        <NativeSelect.Field
          value={here.id}
          onChange={(event) => edit({ type: "moveToSheet", items: parts, sheet: event.target.value })}
        >
          {sheets.map((sheet) => (
            <option key={sheet.id} value={sheet.id}>
              {sheet.title}
            </option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
    </Labelled>
  );
}
