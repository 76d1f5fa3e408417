import {
  bottom,
  leads,
  light,
  line,
  link,
  ncBlade,
  ncTick,
  noBlade,
  POLE,
  type Shape,
  type SymbolDrawing,
  TALL,
  top,
} from "./shapes";

const upright = [top(0), bottom(0, TALL)];

function contact(nc: boolean, actuator: readonly Shape[], left: number): SymbolDrawing {
  return {
    anchors: upright,
    body: [left, 0, 1.4, TALL],
    shapes: [...leads(0), ...(nc ? [ncTick(0), ncBlade(0, 0)] : [noBlade(0, 0)]), ...actuator],
    label: { at: [left - 0.3, 2.15], align: "end" },
  };
}

const stem = (nc: boolean, to: number): Shape => link([nc ? 0.3 : -0.55, 2.05], [to, 2.05]);

const pushHead = (nc: boolean): Shape[] => [
  stem(nc, -2.1),
  light([-1.75, 1.55], [-2.15, 1.55], [-2.15, 2.55], [-1.75, 2.55]),
];

const thermalHead = (nc: boolean): Shape[] => [
  stem(nc, -1.7),
  light([-2.7, 1.55], [-1.7, 1.55], [-1.7, 2.55], [-2.7, 2.55], [-2.7, 1.55]),
  light([-2.7, 2.25], [-2.4, 2.25], [-2.4, 1.85], [-2.0, 1.85], [-2.0, 2.25], [-1.7, 2.25]),
];

function poles(
  count: number,
  fixed: (x: number) => readonly Shape[],
  lever: readonly Shape[],
): SymbolDrawing {
  const xs = Array.from({ length: count }, (_, index) => index * POLE);
  const right = (count - 1) * POLE;
  return {
    anchors: xs.flatMap((x) => [top(x), bottom(x, TALL)]),
    body: [lever.length ? -2 : -1.1, 0, right + 0.6, TALL],
    shapes: [
      ...xs.flatMap((x, index) => [...leads(x), noBlade(x, index), ...fixed(x)]),
      ...(count > 1 ? [link([-0.55, 2.05], [right - 0.55, 2.05])] : []),
      ...lever,
    ],
    label: { at: [lever.length ? -2.3 : -1.4, 2.15], align: "end" },
  };
}

const handle: Shape[] = [link([-0.55, 2.05], [-1.8, 2.05]), light([-1.8, 1.55], [-1.8, 2.55])];
const cross = (x: number): Shape[] => [
  line([x - 0.32, 0.88], [x + 0.32, 1.52]),
  line([x - 0.32, 1.52], [x + 0.32, 0.88]),
];

export const contactNo = contact(false, [], -1.1);
export const contactNc = contact(true, [], -0.4);
export const pushNo = contact(false, pushHead(false), -2.3);
export const pushNc = contact(true, pushHead(true), -2.3);
export const thermalNo = contact(false, thermalHead(false), -2.8);
export const thermalNc = contact(true, thermalHead(true), -2.8);

/** Contactor pole: a half circle at the fixed contact. */
export const contactor3 = poles(3, (x) => [{ kind: "arc", d: `M ${x} 0.72 A 0.24 0.24 0 0 0 ${x} 1.2` }], []);
/** Isolator: a bar across the fixed contact. */
export const isolator3 = poles(3, (x) => [line([x - 0.45, 1.2], [x + 0.45, 1.2])], handle);
export const breaker = (count: number): SymbolDrawing => poles(count, cross, handle);
