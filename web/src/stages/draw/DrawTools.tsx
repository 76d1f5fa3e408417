import { Button, chakra, HStack, Menu, Portal } from "@chakra-ui/react";
import { Download, LayoutGrid, PanelBottom } from "lucide-react";
import { tidySheets } from "../../job/conventions";
import { setView, useView } from "../../sheet/view";
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
