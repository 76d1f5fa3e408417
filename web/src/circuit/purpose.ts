import type { Part } from "./types";

/** What parts are there for, as the catalogue states it: nothing here or elsewhere goes by names. */
type Does = Part["does"];
export type Contact = Part["contacts"][number];

const CONTACTS: ReadonlySet<Does> = new Set(["normally open", "normally closed", "changes over"]);
const LOADS: ReadonlySet<Does> = new Set([
  "operates",
  "turns",
  "shows",
  "consumes",
  "feels voltage",
  "watches insulation",
  "takes signals",
]);

/** A contact of the control circuit. */
export const isContact = (part: Part): boolean => CONTACTS.has(part.does);

/** Nothing is fed from behind a load. */
export const isLoad = (part: Part): boolean => LOADS.has(part.does);

/** A contact or pole with two ends: taken out of a row, the wire may go through where it stood. */
export const isLink = (part: Part): boolean =>
  part.terminals.length === 2 && (isContact(part) || part.does === "switches load");

/** A coil that moves the contacts of its device. */
export const isCoil = (part: Part): boolean => part.does === "operates";

/** The contact of a part that is closed, or open, at rest. */
export const contactOf = (part: Part, closed: boolean): Contact | undefined =>
  isContact(part) ? part.contacts.find(({ closed_at_rest: rests }) => rests === closed) : undefined;

/** How a contact is called by where it stands at rest. */
export const restName = (closed: boolean): string => (closed ? "normally closed" : "normally open");
