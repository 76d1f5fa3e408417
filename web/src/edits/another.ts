import type { Catalogue } from "../circuit/catalogue";
import { type Circuit, type Device, type End, type Part, shownSheets } from "../circuit/types";
import { changeDevice, EditRefused } from "./changes";

/** What shall stand behind a device; with `part` in place of its part `of`. */
interface Asked {
  readonly device: string;
  readonly kind: string;
  readonly params: Device["params"];
  readonly of?: string;
  readonly part?: string;
}

/**
 * Put another kind of device behind the symbols of one: its parts take the places, its terminals the
 * wires, in their order. Refused where a wire would hang in the air.
 */
export function changeKind(circuit: Circuit, asked: Asked, catalogue: Catalogue): Circuit {
  const device = circuit.devices.find(({ id }) => id === asked.device);
  const kind = catalogue.kind(asked.kind);
  if (!device || !kind) throw new EditRefused("There is no such device.");
  const { parts, terminals } = correspondence(circuit, device, asked, catalogue);
  const lost = usedTerminals(circuit, device.id).find((terminal) => !terminals.has(terminal));
  if (lost) throw new EditRefused(`${kind.title} has no terminal for the wire on ${device.label}:${lost}.`);
  const moved = (end: End): End =>
    end.device === device.id ? { ...end, terminal: terminals.get(end.terminal) ?? end.terminal } : end;
  const names = new Set(kind.params.map(({ name }) => name));
  const kept = device.kind === asked.kind ? device.params : {};
  const params = Object.fromEntries(
    Object.entries({ ...kept, ...asked.params }).filter(([name]) => names.has(name)),
  );
  const changed = changeDevice(circuit, device.id, (d) => ({ ...d, kind: kind.name, params }));
  return {
    ...changed,
    conductors: changed.conductors.map((wire) => ({ ...wire, a: moved(wire.a), b: moved(wire.b) })),
    strays: changed.strays.map((stray) => ({ ...stray, a: moved(stray.a), b: moved(stray.b) })),
    sheets: changed.sheets.map((sheet) => ({
      ...sheet,
      symbols: sheet.symbols.flatMap((symbol) => {
        if (symbol.device !== device.id) return [symbol];
        const part = parts.get(symbol.part);
        return part === undefined ? [] : [{ ...symbol, part }];
      }),
    })),
  };
}

/** Can this kind take over all wires and symbols of the device? */
export function fits(circuit: Circuit, asked: Asked, catalogue: Catalogue): boolean {
  const device = circuit.devices.find(({ id }) => id === asked.device);
  if (!device) return false;
  const { parts, terminals } = correspondence(circuit, device, asked, catalogue);
  const placed = shownSheets(circuit).flatMap((sheet) =>
    sheet.symbols.filter((symbol) => symbol.device === device.id),
  );
  return (
    placed.every((symbol) => parts.has(symbol.part)) &&
    usedTerminals(circuit, device.id).every((terminal) => terminals.has(terminal))
  );
}

function usedTerminals(circuit: Circuit, id: string): string[] {
  const ends = [...circuit.conductors, ...circuit.strays].flatMap(({ a, b }) => [a, b]);
  return ends.filter((end) => end.device === id).map((end) => end.terminal);
}

/** Which part and terminal stands for which: the same name first, then the same number of terminals. */
function correspondence(circuit: Circuit, device: Device, asked: Asked, catalogue: Catalogue) {
  const old = catalogue.parts(device);
  const fresh = catalogue.parts({ ...device, kind: asked.kind, params: asked.params });
  const used = new Set(usedTerminals(circuit, device.id));
  const parts = new Map<string, string>();
  const terminals = new Map<string, string>();
  const taken = new Set<Part>();
  // Parts in use choose first.
  const rank = (part: Part): number =>
    Number(part.name === asked.of) * 2 + Number(part.terminals.some((t) => used.has(t)));
  const order = [...old].sort((p, q) => rank(q) - rank(p));
  for (const part of order) {
    const free = fresh.filter(
      (other) => !taken.has(other) && other.terminals.length === part.terminals.length,
    );
    const wanted = part.name === asked.of ? free.find((other) => other.name === asked.part) : undefined;
    const match = wanted ?? free.find((other) => other.name === part.name) ?? free[0];
    if (!match) continue;
    taken.add(match);
    parts.set(part.name, match.name);
    part.terminals.forEach((terminal, index) => {
      terminals.set(terminal, match.terminals[index] ?? terminal);
    });
  }
  return { parts, terminals };
}
