import { Button, HStack, Menu, Portal } from "@chakra-ui/react";
import { Download, LayoutGrid, PanelBottom } from "lucide-react";
import { useDocument } from "../job/document";
import { setView, useView } from "../job/view";
import { show, tidySheets } from "./conventions";
import { EXPORTS, exportFile } from "./files";

/** What can be done with the drawing as a whole. */
export function DrawTools() {
  const plan = useView((view) => view.plan);
  return (
    <HStack gap="1">
      <Button size="sm" variant="ghost" onClick={() => void tidySheets()}>
        <LayoutGrid size={16} />
        Tidy
      </Button>
      <Button
        size="sm"
        variant={plan ? "subtle" : "ghost"}
        aria-pressed={plan}
        onClick={() => setView({ plan: !plan })}
      >
        <PanelBottom size={16} />
        Panel
      </Button>
      <Menu.Root>
        <Menu.Trigger asChild>
          <Button size="sm" variant="ghost">
            <Download size={16} />
            Export
          </Button>
        </Menu.Trigger>
        <Portal>
          <Menu.Positioner>
            <Menu.Content>
              {EXPORTS.map(([name, title]) => (
                <Menu.Item key={name} value={name} onClick={() => void exportFile(name)}>
                  {title}
                </Menu.Item>
              ))}
            </Menu.Content>
          </Menu.Positioner>
        </Portal>
      </Menu.Root>
    </HStack>
  );
}

const CONVENTIONS = [
  ["iec", "IEC", "IEC: current paths from above to below"],
  ["nema", "NEMA", "North American: ladder with rungs from left to right"],
] as const;

/** One switch redraws the same circuit in the other convention. */
export function ConventionSwitch() {
  const convention = useDocument((document) => document.circuit.convention);
  return (
    <HStack gap="0" role="group" aria-label="Drawing convention">
      {CONVENTIONS.map(([name, title, words]) => (
        <Button
          key={name}
          size="sm"
          px="2"
          variant={convention === name ? "subtle" : "ghost"}
          aria-pressed={convention === name}
          title={words}
          onClick={() => void show(name)}
        >
          {title}
        </Button>
      ))}
    </HStack>
  );
}
