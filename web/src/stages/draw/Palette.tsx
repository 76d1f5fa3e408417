import { Box, Heading, Stack } from "@chakra-ui/react";
import { memo } from "react";
import { type Catalogue, sample } from "../../circuit/catalogue";
import { useDocument } from "../../job/document";
import { SymbolView } from "../../sheet/SymbolView";
import { symbolOn } from "../../sheet/symbols";
import { selectedParts, setView, type Tool, useView } from "../../sheet/view";
import { toolsOf } from "./tools";

const GROUPS = [
  ["supply", "Supply"],
  ["protection", "Switching off and protection"],
  ["switching", "Contactors and relays"],
  ["command", "Commands"],
  ["signal", "Signals"],
  ["load", "Motors"],
  ["measuring", "Measuring"],
  ["terminal", "Terminals"],
] as const;

/** The catalogue as parts to be put down. */
export const Palette = memo(function Palette({ catalogue }: { catalogue: Catalogue }) {
  return (
    <Stack as="section" aria-label="Parts" gap="3" p="3">
      {GROUPS.map(([group, title]) => {
        const tools = catalogue.kinds.filter((kind) => kind.group === group).flatMap(toolsOf);
        return (
          tools.length > 0 && (
            <Box key={group}>
              <Heading as="h2" fontSize="line" fontWeight="600" color="var(--soft)" mb="1">
                {title}
              </Heading>
              <div className="palette">
                {tools.map((tool) => (
                  <ToolButton key={tool.title} tool={tool} catalogue={catalogue} />
                ))}
              </div>
            </Box>
          )
        );
      })}
    </Stack>
  );
});

function ToolButton({ tool, catalogue }: { tool: Tool; catalogue: Catalogue }) {
  const chosen = useView((view) => view.tool?.title === tool.title && !view.tool.device);
  return (
    <button
      type="button"
      className={chosen ? "tool chosen" : "tool"}
      aria-pressed={chosen}
      onClick={() => {
        const { selection } = useView.getState();
        // Several selected parts stay so: the new one may go in parallel to the whole stretch.
        const several = selectedParts(selection).length > 1;
        setView({ tool: chosen ? null : tool, wireFrom: null, selection: several ? selection : null });
        if (!chosen) document.querySelector<SVGSVGElement>(".board")?.focus({ preventScroll: true });
      }}
    >
      <PartIcon catalogue={catalogue} kind={tool.kind} part={tool.part} params={tool.params} />
      <span>{tool.title}</span>
    </button>
  );
}

export function PartIcon(props: {
  catalogue: Catalogue;
  kind: string;
  part: string;
  params?: Tool["params"] | undefined;
}) {
  const device = sample(props.kind, props.params);
  const convention = useDocument((document) => document.circuit.convention);
  const symbol = props.catalogue.part(device, props.part)?.symbol ?? "";
  const drawing = symbolOn({ convention, kind: "power" }, symbol);
  if (!drawing) return null;
  const [left, top, right, bottom] = drawing.body;
  const size = Math.max(right - left, bottom - top) + 0.6;
  const [cx, cy] = [(left + right) / 2, (top + bottom) / 2];
  return (
    <svg width="30" height="30" viewBox={`${cx - size / 2} ${cy - size / 2} ${size} ${size}`} aria-hidden>
      <SymbolView drawing={drawing} />
    </svg>
  );
}
