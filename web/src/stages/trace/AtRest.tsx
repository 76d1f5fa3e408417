import type { Catalogue } from "../../circuit/catalogue";
import { PageView, type Sight } from "../../sheet/PageView";
import type { Layout } from "../../sheet/page";

const NOTHING: ReadonlySet<string> = new Set();

/** The sheets as on paper, contacts at rest; what an eye sees, what is suspected and what is ruled out is marked. */
export function AtRest(props: {
  readonly layout: Layout;
  readonly catalogue: Catalogue;
  readonly suspected: ReadonlySet<string>;
  readonly ruledOut?: ReadonlySet<string>;
  readonly picked?: string | null;
  /** What an eye sees of each device, where somebody stands before the panel. */
  readonly seen?: Readonly<Record<string, Sight>> | undefined;
}) {
  return props.layout.pages.map((page) => (
    <PageView
      key={page.sheet.id}
      page={page}
      catalogue={props.catalogue}
      frame={undefined}
      seen={props.seen}
      grid={false}
      chattering={NOTHING}
      selectedParts={NOTHING}
      selectedWire={props.picked ?? undefined}
      pointedPart={undefined}
      pointedTerminal={undefined}
      workable={() => false}
      marked={props.ruledOut ?? NOTHING}
      changed={props.suspected}
    />
  ));
}
