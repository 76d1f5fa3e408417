import * as iec from "./contacts";
import * as nema from "./nema";
import { type Drawn, light, link, POLE, type Shape, type SymbolDrawing, type SymbolSet } from "./shapes";

/** A flat core around all conductors below the contacts, and what goes from it to the mechanism. */
function withCore(drawing: SymbolDrawing, count: number): SymbolDrawing {
  const right = (count - 1) * POLE;
  const core: Shape[] = [
    light([-0.5, 2.95], [right + 0.5, 2.95], [right + 0.5, 3.35], [-0.5, 3.35], [-0.5, 2.95]),
    link([right + 0.5, 3.15], [right + 1.1, 3.15], [right + 1.1, 2.05], [right - 0.55, 2.05]),
    light([right + 1.1, 2.5], [right + 1.1, 1.5], [right + 2.9, 1.5], [right + 2.9, 2.5], [right + 1.1, 2.5]),
    { kind: "text", at: [right + 2, 2.05], text: "I\u0394", size: 1.2 },
  ];
  const [left, above, , below] = drawing.body;
  return { ...drawing, body: [left, above, right + 3, below], shapes: [...drawing.shapes, ...core] };
}

const switched = (count: number): Drawn => ({
  iec: withCore(
    iec.poles(count, () => [], iec.handle),
    count,
  ),
  nema: withCore(nema.poles(count, nema.knife), count),
});
const breaking = (count: number): Drawn => ({
  iec: withCore(iec.breaker(count), count),
  nema: withCore(nema.breaker(count), count),
});

/** Residual-current devices, and breakers with the same built in. */
export const symbols: SymbolSet = {
  residual_2: switched(2),
  residual_4: switched(4),
  residual_breaker_2: breaking(2),
  residual_breaker_4: breaking(4),
};
