import type { Catalogue } from "../../circuit/catalogue";
import { contactOf, isLoad } from "../../circuit/purpose";
import type { Circuit, Device, Part, PartRef } from "../../circuit/types";
import { coilPart, ways } from "../../edits/commands";
import type { Edit } from "../../edits/edits";

/** Something that can be said about two parts, and the edit that does it. */
export interface Offer {
  readonly title: string;
  readonly edit: Edit;
}

/** What can be said about two parts, in the order in which they were chosen. */
export function offersFor(circuit: Circuit, catalogue: Catalogue, a: PartRef, b: PartRef): Offer[] {
  const [one, two] = [settled(circuit, catalogue, a), settled(circuit, catalogue, b)];
  if (!one || !two || one.device.id === two.device.id) return [];
  const [poles, others] = [ways(circuit, a, catalogue), ways(circuit, b, catalogue)];
  const three = [poles.ins, poles.outs, others.ins, others.outs].every(({ length }) => length === 3);
  const [coilOne, coilTwo] = [coilPart(one.device, catalogue), coilPart(two.device, catalogue)];
  const [first, second] = [one.device.label, two.device.label];
  const offers: Offer[] = [];
  const feeds = (from: Settled, to: Settled, outs: number, ins: number): void => {
    const count = Math.min(outs, ins);
    if (count > 0 && !isLoad(from.part))
      offers.push({
        title: `Feed ${to.device.label} from ${from.device.label}${count > 1 ? `, ${count} poles` : ""}`,
        edit: { type: "feed", from: from.ref, to: to.ref },
      });
  };
  feeds(one, two, poles.outs.length, others.ins.length);
  feeds(two, one, others.outs.length, poles.ins.length);
  if (three && coilOne && coilTwo)
    offers.push({
      title: `${second} beside ${first}, two phases exchanged`,
      edit: { type: "reverse", first: a, second: b },
    });
  if (coilOne && coilTwo)
    offers.push({
      title: `Interlock ${first} and ${second}`,
      edit: { type: "interlock", first: a.device, second: b.device },
    });
  for (const [button, contactor, coil] of [
    [one, two, coilTwo],
    [two, one, coilOne],
  ] as const)
    if (coil && catalogue.isCommand(button.device) && contactOf(button.part, false))
      offers.push({
        title: `Seal ${button.device.label} with ${contactor.device.label}`,
        edit: { type: "sealIn", button: button.ref, contactor: contactor.device.id },
      });
  if (one.part.terminals.length === 2 && two.part.terminals.length === 2)
    offers.push({
      title: `${second} in parallel to ${first}`,
      edit: { type: "parallel", part: b, to: a },
    });
  return offers;
}

interface Settled {
  readonly ref: PartRef;
  readonly device: Device;
  readonly part: Part;
}

function settled(circuit: Circuit, catalogue: Catalogue, ref: PartRef): Settled | undefined {
  const device = circuit.devices.find(({ id }) => id === ref.device);
  const part = device && catalogue.part(device, ref.part);
  return device && part && { ref, device, part };
}
