import { Bench } from "../../bench/bench";
import { perJob } from "../../common/session";

/** The bench of the circuit that is open; it runs on while another stage is looked at. */
export const theBench = perJob(() => new Bench());
