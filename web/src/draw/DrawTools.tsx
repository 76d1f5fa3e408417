import { Button, chakra, HStack, Menu, Portal } from "@chakra-ui/react";
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
      <Button size="sm" variant="ghost" aria-label="Tidy" title="Tidy" onClick={() => void tidySheets()}>
        <LayoutGrid size={16} />
        <Wide>Tidy</Wide>
      </Button>
      <Button
        size="sm"
        variant={plan ? "subtle" : "ghost"}
        aria-pressed={plan}
        aria-label="Panel"
        title="Panel"
        onClick={() => setView({ plan: !plan })}
      >
        <PanelBottom size={16} />
        <Wide>Panel</Wide>
      </Button>
      <Menu.Root>
        <Menu.Trigger asChild>
          <Button size="sm" variant="ghost" aria-label="Export" title="Export">
            <Download size={16} />
            <Wide>Export</Wide>
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

/** Words beside an icon where there is room for them. */
const Wide = chakra("span", { base: { display: { base: "none", xl: "inline" } } });

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
