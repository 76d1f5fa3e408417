import type { Command } from "../../common/commands";
import { tidySheets } from "../../job/conventions";
import { redo, undo, useDocument } from "../../job/document";
import { letGo, setView, useView } from "../../sheet/view";
import { copySelection, deleteSelection, pasteClip, selectAll } from "./gestures";

const always = (): boolean => true;
const selected = (): boolean => useView.getState().selection !== null;
const history = () => useDocument.getState().history;
/** Words that are marked on the page are copied as words. */
const noWords = (): boolean => !document.getSelection()?.toString();

/** All that can be done with the drawing as a whole and with what is selected. */
export const COMMANDS = {
  undo: {
    id: "undo",
    label: "Undo",
    keys: ["Mod+Z"],
    when: () => history().past.length > 0,
    run: undo,
  },
  redo: {
    id: "redo",
    label: "Redo",
    keys: ["Mod+Y", "Mod+Shift+Z"],
    when: () => history().future.length > 0,
    run: redo,
  },
  selectAll: { id: "selectAll", label: "Select all", keys: ["Mod+A"], when: always, run: selectAll },
  copy: {
    id: "copy",
    label: "Copy",
    keys: ["Mod+C"],
    when: () => selected() && noWords(),
    run: () => void copySelection(),
  },
  cut: {
    id: "cut",
    label: "Cut",
    keys: ["Mod+X"],
    when: selected,
    run: () => {
      if (copySelection()) deleteSelection();
    },
  },
  paste: { id: "paste", label: "Paste", keys: ["Mod+V"], when: always, run: pasteClip },
  duplicate: {
    id: "duplicate",
    label: "Duplicate",
    keys: ["Mod+D"],
    when: always,
    run: () => {
      if (copySelection()) pasteClip();
    },
  },
  delete: {
    id: "delete",
    label: "Delete",
    keys: ["Delete", "Backspace"],
    when: always,
    run: deleteSelection,
  },
  letGo: { id: "letGo", label: "Let go of what is in hand", keys: ["Escape"], when: always, run: letGo },
  tidy: { id: "tidy", label: "Tidy", keys: [], when: always, run: () => void tidySheets() },
  panel: {
    id: "panel",
    label: "Panel",
    keys: [],
    when: always,
    run: () => show("panel"),
  },
  states: { id: "states", label: "States", keys: [], when: always, run: () => show("states") },
  description: {
    id: "description",
    label: "Description",
    keys: [],
    when: always,
    run: () => show("description"),
  },
} satisfies Record<string, Command>;

/** Show this below the sheets, or nothing where it is shown already. */
function show(what: "panel" | "states" | "description"): void {
  setView({ below: useView.getState().below === what ? null : what });
}

export const COMMAND_LIST: readonly Command[] = Object.values(COMMANDS);
