import { useEffect } from "react";

/** Something that can be done: keys, menus, buttons and help are made from this one record. */
export interface Command {
  readonly id: string;
  readonly label: string;
  /** Such as "Mod+Z" (control, or command on a Mac), "Mod+Shift+Z", "Delete". */
  readonly keys: readonly string[];
  /** Can it be done now? */
  readonly when: () => boolean;
  readonly run: () => void;
}

/** The keys of an event as a command names them. */
export function keysOf(event: Pick<KeyboardEvent, "key" | "ctrlKey" | "metaKey" | "shiftKey">): string {
  const letter = event.key.length === 1;
  const mod = event.ctrlKey || event.metaKey;
  // Shift makes another letter by itself; it counts beside control alone.
  const shift = event.shiftKey && (mod || !letter);
  return [mod && "Mod", shift && "Shift", letter ? event.key.toUpperCase() : event.key]
    .filter(Boolean)
    .join("+");
}

/** How keys are written where they are told. */
export const keyWords = (keys: string): string =>
  keys.replace("Mod", /Mac|iP/.test(navigator.platform) ? "Cmd" : "Ctrl").replace("Escape", "Esc");

/** Let the keys of these commands work, unless a field has the focus. */
export function useCommandKeys(commands: readonly Command[]): void {
  useEffect(() => {
    const onKeyDown = (event: KeyboardEvent): void => {
      if (event.target instanceof HTMLElement && event.target.closest("input, select, textarea")) return;
      const pressed = keysOf(event);
      const command = commands.find(({ keys }) => keys.includes(pressed));
      if (!command?.when()) return;
      command.run();
      event.preventDefault();
    };
    window.addEventListener("keydown", onKeyDown);
    return () => window.removeEventListener("keydown", onKeyDown);
  }, [commands]);
}
