import { Box, Input } from "@chakra-ui/react";
import { useEffect, useId, useMemo, useRef, useState } from "react";
import { useDocument } from "../../job/document";
import { selectedParts, useView } from "../../sheet/view";
import { finds, type Target } from "./finds";

const MOST = 9;

/**
 * One field to find a device, terminal or wire and go there, to take up a part, or to say what two
 * selected parts are to each other; by the key "/".
 */
export function Finder() {
  const circuit = useDocument((document) => document.circuit);
  const catalogue = useDocument((document) => document.catalogue);
  const [words, setWords] = useState("");
  const [at, setAt] = useState(0);
  const field = useRef<HTMLInputElement>(null);
  const list = useId();
  const selection = useView((view) => view.selection);
  const found = useMemo(
    () => finds(circuit, catalogue, words, selectedParts(selection)).slice(0, MOST),
    [circuit, catalogue, words, selection],
  );
  useSlash(field);
  const take = (target: Target | undefined, add: boolean): void => {
    if (!target) return;
    setWords("");
    target.go(add);
    document.querySelector<SVGSVGElement>(".board")?.focus({ preventScroll: true });
  };
  return (
    <Box position="relative" w={{ base: "100px", xl: "132px", "2xl": "170px" }} flexShrink={1} minW="72px">
      <Input
        ref={field}
        size="sm"
        placeholder="Find or place  /"
        aria-label="Find or place"
        role="combobox"
        aria-expanded={found.length > 0}
        aria-controls={list}
        aria-activedescendant={found.length ? `${list}-${at}` : undefined}
        autoComplete="off"
        value={words}
        onChange={(event) => {
          setWords(event.target.value);
          setAt(0);
        }}
        onBlur={() => setWords("")}
        onKeyDown={(event) => {
          const step = event.key === "ArrowDown" ? 1 : event.key === "ArrowUp" ? -1 : 0;
          if (step && found.length) setAt((at + step + found.length) % found.length);
          else if (event.key === "Enter") take(found[at], event.shiftKey);
          else if (event.key === "Escape") {
            setWords("");
            event.currentTarget.blur();
          } else return;
          event.preventDefault();
        }}
      />
      <Found id={list} found={found} at={at} onTake={take} />
    </Box>
  );
}

/** The key "/" goes to the field, unless another has the focus. */
function useSlash(field: React.RefObject<HTMLInputElement | null>): void {
  useEffect(() => {
    const onKeyDown = (event: KeyboardEvent): void => {
      const typing = event.target instanceof HTMLElement && event.target.closest("input, select, textarea");
      if (event.key !== "/" || typing) return;
      event.preventDefault();
      field.current?.focus();
    };
    window.addEventListener("keydown", onKeyDown);
    return () => window.removeEventListener("keydown", onKeyDown);
  }, [field]);
}

interface FoundProps {
  readonly id: string;
  readonly found: readonly Target[];
  readonly at: number;
  readonly onTake: (target: Target, add: boolean) => void;
}

function Found({ id, found, at, onTake }: FoundProps) {
  return (
    <div id={id} className="finds" role="listbox" aria-label="Found" hidden={found.length === 0}>
      {found.map((target, index) => (
        <div
          key={target.key}
          id={`${id}-${index}`}
          role="option"
          aria-selected={index === at}
          tabIndex={-1}
          onPointerDown={(event) => {
            event.preventDefault();
            onTake(target, event.shiftKey);
          }}
        >
          <span className="finds-what">{target.what}</span>
          {target.title}
        </div>
      ))}
    </div>
  );
}
