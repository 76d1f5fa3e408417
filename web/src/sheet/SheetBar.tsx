import { Button } from "@chakra-ui/react";
import type { ReactNode } from "react";
import { STEP } from "./boardHands";
import type { BoardWindow } from "./boardWindow";
import type { Layout } from "./page";

import { setView, useView } from "./view";

interface Props {
  readonly layout: Layout;
  readonly shown: Layout;
  readonly window: BoardWindow;
  readonly children: ReactNode;
}

/** Below the sheets: which of them are in view, what is said of them, and how near they are. */
export function SheetBar({ layout, shown, window, children }: Props) {
  const near = useView((view) => view.near);
  const one = shown.pages.length === 1 ? shown.pages[0]?.sheet.id : undefined;
  const choose = (sheet: string): void => {
    setView({ sheet });
    window.show(null);
  };
  return (
    <div className="sheet-bar">
      {layout.pages.length > 1 && (
        <div className="bar-group" role="group" aria-label="Sheets">
          {layout.pages.map(({ sheet }) => (
            <SheetTab
              key={sheet.id}
              title={sheet.title}
              open={one === sheet.id}
              onOpen={() => choose(sheet.id)}
            />
          ))}
          <SheetTab
            title={layout.pages.length > 2 ? "All" : "Both"}
            open={!one}
            onOpen={() => choose("all")}
          />
        </div>
      )}
      <div className="bar-words">{children}</div>
      <div className="bar-group" role="group" aria-label="Nearness">
        <Button
          size="xs"
          variant="ghost"
          aria-label="Nearer"
          onClick={() => window.zoom(window.middle(), 1 / STEP)}
        >
          +
        </Button>
        <Button
          size="xs"
          variant="ghost"
          aria-label="Farther"
          onClick={() => window.zoom(window.middle(), STEP)}
        >
          −
        </Button>
        <Button size="xs" variant="ghost" disabled={!near} onClick={() => window.show(null)}>
          Whole
        </Button>
      </div>
    </div>
  );
}

function SheetTab(props: { title: string; open: boolean; onOpen: () => void }) {
  return (
    <Button
      size="xs"
      variant={props.open ? "subtle" : "ghost"}
      aria-pressed={props.open}
      maxW="180px"
      onClick={props.onOpen}
    >
      <span className="cut">{props.title}</span>
    </Button>
  );
}
