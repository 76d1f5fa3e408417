import "./diagram.css";
import { Box, Button, Flex, Heading, Text } from "@chakra-ui/react";
import { type KeyboardEvent, useEffect, useMemo, useRef, useState } from "react";
import { useNavigate } from "react-router";
import { api, asProblem } from "../api/client";
import type { Diagram } from "../api/types";
import type { Circuit } from "../circuit/types";
import { download } from "../common/download";
import { useDocument } from "../job/document";
import { type Arrow, BOX, type Drawn, type MachineState, type Placed, picture } from "./diagram";
import { proofOf, setProof } from "./proof";

/** After an edit it is worked out anew when the hands rest. */
const AFTER_MS = 700;
/** So many arrows have their words at once; of more those of the state that is pointed at. */
const FEW = 14;
/** Share of its size to which the picture may shrink; a larger one is scrolled. */
const LEGIBLE = 0.8;

/** What the machine can be, and what takes it from one to the other: as a picture and as a table. */
export function StateDiagram({ circuit }: { circuit: Circuit }) {
  const { diagram, problem, late } = useDiagram(circuit);
  const [pointed, setPointed] = useState<number | null>(null);
  const drawing = useRef<SVGSVGElement>(null);
  // Moves of a drawing that is no longer there lead nowhere.
  const goThere = useStateOnBench(late);
  if (!diagram)
    return (
      <Box as="section" aria-label="States" className="states">
        <Text p="3" fontSize="line" aria-live="polite">
          {problem ?? "Working the circuit ..."}
        </Text>
      </Box>
    );
  return (
    <Box as="section" aria-label="States" className="states" aria-busy={late}>
      <div
        className="states-picture"
        data-late={late || undefined}
        data-many={diagram.arrows.length > FEW || undefined}
      >
        <DiagramPicture
          diagram={diagram}
          pointed={pointed}
          onPoint={setPointed}
          onGo={goThere}
          ref={drawing}
        />
      </div>
      <div className="states-side">
        <Flex justify="space-between" align="center" gap="2">
          <Heading as="h2" fontSize="head" fontWeight="600">
            States
          </Heading>
          <Button
            size="xs"
            variant="outline"
            disabled={!diagram.states.length}
            onClick={() =>
              drawing.current &&
              download("states.svg", new XMLSerializer().serializeToString(drawing.current))
            }
          >
            SVG
          </Button>
        </Flex>
        <Text fontSize="line" color="var(--soft)" aria-live="polite" data-testid="states-summary">
          {problem ?? summaryOf(diagram, late)}
        </Text>
        <MoveTable diagram={diagram} pointed={pointed} onGo={goThere} />
      </div>
    </Box>
  );
}

function summaryOf(diagram: Diagram, late: boolean): string {
  if (!diagram.states.length) return "Nothing with a coil is drawn: there are no states to tell apart.";
  const count = diagram.states.length;
  const more = diagram.left_out ? " There are more than were played." : "";
  return `${late ? "Of the circuit as it was: " : ""}${count} ${count === 1 ? "state" : "states"}, of ${diagram.over}.${more}`;
}

/** The diagram of a circuit; that of before stands, as late, until the new one is there. */
function useDiagram(circuit: Circuit) {
  const [found, setFound] = useState<{ of: Circuit; diagram: Diagram } | null>(null);
  const [problem, setProblem] = useState<string | null>(null);
  const first = useRef(true);
  useEffect(() => {
    let current = true;
    const timer = setTimeout(
      () => {
        api
          .diagram(circuit)
          .then((diagram) => {
            if (!current) return;
            setFound({ of: circuit, diagram });
            setProblem(null);
          })
          .catch((error: unknown) => current && setProblem(asProblem(error).detail));
      },
      first.current ? 0 : AFTER_MS,
    );
    first.current = false;
    return () => {
      current = false;
      clearTimeout(timer);
    };
  }, [circuit]);
  return { diagram: found?.diagram ?? null, problem, late: found !== null && found.of !== circuit };
}

/** Has the bench come to a state, from the circuit just put under power. */
function useStateOnBench(late: boolean): (state: MachineState) => void {
  const navigate = useNavigate();
  const job = useDocument(({ job }) => job?.id);
  return (state) => {
    if (job === undefined || late) return;
    setProof(proofOf(state.moves, state.seen_us));
    void navigate(`/jobs/${job}/run`);
  };
}

const nameOf = (state: MachineState | undefined): string => state?.lines.join(", ") ?? "";

interface PictureProps {
  readonly diagram: Diagram;
  readonly pointed: number | null;
  readonly onPoint: (number: number | null) => void;
  readonly onGo: (state: MachineState) => void;
  readonly ref: React.Ref<SVGSVGElement>;
}

