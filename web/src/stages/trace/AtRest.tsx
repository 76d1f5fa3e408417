import type { Catalogue } from "../../circuit/catalogue";
import { PageView } from "../../sheet/PageView";
import type { Layout } from "../../sheet/page";

const NOTHING: ReadonlySet<string> = new Set();

/** The sheets as on paper: nothing on them tells how the circuit stands. What is suspected or ruled out is marked. */
export function AtRest(props: {
  readonly layout: Layout;
  readonly catalogue: Catalogue;
  readonly suspected: ReadonlySet<string>;
  readonly ruledOut?: ReadonlySet<string>;
  readonly picked?: string | null;
}) {
  return props.layout.pages.map((page) => (
    <PageView
      key={page.sheet.id}
      page={page}
      catalogue={props.catalogue}
      frame={undefined}
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
