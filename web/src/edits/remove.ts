import type { Catalogue } from "../circuit/catalogue";
import { isContact } from "../circuit/purpose";
import type { PartRef } from "../circuit/types";
import { type Circuit, shownSheets } from "../circuit/types";
import { deleteDevice, dropConductors, takeOff } from "./changes";
import { healing } from "./heal";

/**
 * Delete parts: a contact goes alone, its wire healed; a device goes with all its wires when the part
 * that leads it goes (coil, heaters, head), or the last of it that stands on a sheet.
 */
export function deleteParts(circuit: Circuit, parts: readonly PartRef[], catalogue: Catalogue): Circuit {
  return parts.reduce((now, part) => deletePart(now, part, catalogue), circuit);
}

/** Does deleting this part delete the whole device? */
export function takesDevice(circuit: Circuit, { device: id, part }: PartRef, catalogue: Catalogue): boolean {
  const device = circuit.devices.find((candidate) => candidate.id === id);
  const standing = shownSheets(circuit).flatMap((sheet) =>
    sheet.symbols.filter((symbol) => symbol.device === id && symbol.part !== part),
  );
  if (!device || standing.length === 0) return true;
  const [first] = catalogue.parts(device);
  // Where there are only contacts none of them leads.
  return first?.name === part && !isContact(first);
}

function deletePart(circuit: Circuit, ref: PartRef, catalogue: Catalogue): Circuit {
  const device = circuit.devices.find((candidate) => candidate.id === ref.device);
  if (!device) return circuit;
  if (takesDevice(circuit, ref, catalogue)) return deleteDevice(circuit, ref.device, catalogue);
  const others = catalogue.parts(device).filter((part) => part.name !== ref.part);
  const shared = new Set(others.flatMap((part) => part.terminals));
  const own = new Set(
    (catalogue.part(device, ref.part)?.terminals ?? []).filter((name) => !shared.has(name)),
  );
  const wires = healing(circuit, ref.device, catalogue, ref.part);
  const bare = takeOff(circuit, (symbol) => symbol.device === ref.device && symbol.part === ref.part);
  const cut = dropConductors(bare, ({ a, b }) =>
    [a, b].some((end) => end.device === ref.device && own.has(end.terminal)),
  );
  return { ...cut, conductors: [...cut.conductors, ...wires] };
}
