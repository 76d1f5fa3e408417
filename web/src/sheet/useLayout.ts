import { useMemo, useRef } from "react";
import type { Catalogue } from "../circuit/catalogue";
import type { Circuit } from "../circuit/types";
import { arranged } from "./arrange";
import { layOut } from "./layout";
import type { Layout } from "./page";
import { useView } from "./view";

const laidOut = new WeakMap<Circuit, Layout>();

/** The layout of a circuit on the screen: after an edit what it left alone stays, taken back it is as it was. */
export function useLayout(circuit: Circuit, catalogue: Catalogue): Layout {
  const last = useRef<Layout>(undefined);
  return useMemo(() => {
    const layout = laidOut.get(circuit) ?? layOut(circuit, catalogue, last.current);
    laidOut.set(circuit, layout);
    last.current = layout;
    return layout;
  }, [circuit, catalogue]);
}

/** The sheets that are in view, as they lie on the board. */
export function useArranged(layout: Layout): Layout {
  const inUse = useView((view) => view.sheet);
  const room = useView((view) => view.room);
  return useMemo(() => arranged(layout, inUse, room), [layout, inUse, room]);
}
