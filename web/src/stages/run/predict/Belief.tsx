import { useQuery } from "@tanstack/react-query";
import { api } from "../../../api/client";
import type { Schemas } from "../../../api/types";
import type { SheetBody } from "./sheetBody";

type Believed = Schemas["Believed"];

/** The misconception that explains what was written in the states that were compared, if one does. */
export function useBelief(job: number, sheet: SheetBody, attempt: Schemas["AttemptBody"]) {
  const compared = Object.keys(attempt.marks).length;
  return useQuery({
    queryKey: ["belief", job, sheet.id, attempt.id, compared],
    queryFn: () => api.belief(job, sheet.id, attempt.id),
    enabled: compared > 0,
    gcTime: 0,
    staleTime: Number.POSITIVE_INFINITY,
  });
}

/** What explains the answers: one misconception, or two with what would tell them apart. */
export function Belief({ believed, sheet }: { believed: Believed | undefined; sheet: SheetBody }) {
  if (!believed || believed.named.length === 0) return null;
  const { named, apart } = believed;
  return (
    <section className="predict-belief" aria-label="What explains these answers">
      <strong>
        {named.length === 1 ? "One thing explains these answers" : "One of two things explains these answers"}
      </strong>
      {named.map((one) => (
        <p key={one.name}>
          <b>
            {one.title}
            {one.about && ` (${one.about})`}.
          </b>{" "}
          {one.right}
        </p>
      ))}
      {apart && (
        <p>
          Meter {apart[1]} in state {apart[0] + 1}, {sheet.sheet.states[apart[0]]?.title}, tells which.
        </p>
      )}
    </section>
  );
}
