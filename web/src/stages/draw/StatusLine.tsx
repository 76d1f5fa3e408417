import { Text } from "@chakra-ui/react";
import { useView } from "../../sheet/view";
import { promise } from "./gestures";

/** What a click at this place would do. */
export function StatusLine() {
  const hover = useView((view) => view.hover);
  useView((view) => view.tool);
  useView((view) => view.wireFrom);
  return (
    <Text fontSize="line" color="var(--soft)" truncate>
      {promise(hover)}
    </Text>
  );
}
