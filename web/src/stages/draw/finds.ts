import type { Catalogue } from "../../circuit/catalogue";
import { findNets } from "../../circuit/nets";
import { PATTERNS } from "../../circuit/patterns";
import type { PartRef } from "../../circuit/types";
import { type Circuit, shownSheets } from "../../circuit/types";
import type { Command } from "../../common/commands";
import { insertPattern } from "../../job/conventions";
import { edit } from "../../job/document";
import { showPart } from "../../job/show";
import { findTerminal, layOut } from "../../sheet/layout";
import { goTo, setView } from "../../sheet/view";
import { COMMAND_LIST } from "./commands";
import { type Offer, offersFor } from "./offers";
import { toolsOf } from "./tools";

/** Something that was found, and what choosing it does. */
export interface Target {
  readonly key: string;
  readonly what: string;
  readonly title: string;
  /** With `add` a part is selected besides what is selected. */
  readonly go: (add: boolean) => void;
}

/**
 * What begins with or contains these words: what can be done with two selected parts, parts on the sheets,
 * terminals, wires, and parts of the catalogue.
 */
export function finds(
  circuit: Circuit,
  catalogue: Catalogue,
  words: string,
  selected: readonly PartRef[] = [],
): Target[] {
  const asked = words.trim().toLowerCase();
  if (asked === "") return [];
  const every = asked.split(/\s+/);
  const has = (title: string): boolean => every.every((word) => title.toLowerCase().includes(word));
  const rank = ({ title }: Target): number => Number(!title.toLowerCase().startsWith(asked));
  const here = [...parts(circuit, catalogue), ...wires(circuit)];
  const [first, second] = selected.length === 2 ? selected : [];
  const said = first && second ? offersFor(circuit, catalogue, first, second).map(saying) : [];
  const doing = COMMAND_LIST.filter(({ when }) => when()).map(command);
  const named = asked.includes(":") ? terminals(circuit, catalogue) : [];
  return [...said, ...named, ...here, ...tools(catalogue), ...patterns, ...doing]
    .filter(({ title }) => has(title))
    .sort((a, b) => rank(a) - rank(b));
}

const saying = (offer: Offer): Target => ({
  key: `do ${offer.title}`,
  what: "do",
  title: offer.title,
  go: () => edit(offer.edit),
});

const command = ({ id, label, run }: Command): Target => ({
  key: `command ${id}`,
  what: "do",
  title: label,
  go: run,
});

function parts(circuit: Circuit, catalogue: Catalogue): Target[] {
  const devices = new Map(circuit.devices.map((device) => [device.id, device]));
  return shownSheets(circuit).flatMap((sheet) =>
    sheet.symbols.flatMap((symbol) => {
      const device = devices.get(symbol.device);
      const part = device && catalogue.part(device, symbol.part);
      if (!device || !part) return [];
      const title = `${device.label} ${part.title}${device.function ? `, ${device.function}` : ""}`;
      const go = (add: boolean): void => showPart(symbol, add);
      return [{ key: `part ${device.id}/${part.name}`, what: sheet.title, title, go }];
    }),
  );
}

function terminals(circuit: Circuit, catalogue: Catalogue): Target[] {
  const designation = catalogue.designations(circuit);
  return circuit.devices.flatMap((device) =>
    catalogue.terminals(device).map((terminal): Target => {
      const end = { device: device.id, terminal };
      const go = (): void => {
        const found = findTerminal(layOut(circuit, catalogue), end);
        if (found) goTo(found.page.sheet.id, { x: found.terminal.x, y: found.terminal.y });
      };
      return { key: `terminal ${device.id}:${terminal}`, what: "terminal", title: designation(end), go };
    }),
  );
}

function wires(circuit: Circuit): Target[] {
  return findNets(circuit).flatMap((net): Target[] => {
    const [conductor] = net.conductors;
    if (!conductor) return [];
    const go = (): void => {
      setView({ selection: { kind: "wire", conductor: conductor.id } });
      const ends = new Set(net.ends.map(({ device }) => device));
      for (const sheet of shownSheets(circuit)) {
        const symbol = sheet.symbols.find(({ device }) => ends.has(device));
        if (!symbol) continue;
        goTo(sheet.id, { x: symbol.x, y: symbol.y });
        return;
      }
    };
    return [{ key: `wire ${conductor.id}`, what: "go to", title: `Wire ${net.number}`, go }];
  });
}

const patterns: readonly Target[] = PATTERNS.map(([pattern, title]) => ({
  key: `pattern ${pattern}`,
  what: "pattern",
  title: `${title} pattern`,
  go: () => void insertPattern(pattern),
}));

const tools = (catalogue: Catalogue): Target[] =>
  catalogue.kinds.flatMap(toolsOf).map((tool) => ({
    key: `tool ${tool.title}`,
    what: "place",
    title: tool.title,
    go: () => setView({ tool, wireFrom: null }),
  }));
