import { Button } from "@chakra-ui/react";
import { STEP, useCursorKeys, usePointer } from "./boardHands";
import { MARGIN, useBoardWindow } from "./boardWindow";
import type { Hit, Layout } from "./layout";
import { useView } from "./view";
import type { Window } from "./window";

export interface BoardProps {
  readonly layout: Layout;
  readonly label: string;
  readonly placing: boolean;
  /** A mouse that is pulled over empty paper draws a box; a finger still moves the sheet. */
  readonly boxes?: boolean;
  readonly children: React.ReactNode;
  /** A press begins on something, by pointer or by Enter or space at the cursor. */
  readonly onPress: (hit: Hit, how: { latch: boolean; byKey: boolean }) => void;
  /** The press ends, where it began or elsewhere. */
  readonly onRelease: (hit: Hit | undefined, how: { byKey: boolean }) => void;
  readonly onHover: (hit: Hit | undefined) => void;
  /** A key that the board itself has no use for. Returns whether it was used. */
  readonly onKey: (key: string, hit: Hit | undefined) => boolean;
  readonly describe: (hit: Hit) => string;
}

/** The drawing board: all sheets, with zoom, pan, pointer and keyboard cursor. */
export function Board(props: BoardProps) {
  const { layout } = props;
  const window = useBoardWindow(layout);
  const pointer = usePointer(props, window);
  const keys = useCursorKeys(props, window);
  const said = useView((view) => view.said);
  const { x, y, width, height } = window.shown;
  return (
    <div className="board-window">
      <svg
        ref={window.svg}
        className={props.placing ? "board placing" : "board"}
        viewBox={`${x - width / 2} ${y - height / 2} ${width * 2} ${height * 2}`}
        role="application"
        aria-label={props.label}
        aria-describedby="board-keys"
        // biome-ignore lint/a11y/noNoninteractiveTabindex: the board has a keyboard cursor
        tabIndex={0}
        {...keys}
        {...pointer}
      >
        {props.children}
        <Cursor layout={layout} />
      </svg>
      <FitButtons
        layout={layout}
        onFit={window.show}
        onZoom={(factor) => window.zoom(window.middle(), factor)}
      />
      <p id="board-keys" className="unseen">
        Arrow keys move the cursor, with shift four steps. N and P go to the next and the previous terminal, S
        to the next sheet. Plus and minus come nearer and go farther, zero shows all. Enter or space acts at
        the cursor. In a drawing M moves a part or pulls a wire, X selects one more, slash finds a device or
        takes up a part.
      </p>
      <p className="unseen" aria-live="polite">
        {said}
      </p>
    </div>
  );
}

function Cursor({ layout }: { layout: Layout }) {
  const cursor = useView((view) => view.cursor);
  const page = layout.pages.find(({ sheet }) => sheet.id === cursor?.sheet);
  if (!cursor || !page) return null;
  const [x, y] = [cursor.at.x + page.shift.x - 0.7, cursor.at.y + page.shift.y - 0.7];
  return <rect className="cursor" x={x} y={y} width={1.4} height={1.4} rx={0.2} />;
}

/** Fit all sheets or one of them into the view, and come nearer or go farther: a finger has no wheel. */
function FitButtons(props: {
  layout: Layout;
  onFit: (window: Window | null) => void;
  onZoom: (factor: number) => void;
}) {
  const { layout, onFit, onZoom } = props;
  return (
    <div className="fit-buttons" role="group" aria-label="Fit into view">
      <Button size="xs" variant="ghost" aria-label="Nearer" onClick={() => onZoom(1 / STEP)}>
        +
      </Button>
      <Button size="xs" variant="ghost" aria-label="Farther" onClick={() => onZoom(STEP)}>
        −
      </Button>
      <Button size="xs" variant="ghost" onClick={() => onFit(null)}>
        All
      </Button>
      {layout.pages.map(({ sheet, frame, shift }) => (
        <Button
          key={sheet.id}
          size="xs"
          variant="ghost"
          onClick={() =>
            onFit({
              x: frame.left + shift.x - MARGIN,
              y: -MARGIN,
              width: frame.right - frame.left + 2 * MARGIN,
              height: frame.bottom + shift.y + 2 * MARGIN,
            })
          }
        >
          {sheet.title}
        </Button>
      ))}
    </div>
  );
}
