import { Button, Text } from "@chakra-ui/react";
import { askReview, close, closeNumber, isTold, useExercise } from "./exercise";
import { minutes } from "./Panel";
import { Thinking } from "./Tools";

/** How well it was found: what was hidden, the mark with its reasons, and a best path beside one's own. */
export function ReviewPane() {
  const open = useExercise((state) => state.open);
  const review = useExercise((state) => state.review);
  const progress = useExercise((state) => state.progress);
  const problem = useExercise((state) => state.problem);
  if (!open) return null;
  if (!isTold(open)) return <Untold number={open.number} />;
  return (
    <section className="exercise-review" aria-label="Review">
      <h2>What was hidden</h2>
      <ul>
        {open.hidden.map((words) => (
          <li key={words}>{words}</li>
        ))}
      </ul>
      {!review && <Thinking progress={progress ?? { done: 0, all: 1 }} />}
      {problem && !review && (
        <Button size="sm" variant="outline" onClick={() => void askReview()}>
          Try again
        </Button>
      )}
      {review && (
        <>
          <h2>Mark</h2>
          <p className="points">
            <strong data-testid="points">{review.points}</strong> of 100, in {minutes(review.took_s)}
          </p>
          <ul aria-label="Reasons">
            {review.reasons.map(({ words, why, points }) => (
              <li key={words}>
                {words} <span>−{points}</span>
                {why && <small>{why}</small>}
              </li>
            ))}
            {review.reasons.length === 0 && <li>No findings.</li>}
          </ul>
          {review.changed.length > 0 && (
            <p className="own-weights" role="note">
              Marked otherwise than usual:{" "}
              {review.changed
                .map(({ title, points, usual }) => `${title.toLowerCase()} ${points} in place of ${usual}`)
                .join(", ")}
              .
            </p>
          )}
          <h2>A best path, from where the first reading was taken</h2>
          {review.best.length ? (
            <ol aria-label="Best path">
              {review.best.map((step) => (
                <li key={step.words}>
                  {step.first && <em>{step.first} </em>}
                  {step.words}: {step.shows}.{" "}
                  <span>
                    {step.before} → {step.after}
                  </span>
                </li>
              ))}
            </ol>
          ) : (
            <Text fontSize="line">
              {review.none_needed
                ? "No reading was needed: what had been seen by then told as much as any reading could."
                : "None can be told: nothing was read, or no single known fault was hidden."}
            </Text>
          )}
          <Text fontSize="note" color="var(--soft)">
            The number of a step in the record marks on the sheet what was still possible after it.
          </Text>
        </>
      )}
      <Button size="sm" variant="outline" onClick={() => void close()}>
        Another exercise
      </Button>
    </section>
  );
}

/** Under a number others may still look for the same: nothing of it is told until the instructor closes it. */
function Untold({ number }: { number: number | null }) {
  const busy = useExercise((state) => state.busy);
  return (
    <section className="exercise-review" aria-label="Review">
      <h2>Ended</h2>
      <Text fontSize="line">
        What was hidden, and the mark, are told when number {number} is closed. After that nobody can begin
        under it any more.
      </Text>
      <Button size="sm" colorPalette="accent" loading={busy} onClick={() => void closeNumber()}>
        Close number {number}
      </Button>
      <Button size="sm" variant="outline" onClick={() => void close()}>
        Another exercise
      </Button>
    </section>
  );
}
