import type { ComponentType } from "react";
import type { Catalogue } from "../circuit/catalogue";
import type { Circuit } from "../circuit/types";
import type { Layout } from "../sheet/page";

/** What every view of a stage is about. */
export interface Views {
  readonly circuit: Circuit;
  readonly catalogue: Catalogue;
  readonly layout: Layout;
}

type View = ComponentType<Views>;

/** What a stage shows where, and what happens when it is entered and left. */
export interface Stage {
  readonly left: View;
  /** In the middle, above it when there is something to say, and below it. */
  readonly middle: View;
  readonly notice: View;
  readonly below: View;
  readonly right: View;
  /** What the panes around the sheets are called; one without a name is not there. */
  readonly titles: {
    readonly left?: string;
    readonly below?: string;
    readonly right?: string;
    /** Are potentials drawn, whose lines want an explanation? */
    readonly legend?: boolean;
  };
  /** Beside the title, while the stage is open. */
  readonly tools: ComponentType | null;
  /** Called with each circuit while the stage is open; what it returns is called before the next and on leaving. */
  readonly enter?: (circuit: Circuit, catalogue: Catalogue) => () => void;
}

/** A stage by its address and title; the rest is loaded when it is first opened. */
export interface StageEntry {
  readonly path: string;
  readonly title: string;
  readonly load: () => Promise<{ readonly stage: Stage }>;
}
