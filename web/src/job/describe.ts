import { endKey } from "../circuit/types";
import type { Hit } from "../sheet/page";

import { useDocument } from "./document";

/** What is at a place, for status line and screen reader. */
export function describe(hit: Hit): string {
  switch (hit.kind) {
    case "terminal": {
      const wires = hit.page.wiring.runs.filter(({ conductor }) =>
        [conductor.a, conductor.b].some((end) => endKey(end) === endKey(hit.terminal.end)),
      );
      const { catalogue, circuit } = useDocument.getState();
      const name = catalogue.designations(circuit)(hit.terminal.end);
      return wires[0] ? `${name}, wire ${wires[0].net.number}` : `${name}, no wire`;
    }
    case "part":
      return `${hit.part.device.label}, ${hit.part.part.title}`;
    case "wire":
      return `Wire ${hit.run.net.number}`;
    case "paper":
      return `${hit.page.sheet.title}, column ${hit.at.x}, row ${hit.at.y}`;
  }
}
