import { Button } from "@chakra-ui/react";
import { setView, useView } from "../../sheet/view";

/** For a finger, which has no shift key: while it is on, a tap adds a part to the selection. */
export function AddMore() {
  const adding = useView((view) => view.adding);
  return (
    <Button
      size="sm"
      variant={adding ? "subtle" : "outline"}
      aria-pressed={adding}
      onClick={() => setView({ adding: !adding })}
    >
      {adding ? "Tap further parts, then here" : "Select further parts"}
    </Button>
  );
}
