import { Button, HStack, Menu, Portal } from "@chakra-ui/react";
import { Download, LayoutGrid } from "lucide-react";
import { EXPORTS, exportFile, tidySheets } from "./files";

/** What can be done with the drawing as a whole. */
export function DrawTools() {
  return (
    <HStack gap="1">
      <Button size="sm" variant="ghost" onClick={() => void tidySheets()}>
        <LayoutGrid size={16} />
        Tidy
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
