import { isContact, isLink } from "../../circuit/purpose";
import type { Kind } from "../../circuit/types";
import { SYMBOLS } from "../../sheet/symbols";
import type { Tool } from "../../sheet/view";

const MOST_CONTACTS = 3;

/** An entry of the palette: one part, or one that is had with several numbers of poles. */
export interface Entry {
  readonly title: string;
  readonly tools: readonly [Tool, ...Tool[]];
  /** What tells the tools apart, in their order. */
  readonly choices: readonly string[];
}

/** The entries of a kind: its tools, those that differ in their poles alone as one. */
export function entriesOf(kind: Kind): Entry[] {
  const tools = toolsOf(kind);
  const poles = tools.map(({ params }) => Object.values(params ?? {})[0]);
  const [first, ...others] = tools;
  if (first && others.length > 0 && poles.every((value) => typeof value === "number"))
    return [{ title: kind.title, tools: [first, ...others], choices: poles.map(String) }];
  return tools.map((tool) => ({ title: tool.title, tools: [tool], choices: [] }));
}

/**
 * One entry for each way in which a kind begins on the sheet: its first part, for each choice of
 * contacts or poles that gives it another symbol.
 */
export function toolsOf(kind: Kind): Tool[] {
  const [first] = kind.parts;
  if (!first) return [];
  const decides = first.when?.param;
  const conditions = kind.parts.filter((part) => part.when?.param === decides && SYMBOLS[part.symbol]);
  const always = kind.parts.filter(({ when }) => !when);
  // More contacts than these differ in their numbers alone.
  const several = always.length > 1 && always.length <= MOST_CONTACTS;
  if (!first.when && several && always.every((part) => isContact(part) && isLink(part)))
    return always.map((part) => {
      const what = part.does === "normally open" ? "NO" : "NC";
      const alone = always.filter(({ does }) => does === part.does).length === 1;
      const title = `${kind.title}, ${alone ? what : part.title}`;
      return { title, kind: kind.name, part: part.name };
    });
  if (!first.when) return [{ title: kind.title, kind: kind.name, part: first.name }];
  const choice = kind.params.find(({ name }) => name === decides);
  const titled = (value: boolean | string): string => choice?.titles[String(value)] ?? String(value);
  const tools = conditions.map((part): Tool => {
    const value = part.when?.values[0] ?? "";
    const params = { [part.when?.param ?? ""]: value };
    const what = typeof value === "number" ? `${value} ${value === 1 ? "pole" : "poles"}` : titled(value);
    return { title: `${kind.title}, ${what}`, kind: kind.name, part: part.name, params };
  });
  return tools;
}
