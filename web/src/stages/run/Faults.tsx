import { Button, Input } from "@chakra-ui/react";
import { useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { api, asProblem } from "../../api/client";
import { useBench, useTheBench } from "../../bench/context";
import type { Circuit } from "../../circuit/types";
import { hasAll, named, wordsOf } from "../../common/named";

/** So many are offered at once; more words find the others. */
const MOST = 6;

/** Faults in the circuit: put in by hand, switched, taken out again. */
export function Faults({ circuit }: { circuit: Circuit }) {
  const bench = useTheBench();
  const faults = useBench((state) => state.faults);
  const [open, setOpen] = useState(false);
  return (
    <section className="bench-faults" aria-label="Faults">
      <div className="faults-head">
        <h2>Faults</h2>
        <Button
          size="xs"
          variant={open ? "subtle" : "outline"}
          aria-expanded={open}
          onClick={() => setOpen(!open)}
        >
          Insert fault
        </Button>
      </div>
      {open && <Offers circuit={circuit} onPut={() => setOpen(false)} />}
      <ul aria-label="Faults in the circuit">
        {faults.map(({ id, words, on }) => (
          <li key={id}>
            <label>
              <input
                type="checkbox"
                checked={on}
                onChange={(event) => bench.switchFault(id, event.target.checked)}
              />
              <span className={on ? "" : "off"}>{words}</span>
            </label>
            <button type="button" aria-label={`Remove: ${words}`} onClick={() => bench.takeOutFault(id)}>
              ×
            </button>
          </li>
        ))}
      </ul>
      {faults.some(({ on }) => on) && <FirstDifferences circuit={circuit} />}
    </section>
  );
}

/** What the same hands do to the sound circuit, beside what they do to this one. */
function FirstDifferences({ circuit }: { circuit: Circuit }) {
  const bench = useTheBench();
  const [found, setFound] = useState<FirstDifference[] | null>(null);
  const [problem, setProblem] = useState("");
  const compare = async (): Promise<void> => {
    const { hands, headUs, faults } = bench.use.getState();
    const active = faults.flatMap(({ fault, on }) => (on ? [fault] : []));
    const until_us = Math.max(headUs, bench.nowUs());
    const body = { state: null, actions: [...hands], until_us, faults: active };
    try {
      setFound((await api.firstDifferences(circuit, body)).differences);
      setProblem("");
    } catch (error) {
      setProblem(asProblem(error).detail);
    }
  };
  const label = (id: string): string => circuit.devices.find((device) => device.id === id)?.label ?? id;
  return (
    <div className="first-differences">
      <Button size="xs" variant="outline" onClick={() => void compare()}>
        Compare with the sound circuit
      </Button>
      {problem && <p className="caution">{problem}</p>}
      {found?.length === 0 && <p>With these hands both do the same, from the beginning until now.</p>}
      {found && found.length > 0 && (
        <table aria-label="With and without the faults">
          <thead>
            <tr>
              <th scope="col">From</th>
              <th scope="col">Device</th>
              <th scope="col">Sound</th>
              <th scope="col">Faulty</th>
            </tr>
          </thead>
          <tbody>
            {found.map((one, index) => (
              <tr key={one.device} className={index === 0 ? "first" : ""}>
                <td>{(one.at_us / 1e6).toFixed(3)} s</td>
                <th scope="row">{label(one.device)}</th>
                <td>{one.sound}</td>
                <td>{one.faulty}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </div>
  );
}

type FirstDifference = Awaited<ReturnType<typeof api.firstDifferences>>["differences"][number];

function Offers({ circuit, onPut }: { circuit: Circuit; onPut: () => void }) {
  const bench = useTheBench();
  const red = useBench((state) => state.red);
  const black = useBench((state) => state.black);
  const [text, setText] = useState("");
  const [kind, setKind] = useState("");
  const { data, error } = useQuery({
    queryKey: ["faults", circuit.devices, circuit.conductors],
    queryFn: () => api.faults(circuit, null),
  });
  const matching = useMemo(() => named(data?.faults ?? [], wordsOf(text)), [data, text]);
  const found = matching.filter((one) => kind === "" || one.kind === kind);
  const put = (fault: (typeof found)[number] | undefined): void => {
    if (!fault) return;
    bench.putFault(fault.fault, fault.words);
    onPut();
  };
  const written = useNamed(circuit, put);
  return (
    <form
      className="fault-offers"
      onSubmit={(event) => {
        event.preventDefault();
        if (text.includes("=")) void written.put(text);
        // The enter key takes nothing that is only called nearly so.
        else put(found.find((one) => hasAll(one, wordsOf(text))));
      }}
    >
      <Input
        size="sm"
        autoFocus
        aria-label="Which fault"
        placeholder="K1, coil, open, loose, welded …"
        value={text}
        onChange={(event) => setText(event.target.value)}
      />
      {(error || written.problem) && <p className="caution">{written.problem || asProblem(error).detail}</p>}
      <Kinds lines={matching} chosen={kind} onChoose={setKind} />
      {red && black && (
        <Button size="xs" variant="outline" onClick={() => void written.bridge(red, black)}>
          Bridge between the probes
        </Button>
      )}
      <ul aria-label="Faults to choose from">
        {found.slice(0, MOST).map((one) => (
          <li key={one.words}>
            <button type="button" onClick={() => put(one)}>
              {one.words}
            </button>
          </li>
        ))}
      </ul>
      {data && found.length === 0 && !text.includes("=") && (
        <p>Nothing like that. Try a designation such as K1, or open, loose, welded, stuck, set.</p>
      )}
      {found.length > MOST && <p>And {found.length - MOST} more: type what they are at.</p>}
    </form>
  );
}

/** What kinds of fault there are among these, and how many of each: one narrows the list. */
function Kinds(props: { lines: readonly Line[]; chosen: string; onChoose: (kind: string) => void }) {
  const counts = new Map<string, number>();
  for (const { kind } of props.lines) counts.set(kind, (counts.get(kind) ?? 0) + 1);
  return (
    <div className="fault-kinds" role="group" aria-label="Kinds of fault">
      {[...counts].map(([kind, count]) => (
        <Button
          key={kind}
          size="xs"
          variant={kind === props.chosen ? "subtle" : "ghost"}
          aria-pressed={kind === props.chosen}
          onClick={() => props.onChoose(kind === props.chosen ? "" : kind)}
        >
          {kind} {count}
        </Button>
      ))}
    </div>
  );
}

type Line = Awaited<ReturnType<typeof api.faults>>["faults"][number];

/** Faults that are written out, such as `K1:A1=to F1:2`, and a bridge from probe to probe. */
function useNamed(circuit: Circuit, put: (fault: Line | undefined) => void) {
  const [problem, setProblem] = useState("");
  const named = async (text: string): Promise<void> => {
    try {
      const { faults } = await api.faults(circuit, text);
      setProblem("");
      put(faults[0]);
    } catch (error) {
      setProblem(asProblem(error).detail);
    }
  };
  const label = (id: string): string => circuit.devices.find((device) => device.id === id)?.label ?? id;
  const at = (end: { device: string; terminal: string }): string => `${label(end.device)}:${end.terminal}`;
  return {
    problem,
    put: named,
    bridge: (a: Parameters<typeof at>[0], b: Parameters<typeof at>[0]) => named(`${at(a)}=to ${at(b)}`),
  };
}
