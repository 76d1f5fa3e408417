import { useEffect, useMemo } from "react";
import { api, asProblem } from "../api/client";
import type { CheckResult, Circuit, Finding, Played } from "../circuit/types";
import { storePerJob } from "../common/session";
import { useDocument } from "../job/document";

/** What the rules say of the circuit as it was a moment ago. */
interface Checks {
  readonly results: readonly CheckResult[];
  /** What was found by working the circuit, and of how it was drawn; null until it was worked first. */
  readonly played: Played | null;
  /** Is that of a drawing that has been changed since? */
  readonly late: boolean;
  /** Why the circuit cannot be checked at all. */
  readonly problem: string | null;
}

export const useCheckResults = storePerJob<Checks>(() => ({
  results: [],
  played: null,
  late: false,
  problem: null,
}));

/** Edits that follow each other within this time are checked once. */
const AFTER_MS = 40;

/** Working a circuit takes longer than looking at it, and waits until the hands rest. */
const PLAYED_AFTER_MS = 600;

/** Keep the results up to date with the circuit, quietly. */
export function useChecks(circuit: Circuit): void {
  useEffect(() => {
    let current = true;
    const results = useCheckResults.here();
    const timer = setTimeout(() => {
      api
        .check(circuit, useDocument.getState().job?.id ?? null)
        .then(({ results: found }) => current && results.setState({ results: found, problem: null }))
        .catch((error: unknown) => {
          const problem = asProblem(error);
          // Without a server the last results stand; they come anew with the next edit that gets through.
          if (current && !problem.passing) results.setState({ results: [], problem: problem.detail });
        });
    }, AFTER_MS);
    results.setState({ late: true });
    const later = setTimeout(() => {
      api
        .checkByPlaying(circuit)
        .then((played) => current && results.setState({ played, late: false }))
        .catch((error: unknown) => {
          const problem = asProblem(error);
          if (current && !problem.passing)
            results.setState({ played: unworked(problem.detail), late: false });
        });
    }, PLAYED_AFTER_MS);
    return () => {
      current = false;
      clearTimeout(timer);
      clearTimeout(later);
    };
  }, [circuit]);
}

export interface Found {
  readonly rule: string;
  readonly title: string;
  readonly finding: Finding;
  /** The note with which it was set aside; undefined when it was not. */
  readonly note: string | undefined;
}

const unworked = (reason: string): Played => ({
  lines: [],
  proposed: [],
  roles: [],
  results: [
    {
      rule: "played",
      title: "What it does when it is worked",
      outcome: "cannot tell",
      findings: [],
      reason,
      over: "",
    },
  ],
});

/** What all rules say, those for which the circuit is worked first: they are about what it does. */
export function useAllResults(): readonly CheckResult[] {
  const { results, played } = useCheckResults();
  return useMemo(() => [...(played?.results ?? []), ...results], [results, played]);
}

/** All findings with their notes, those that are open first. */
export function foundIn(results: readonly CheckResult[], setAside: Circuit["set_aside"]): Found[] {
  const notes = new Map(setAside.map(({ rule, key, note }) => [`${rule} ${key}`, note]));
  const all = results.flatMap(({ rule, title, findings }) =>
    findings.map((finding) => ({ rule, title, finding, note: notes.get(`${rule} ${finding.key}`) })),
  );
  return [...all.filter((f) => f.note === undefined), ...all.filter((f) => f.note !== undefined)];
}

/** Is it about what is still being drawn? It is told, and accuses nobody. */
export const isDrawn = ({ finding, note }: Found): boolean => finding.drawing && note === undefined;

/** Rules that met something they cannot judge, whatever else they found. */
export const unclear = (results: readonly CheckResult[]): readonly CheckResult[] =>
  results.filter(({ reason }) => reason !== "");

/** What cannot be judged, the rules that say so for one reason together. */
export function reasons(
  results: readonly CheckResult[],
): readonly { reason: string; rules: CheckResult[] }[] {
  const byReason = new Map<string, CheckResult[]>();
  for (const result of unclear(results))
    byReason.set(result.reason, [...(byReason.get(result.reason) ?? []), result]);
  return [...byReason].map(([reason, rules]) => ({ reason, rules }));
}

/** One line on how the check stands. */
export function summary(results: readonly CheckResult[], setAside: Circuit["set_aside"]): string {
  const found = foundIn(results, setAside);
  const aside = found.filter((f) => f.note !== undefined).length;
  const drawn = found.filter(isDrawn).length;
  const open = found.length - aside - drawn;
  const clear = results.filter(({ outcome }) => outcome === "clear").length;
  const not = unclear(results).length;
  const parts = [`${open} found`, `${clear} clear`];
  if (drawn > 0) parts.push(`${drawn} still being drawn`);
  if (aside > 0) parts.push(`${aside} set aside`);
  if (not > 0) parts.push(`${not} that cannot be told`);
  return parts.join(", ");
}

/** Devices with an open finding, to be marked on the sheet. */
export function markedDevices(found: readonly Found[]): Set<string> {
  return new Set(
    found.flatMap((one) =>
      one.note === undefined && one.finding.device && !isDrawn(one) ? [one.finding.device] : [],
    ),
  );
}
