import { Button } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { Link } from "react-router";
import { api, asProblem } from "../../api/client";
import type { Circuit, Schemas } from "../../circuit/types";
import { ProblemNotice } from "../../common/Notice";
import { HomeShell } from "../home/HomeShell";
import { MiniatureView } from "../home/MiniatureView";
import { OpenAsJob } from "../look/Look";
import { type Asked, fitting, kindsOf, NOTHING_ASKED, suppliesOf } from "./filter";

type Line = Schemas["LibraryLine"];
type Convention = Circuit["convention"];

/** Every circuit that ships, by family: what it shows, and what to try on it. */
export function LibraryPage() {
  const library = useQuery({ queryKey: ["library"], queryFn: api.library });
  const catalogue = useQuery({ queryKey: ["catalogue"], queryFn: api.catalogue });
  const [asked, setAsked] = useState<Asked>(NOTHING_ASKED);
  const [convention, setConvention] = useState<Convention>("iec");
  const families = library.data?.families ?? [];
  const titles = useMemo(
    () => new Map(catalogue.data?.kinds.map(({ name, title }) => [name, title])),
    [catalogue.data],
  );
  const found = fitting(families, asked, titles);
  const set = (change: Partial<Asked>): void => setAsked({ ...asked, ...change });
  return (
    <HomeShell title="Library" lead="Circuits to look at running, to measure, and to begin a job with.">
      {library.error && (
        <ProblemNotice problem={asProblem(library.error)} onRetry={() => void library.refetch()} />
      )}
      <div className="home-tools" role="search">
        <input
          type="search"
          aria-label="Search the library"
          placeholder="Machine, purpose, devices"
          value={asked.words}
          onChange={(event) => set({ words: event.target.value })}
        />
        <Choice
          label="Device"
          any="Any device"
          value={asked.kind}
          options={kindsOf(families).map((name): [string, string] => [name, titles.get(name) ?? name])}
          onChange={(kind) => set({ kind })}
        />
        <Choice
          label="Supply"
          any="Any supply"
          value={asked.supply}
          options={suppliesOf(families).map((name) => [name, name])}
          onChange={(supply) => set({ supply })}
        />
        <Choice
          label="Drawn as"
          value={convention}
          options={[
            ["iec", "IEC"],
            ["nema", "North American"],
          ]}
          onChange={(name) => setConvention(name as Convention)}
        />
      </div>
      {library.data && found.length === 0 && (
        <p className="home-none" role="status">
          No circuit fits all of that.{" "}
          <Button size="xs" variant="outline" onClick={() => setAsked(NOTHING_ASKED)}>
            Show all
          </Button>{" "}
          Words such as reversing, timer, earth or monitor find some.
        </p>
      )}
      {found.map((family) => (
        <section key={family.title} aria-label={family.title}>
          <h2>{family.title}</h2>
          <ul className="cards">
            {family.circuits.map((line) => (
              <LibraryCard key={line.name} line={line} convention={convention} />
            ))}
          </ul>
        </section>
      ))}
    </HomeShell>
  );
}

function LibraryCard({ line, convention }: { line: Line; convention: Convention }) {
  const subject = useMemo(
    () => ({
      key: `library/${line.name}/${line.content}/${convention}`,
      load: async () => ({ ...(await api.libraryCircuit(line.name)).circuit, convention }),
    }),
    [line, convention],
  );
  return (
    <li className="card">
      <MiniatureView subject={subject} />
      <div className="card-words">
        <Link className="card-title" to={`/library/${line.name}`}>
          {line.title}
        </Link>
        <span className="card-note">{line.shows}</span>
        <span className="card-note">
          <strong>Try:</strong> {line.tries}
        </span>
        <div className="card-foot">
          <Button asChild size="xs" colorPalette="accent" variant="outline">
            <Link to={`/library/${line.name}`} aria-label={`Look at it running: ${line.title}`}>
              Look at it running
            </Link>
          </Button>
          <div>
            <OpenAsJob name={line.name} title={line.title} />
          </div>
        </div>
      </div>
    </li>
  );
}

function Choice(props: {
  label: string;
  any?: string;
  value: string;
  options: readonly (readonly [string, string])[];
  onChange: (value: string) => void;
}) {
  return (
    <select
      aria-label={props.label}
      value={props.value}
      onChange={(event) => props.onChange(event.target.value)}
    >
      {props.any && <option value="">{props.any}</option>}
      {props.options.map(([name, title]) => (
        <option key={name} value={name}>
          {title}
        </option>
      ))}
    </select>
  );
}
