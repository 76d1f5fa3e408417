import { contact, turnHead } from "./contacts";
import { barred, knob } from "./nema";
import { type Drawn, light, type Shape, type SymbolSet } from "./shapes";

/** The bow of a key beside the head, and its bit. */
const key = (x: number, y: number): Shape[] => [
  { kind: "circle", at: [x - 0.45, y], r: 0.45 },
  light([x, y], [x + 0.5, y]),
  light([x + 0.35, y], [x + 0.35, y + 0.35]),
];
const ofKey = (nc: boolean): Drawn => ({
  iec: contact(nc, [...turnHead(nc), ...key(-3, 2.05)], -4),
  nema: barred(nc, [...knob, ...key(-2.9, 2.05)], -3.9),
});

export const symbols: SymbolSet = {
  key_no: ofKey(false),
  key_nc: ofKey(true),
};
