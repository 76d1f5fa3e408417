import type { CSSProperties } from "react";
import { LEGIBLE_PX } from "./arrange";
import { type BoardProps, useCursorKeys, usePointer } from "./boardHands";
import { useBoardWindow } from "./boardWindow";
import type { Layout } from "./page";

import { SheetBar } from "./SheetBar";
import { SMALL } from "./type";
import { useArranged } from "./useLayout";
import { useView } from "./view";

/** How much of the words is drawn: what could not be read is left out, names last. */
export function detailAt(scale: number): "all" | "numbers" | "names" | "none" {
  if (scale * SMALL >= LEGIBLE_PX - 0.1) return "all";
  if (scale >= 6) return "numbers";
  return scale >= 3.5 ? "names" : "none";
}

/** The drawing board: the sheets in use, with zoom, pan, pointer and keyboard cursor. */
export function Board(props: BoardProps) {
  const shown = useArranged(props.layout);
  const window = useBoardWindow(shown);
  const pointer = usePointer(props, shown, window);
  const keys = useCursorKeys(props, shown, window);
  const said = useView((view) => view.said);
  const { x, y, width, height } = window.shown;
  return (
    <div className="board-column">
      <div className="board-window" ref={window.frame}>
        <svg
          ref={window.svg}
          className={props.placing ? "board placing" : "board"}
          viewBox={`${x - width / 2} ${y - height / 2} ${width * 2} ${height * 2}`}
          data-detail={detailAt(window.scale)}
          style={{ "--per-px": 1 / window.scale } as CSSProperties}
          role="application"
          aria-label={props.label}
          aria-describedby="board-keys"
          // biome-ignore lint/a11y/noNoninteractiveTabindex: the board has a keyboard cursor
          tabIndex={0}
          {...keys}
          {...pointer}
        >
          {props.children(shown)}
          <Cursor layout={shown} />
        </svg>
      </div>
      <SheetBar layout={props.layout} shown={shown} window={window}>
        {props.status}
      </SheetBar>
      <p id="board-keys" className="unseen">
        Arrow keys move the cursor, with shift four steps. N and P go to the next and the previous terminal, S
        to the next sheet. Plus and minus come nearer and go farther, F fits what is at the cursor, zero shows
        the whole sheet. Enter or space acts at the cursor. In a drawing M moves a part or pulls a wire, X
        selects one more, slash finds a device or takes up a part. Under power W asks why a device stands as
        it does.
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
