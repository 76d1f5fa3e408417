import { useQuery } from "@tanstack/react-query";
import { useMemo, useState } from "react";
import { Link } from "react-router";
import { api, asProblem } from "../../api/client";
import type { JobLine } from "../../circuit/types";
import { ProblemNotice } from "../../common/Notice";
import { HomeShell } from "../home/HomeShell";
import { JobCard } from "./JobCard";
import { NewJob } from "./NewJob";
import { SignOut } from "./SignOut";

const BY_WORDS = new Intl.Collator();
const ORDERS = {
  newest: ["Newest first", (a: JobLine, b: JobLine) => (a.updated_at < b.updated_at ? 1 : -1)],
  title: ["By title", (a: JobLine, b: JobLine) => BY_WORDS.compare(a.title, b.title)],
  place: [
    "By place",
    (a: JobLine, b: JobLine) => BY_WORDS.compare(a.place, b.place) || BY_WORDS.compare(a.title, b.title),
  ],
} as const;
type Order = keyof typeof ORDERS;

/** Jobs that are shown at once; more on demand. */
const FIRST_FEW = 36;

/** The list of jobs: one motor circuit each. */
export function JobsPage() {
  const jobs = useQuery({ queryKey: ["jobs"], queryFn: api.jobs });
  const [words, setWords] = useState("");
  const [order, setOrder] = useState<Order>("newest");
  const [all, setAll] = useState(false);
  const found = useMemo(() => {
    const asked = words.toLocaleLowerCase().split(/\s+/).filter(Boolean);
    const fits = (job: JobLine): boolean => {
      const text = `${job.title} ${job.place}`.toLocaleLowerCase();
      return asked.every((word) => text.includes(word));
    };
    return (jobs.data?.jobs ?? []).filter(fits).sort(ORDERS[order][1]);
  }, [jobs.data, words, order]);
  const shown = all ? found : found.slice(0, FIRST_FEW);
  return (
    <HomeShell title="Jobs" lead="One motor circuit each. Open one to run it, measure it and change it.">
      <NewJob />
      {jobs.error && <ProblemNotice problem={asProblem(jobs.error)} onRetry={() => void jobs.refetch()} />}
      {jobs.data?.jobs.length === 0 && (
        <p className="home-none">No jobs yet. Begin one above, or look at a circuit of the library.</p>
      )}
      {(jobs.data?.jobs.length ?? 0) > 0 && (
        <div className="home-tools" role="search">
          <input
            type="search"
            aria-label="Search jobs"
            placeholder="Title or place"
            value={words}
            onChange={(event) => setWords(event.target.value)}
          />
          <select
            aria-label="Order"
            value={order}
            onChange={(event) => setOrder(event.target.value as Order)}
          >
            {Object.entries(ORDERS).map(([name, [title]]) => (
              <option key={name} value={name}>
                {title}
              </option>
            ))}
          </select>
        </div>
      )}
      {words && found.length === 0 && (
        <p className="home-none" role="status">
          No job has “{words}” in its title or place. Fewer words, or a part of one, find more.
        </p>
      )}
      <ul className="cards" aria-label="Jobs">
        {shown.map((job) => (
          <JobCard key={job.id} job={job} />
        ))}
      </ul>
      {shown.length < found.length && (
        <button type="button" className="more" onClick={() => setAll(true)}>
          Show all {found.length}
        </button>
      )}
      <p className="home-none">
        <Link to="/first">The first minute again</Link>
      </p>
      <SignOut />
    </HomeShell>
  );
}
