import { Button, chakra, HStack, IconButton, Menu, Portal } from "@chakra-ui/react";
import { Download, Keyboard, LayoutGrid, PanelBottom, ScrollText, Workflow } from "lucide-react";
import type { ReactNode } from "react";
import { keyWords } from "../../common/commands";
import { useView } from "../../sheet/view";
import { COMMAND_LIST, COMMANDS } from "./commands";
import { EXPORTS, exportFile } from "./files";

/** What can be done with the drawing as a whole. */
export function DrawTools() {
  return (
    <HStack gap="1">
      <Button
        size="sm"
        px={NARROW}
        variant="ghost"
        aria-label="Tidy"
        title="Tidy"
        onClick={COMMANDS.tidy.run}
      >
        <LayoutGrid size={16} />
        <Wide>Tidy</Wide>
      </Button>
      <Below what="panel" icon={<PanelBottom size={16} />} />
      <Below what="states" icon={<Workflow size={16} />} />
      <Below what="description" icon={<ScrollText size={16} />} />
      <Menu.Root>
        <Menu.Trigger asChild>
          <Button size="sm" px={NARROW} variant="ghost" aria-label="Export" title="Export">
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
      <KeyList />
    </HStack>
  );
}

/** Shows something below the sheets, or no longer. */
function Below({ what, icon }: { what: "panel" | "states" | "description"; icon: ReactNode }) {
  const shown = useView((view) => view.below === what);
  const { label, run } = COMMANDS[what];
  return (
    <Button
      size="sm"
      px={NARROW}
      variant={shown ? "subtle" : "ghost"}
      aria-pressed={shown}
      aria-label={label}
      title={label}
      onClick={run}
    >
      {icon}
      <Wide>{label}</Wide>
    </Button>
  );
}

/** Every command that has keys, to be read and to be done. */
function KeyList() {
  return (
    <Menu.Root>
      <Menu.Trigger asChild>
        <IconButton size="sm" variant="ghost" aria-label="Keys" title="Keys">
          <Keyboard size={16} />
        </IconButton>
      </Menu.Trigger>
      <Portal>
        <Menu.Positioner>
          <Menu.Content>
            {COMMAND_LIST.filter(({ keys }) => keys.length > 0).map((command) => (
              <Menu.Item key={command.id} value={command.id} onClick={command.run}>
                {command.label}
                <Menu.ItemCommand>{command.keys.map(keyWords).join(", ")}</Menu.ItemCommand>
              </Menu.Item>
            ))}
          </Menu.Content>
        </Menu.Positioner>
      </Portal>
    </Menu.Root>
  );
}

/** Words beside an icon where there is room for them. */
const Wide = chakra("span", { base: { display: { base: "none", xl: "inline" } } });

/** Icons stand close together where there is no room for words. */
const NARROW = { base: "1.5", "2xl": "3" };
