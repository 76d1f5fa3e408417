import { Text } from "@chakra-ui/react";
import { promise } from "../draw/gestures";
import { useView } from "./view";

/** What a click at this place would do. */
export function StatusLine() {
  const hover = useView((view) => view.hover);
  useView((view) => view.tool);
  useView((view) => view.wireFrom);
  return (
    <Text fontSize="13px" color="var(--soft)" truncate>
      {promise(hover)}
    </Text>
  );
}
