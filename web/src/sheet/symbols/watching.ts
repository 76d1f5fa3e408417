import { module } from "./modules";
import {
  alike,
  bottom,
  line,
  POLE,
  type Shape,
  type SymbolDrawing,
  type SymbolSet,
  TALL,
  top,
} from "./shapes";

/** Conductors that pass straight through something that feels their current. */
function passing(count: number, around: readonly Shape[], text?: string): SymbolDrawing {
  const xs = Array.from({ length: count }, (_, index) => index * POLE);
  const right = (count - 1) * POLE + 1.1;
  return {
    anchors: xs.flatMap((x) => [top(x), bottom(x, TALL)]),
    body: [-1.1, 0, right, TALL],
    shapes: [
      ...xs.map((x) => line([x, 0], [x, TALL])),
      ...around,
      ...(text ? [{ kind: "text", at: [2, 2], text, size: 1 } as const] : []),
    ],
    label: { at: [-1.4, 2.15], align: "end" },
  };
}

/** One flat core around all conductors. */
const core = (count: number): Shape[] => {
  const right = (count - 1) * POLE + 1.1;
  return [line([-1.1, 1.3], [right, 1.3], [right, 2.7], [-1.1, 2.7], [-1.1, 1.3])];
};
const rings: Shape[] = [0, POLE, 2 * POLE].map((x) => ({ kind: "circle", at: [x, 2], r: 0.8 }));

/** Inputs of relays that watch something, and what they watch it through. */
export const symbols: SymbolSet = {
  relay_supply: alike(module([1, -1], "U")),
  thermistor_input: alike(module([1, -1], "\u03d1 R")),
  core_balance: alike(passing(4, core(4), "I\u0394")),
  insulation_input: alike(module([1, -1], "R<")),
  current_windows: alike(passing(3, rings)),
  star_point_input: alike(module([1, -1], "U>")),
  motor_relay_inputs: alike(module([1, -1, 2, -2, 3, -3], "I >")),
  electrode_inputs: alike(module([1, 2, 3], "~", 3)),
  safety_inputs: alike(module([1, -1, 2, -2, 3, -3], "2")),
  two_hand_inputs: alike(module([1, -1, 2, -2], "2 h")),
  start_input: alike(module([1], "ST")),
  trigger_coil: alike(module([1, -1, 2], "t")),
};
