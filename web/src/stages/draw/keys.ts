import { useEffect } from "react";
import { redo, undo } from "../../job/document";
import { letGo } from "../../sheet/view";
import { copySelection, deleteSelection, pasteClip, selectAll } from "./gestures";

/** Keys that hold for the whole stage, unless a field has the focus. */
export function useKeys(): void {
  useEffect(() => {
    const onKeyDown = (event: KeyboardEvent): void => {
      if (event.target instanceof HTMLElement && event.target.closest("input, select, textarea")) return;
      const command = event.ctrlKey || event.metaKey;
      const key = event.key.toLowerCase();
      if (event.key === "Escape") letGo();
      else if (event.key === "Delete" || event.key === "Backspace") deleteSelection();
      else if (command && key === "z" && !event.shiftKey) undo();
      else if (command && (key === "y" || (key === "z" && event.shiftKey))) redo();
      else if (command && key === "a") selectAll();
      else if (command && key === "c") {
        // Words that are marked on the page are copied as words.
        if (document.getSelection()?.toString() || !copySelection()) return;
      } else if (command && key === "x") cut();
      else if (command && key === "v") pasteClip();
      else if (command && key === "d") duplicate();
      else return;
      event.preventDefault();
    };
    window.addEventListener("keydown", onKeyDown);
    return () => window.removeEventListener("keydown", onKeyDown);
  }, []);
}

function cut(): void {
  if (copySelection()) deleteSelection();
}

function duplicate(): void {
  if (copySelection()) pasteClip();
}
