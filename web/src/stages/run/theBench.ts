import { Bench } from "../../bench/bench";

/** The bench of the circuit that is open; it runs on while another stage is looked at. */
export const bench = new Bench();
