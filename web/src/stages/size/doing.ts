import { useState } from "react";
import { asProblem } from "../../api/client";

type Doing = (work: () => Promise<void>) => Promise<void>;

/** Do something that may fail; what went wrong last is told until something goes well. */
export function useDoing(): readonly [string, Doing] {
  const [problem, setProblem] = useState("");
  const doing: Doing = async (work) => {
    try {
      await work();
      setProblem("");
    } catch (error) {
      setProblem(asProblem(error).detail);
    }
  };
  return [problem, doing];
}
