import type { Schemas } from "../../circuit/types";

type Family = Schemas["LibraryFamily"];

/** What is asked of the library; an empty word asks nothing. */
export interface Asked {
  readonly words: string;
  readonly kind: string;
  readonly supply: string;
}

export const NOTHING_ASKED: Asked = { words: "", kind: "", supply: "" };

/** The families with those of their circuits that fit; words are looked for in all that is said, devices included. */
export function fitting(
  families: readonly Family[],
  { words, kind, supply }: Asked,
  titles: ReadonlyMap<string, string>,
): Family[] {
  const asked = words.toLocaleLowerCase().split(/\s+/).filter(Boolean);
  return families
    .map((family) => ({
      ...family,
      circuits: family.circuits.filter((line) => {
        if ((kind && !line.kinds.includes(kind)) || (supply && line.supply !== supply)) return false;
        const devices = line.kinds.map((name) => titles.get(name) ?? name).join(" ");
        const text =
          `${family.title} ${line.title} ${line.shows} ${line.tries} ${devices}`.toLocaleLowerCase();
        return asked.every((word) => text.includes(word));
      }),
    }))
    .filter((family) => family.circuits.length > 0);
}

const each = (
  families: readonly Family[],
  of: (line: Family["circuits"][number]) => readonly string[],
): string[] => [...new Set(families.flatMap(({ circuits }) => circuits.flatMap(of)))].sort();

export const kindsOf = (families: readonly Family[]): string[] => each(families, ({ kinds }) => kinds);
export const suppliesOf = (families: readonly Family[]): string[] => each(families, ({ supply }) => [supply]);