function DiagramPicture({ diagram, pointed, onPoint, onGo, ref }: PictureProps) {
  const drawn = useMemo(() => picture(diagram), [diagram]);
  const words = diagram.arrows.length <= FEW;
  return (
    <svg
      ref={ref}
      xmlns="http://www.w3.org/2000/svg"
      width={drawn.width}
      height={drawn.height}
      style={{ minWidth: LEGIBLE * drawn.width }}
      viewBox={`0 0 ${drawn.width} ${drawn.height}`}
      fontFamily="Barlow, sans-serif"
      fontSize={12}
      role="group"
      aria-label="State diagram"
    >
      <defs>
        <marker
          id="state-arrow"
          viewBox="0 0 8 8"
          refX="7"
          refY="4"
          markerWidth="7"
          markerHeight="7"
          orient="auto"
        >
          <path d="M0 0 L8 4 L0 8 Z" fill="context-stroke" />
        </marker>
      </defs>
      {drawn.arrows.map((one) => (
        <ArrowShape
          key={`${one.arrow.of}-${one.arrow.to}`}
          drawn={one}
          lit={pointed === one.arrow.of}
          words={words || pointed === one.arrow.of}
        />
      ))}
      {drawn.boxes.map((box) => (
        <StateBox key={box.state.number} box={box} onPoint={onPoint} onGo={onGo} />
      ))}
    </svg>
  );
}

function ArrowShape({ drawn, lit, words }: { drawn: Drawn; lit: boolean; words: boolean }) {
  const { arrow, path, at } = drawn;
  return (
    <g className={`state-arrow${lit ? " lit" : ""}`} data-of={arrow.of} data-to={arrow.to}>
      <path
        d={path}
        fill="none"
        stroke="currentColor"
        strokeWidth={lit ? 2 : 1.2}
        strokeDasharray={arrow.by_itself ? "5 4" : undefined}
        markerEnd="url(#state-arrow)"
      />
      {words && (
        <text x={at.x} y={at.y} className="state-words" fill="currentColor">
          {told(arrow)}
        </text>
      )}
    </g>
  );
}

const told = (arrow: Arrow): string => arrow.words.join(" or ");

function StateBox({ box, onPoint, onGo }: { box: Placed } & Pick<PictureProps, "onPoint" | "onGo">) {
  const { state, x, y, height } = box;
  const kind = state.tripped ? "tripped" : state.active ? "active" : "rest";
  const onKeyDown = (event: KeyboardEvent): void => {
    if (event.key === "Enter" || event.key === " ") {
      event.preventDefault();
      onGo(state);
    }
  };
  return (
    <g
      className={`state-box ${kind}`}
      role="button"
      tabIndex={0}
      aria-label={`State: ${nameOf(state)}. Show on the bench`}
      transform={`translate(${x} ${y})`}
      onMouseEnter={() => onPoint(state.number)}
      onMouseLeave={() => onPoint(null)}
      onFocus={() => onPoint(state.number)}
      onBlur={() => onPoint(null)}
      onClick={() => onGo(state)}
      onKeyDown={onKeyDown}
    >
      <rect width={BOX.width} height={height} rx={state.active ? 2 : 10} stroke="currentColor" fill="none" />
      {state.tripped && (
        <rect
          x={3}
          y={3}
          width={BOX.width - 6}
          height={height - 6}
          rx={8}
          stroke="currentColor"
          fill="none"
        />
      )}
      {state.lines.map((line, number) => (
        <text
          key={line}
          x={BOX.width / 2}
          y={BOX.pad + BOX.line * (number + 0.75)}
          textAnchor="middle"
          fill="currentColor"
        >
          {
            // Who speaks what he sees says words, not lines that run into each other.
            `${line} `
          }
        </text>
      ))}
      {state.trap && (
        <text
          x={BOX.width / 2}
          y={height + 13}
          textAnchor="middle"
          fill="currentColor"
          className="state-trap"
        >
          nothing stops it
        </text>
      )}
    </g>
  );
}

function MoveTable({ diagram, pointed, onGo }: Pick<PictureProps, "diagram" | "pointed" | "onGo">) {
  const byNumber = new Map(diagram.states.map((state) => [state.number, state]));
  return (
    <table className="states-table">
      <thead>
        <tr>
          <th scope="col">From</th>
          <th scope="col">By</th>
          <th scope="col">To</th>
        </tr>
      </thead>
      <tbody>
        {diagram.arrows.map((arrow) => {
          const to = byNumber.get(arrow.to);
          return (
            <tr key={`${arrow.of}-${arrow.to}`} data-lit={pointed === arrow.of || undefined}>
              <td>{nameOf(byNumber.get(arrow.of))}</td>
              <td>{told(arrow)}</td>
              <td>
                <button type="button" className="states-go" onClick={() => to && onGo(to)}>
                  {nameOf(to)}
                </button>
              </td>
            </tr>
          );
        })}
      </tbody>
    </table>
  );
}
