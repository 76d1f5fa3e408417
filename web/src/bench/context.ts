import { createContext, useContext } from "react";
import { Bench } from "./bench";
import { currentFrame } from "./state";

/** The bench that a part of the page is about. */
const Here = createContext(new Bench());

export const BenchProvider = Here.Provider;
export const useTheBench = (): Bench => useContext(Here);
/** Something of the state of the bench here. */
export const useBench = <T>(of: (state: ReturnType<Bench["use"]["getState"]>) => T): T =>
  useTheBench().use(of);
export const useFrame = () => useBench(currentFrame);
