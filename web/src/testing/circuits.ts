import { Catalogue } from "../circuit/catalogue";
import type { Circuit, End, Kind } from "../circuit/types";
import { applyEdit, type Edit } from "../edits/edits";

type Part = Kind["parts"][number];

const kind = (
  name: string,
  letter: string,
  parts: Part[],
  params: Kind["params"] = [],
  actuator: Kind["actuator"] = "nothing",
): Kind => ({
  name,
  actuator,
  sticks: false,
  breaks: {},
  racing: [],
  protects: null,
  operating: {},
  ratings: {
    current_a: null,
    also_a: [],
    gives_va: null,
    ratio: null,
    secondary_a: null,
    holds_from: null,
    picks_up_from: null,
    leak_ohm: null,
    feeds_direct: false,
  },
  title: name,
  group: "command",
  group_title: "Commands",
  letter,
  letter_nema: letter,
  mounting: "door",
  params,
  terminals: parts
    .flatMap((part) =>
      part.terminals.map((terminal) => ({ name: terminal, nema: terminal, frame: false, when: part.when })),
    )
    .filter((terminal, at, all) => all.findIndex((other) => other.name === terminal.name) === at),
  parts,
  operations: [],
  remedies: {},
});

const DOES: Record<string, Part["does"]> = {
  supply_3: "feeds",
  push_nc: "normally closed",
  push_no: "normally open",
  contact_nc: "normally closed",
  contact_no: "normally open",
  changeover: "changes over",
  contactor_3: "switches load",
  coil: "operates",
  lamp: "shows",
  motor_3: "turns",
  mechanical_interlock: "locks",
};

const part = (name: string, symbol: string, terminals: string[], when: Part["when"] = null): Part => {
  const does = DOES[symbol] ?? "unstated";
  const odd = (_: string, index: number): boolean => index % 2 === 0;
  const [a = "", b = "", c = ""] = terminals;
  const fed = does === "feeds" ? [] : does === "turns" ? terminals.slice(0, 3) : terminals.filter(odd);
  const contacts =
    does === "changes over"
      ? [
          { a, b, closed_at_rest: true },
          { a, b: c, closed_at_rest: false },
        ]
      : does.startsWith("normally")
        ? [{ a, b, closed_at_rest: does === "normally closed" }]
        : [];
  return {
    name,
    title: name,
    symbol,
    does,
    leads: true,
    terminals,
    fed,
    leads_on: does === "turns" ? [] : terminals.filter((terminal) => !fed.includes(terminal)),
    contacts,
    branches: [name],
    when,
  };
};

/** A small catalogue of its own, so that these tests speak of edits and not of devices. */
export const catalogue = new Catalogue([
  kind("supply", "G", [part("supply", "supply_3", ["L1", "L2", "L3", "N", "PE"])]),
  kind(
    "button",
    "S",
    [
      part("11-12", "push_nc", ["11", "12"], { param: "contacts", values: ["NC", "both"] }),
      part("13-14", "push_no", ["13", "14"], { param: "contacts", values: ["NO", "both"] }),
    ],
    [
      {
        name: "contacts",
        title: "Contacts",
        type: "choice",
        unit: "",
        default: "NO",
        minimum: null,
        maximum: null,
        choices: ["NO", "NC", "both"],
        titles: {},
        help: "",
        designation: false,
        set_on_site: false,
        driven: false,
      },
      {
        name: "force_n",
        title: "Force",
        type: "number",
        unit: "N",
        default: 5,
        minimum: 1,
        maximum: 50,
        choices: [],
        titles: {},
        help: "",
        designation: false,
        set_on_site: false,
        driven: false,
      },
    ],
    "hand",
  ),
  kind("lamp", "H", [part("lamp", "lamp", ["X1", "X2"])]),
  kind("relay", "K", [
    part("coil", "coil", ["A1", "A2"]),
    part("13-14", "contact_no", ["13", "14"]),
    part("21-22", "contact_nc", ["21", "22"]),
  ]),
  kind(
    "contactor",
    "C",
    [
      part("coil", "coil", ["A1", "A2"]),
      part("poles", "contactor_3", ["1", "2", "3", "4", "5", "6"]),
      part("13-14", "contact_no", ["13", "14"]),
      part("21-22", "contact_nc", ["21", "22"]),
      part("53-54", "contact_no", ["53", "54"], { param: "block", values: ["small", "large"] }),
      part("61-62", "contact_nc", ["61", "62"], { param: "block", values: ["large"] }),
    ],
    [
      {
        name: "block",
        title: "Block",
        type: "choice",
        unit: "",
        default: "none",
        minimum: null,
        maximum: null,
        choices: ["none", "small", "large"],
        titles: {},
        help: "",
        designation: false,
        set_on_site: false,
        driven: false,
      },
    ],
  ),
  kind("changer", "X", [
    part("coil", "coil", ["A1", "A2"]),
    part("11-12-14", "changeover", ["11", "12", "14"]),
  ]),
  kind("motor", "M", [part("motor", "motor_3", ["U1", "V1", "W1", "PE"])]),
  kind(
    "lock",
    "L",
    [part("lock", "mechanical_interlock", [])],
    [
      {
        name: "first",
        title: "First",
        type: "text",
        unit: "",
        default: "C1",
        minimum: null,
        maximum: null,
        choices: [],
        titles: {},
        help: "",
        designation: true,
        set_on_site: false,
        driven: false,
      },
    ],
  ),
]);

export const end = (text: string): End => {
  const [device = "", terminal = ""] = text.split(":");
  return { device, terminal };
};

export const empty: Circuit = {
  format: "wiretrace/circuit",
  version: 5,
  title: "test",
  convention: "iec",
  devices: [],
  conductors: [],
  strays: [],
  set_aside: [],
  description: [],
  sheets: [
    { id: "one", title: "One", kind: "control", convention: "iec", symbols: [], routes: {} },
    { id: "two", title: "Two", kind: "power", convention: "iec", symbols: [], routes: {} },
  ],
};

export const edited = (circuit: Circuit, ...edits: Edit[]): Circuit =>
  edits.reduce((now, edit) => applyEdit(now, edit, catalogue), circuit);

export const put = (kindName: string, partName: string, x: number, y: number, sheet = "one"): Edit => ({
  type: "place",
  kind: kindName,
  part: partName,
  sheet,
  at: { x, y },
});

/** Supply, start button and lamp in a row: L1 - S1 - H1 - N. */
export const row: Circuit = edited(
  empty,
  put("supply", "supply", 4, 2),
  put("button", "13-14", 10, 8),
  put("lamp", "lamp", 10, 18),
  { type: "join", a: end("g-1:L1"), b: end("s-1:13") },
  { type: "join", a: end("s-1:14"), b: end("h-1:X1") },
  { type: "join", a: end("h-1:X2"), b: end("g-1:N") },
);

/** A relay with its coil and one contact on one sheet, and another contact on the other. */
export const relay: Circuit = edited(
  empty,
  put("relay", "coil", 10, 20),
  { type: "placePart", device: "k-1", part: "13-14", sheet: "one", at: { x: 24, y: 6 } },
  { type: "placePart", device: "k-1", part: "21-22", sheet: "two", at: { x: 4, y: 6 } },
);

export const wires = (circuit: Circuit): string[] =>
  circuit.conductors.map(({ a, b }) => `${a.device}:${a.terminal} ${b.device}:${b.terminal}`);
