"""What an exercise came to: its mark by the rule, or by weights of its own, and its review as people read it."""

from collections.abc import Sequence

from server.subjects.exercises.bodies import Changed, KeptReview, Reason, Review
from server.subjects.exercises.exercise import Exercise
from wiretrace.training.exercise.marks import RULE, Done, Mark, mark, reason_why, reason_words, weights_of
from wiretrace.training.exercise.record import Entry
from wiretrace.training.exercise.review import BestStep, StepReview


def as_read(exercise: Exercise, kept: KeptReview) -> Review:
    """A review as people read it."""
    reasons = tuple(Reason(words=reason_words(one), why=reason_why(one), points=one.points) for one in kept.reasons)
    changed = tuple(
        Changed(title=RULE[code].title, points=points, usual=RULE[code].points)
        for code, points in weights_of(exercise.kept.weights).items()
    )
    return Review(
        steps=kept.steps,
        best=kept.best,
        none_needed=kept.none_needed,
        points=kept.points,
        reasons=reasons,
        took_s=kept.took_s,
        changed=changed,
    )


def marked_by_rule(exercise: Exercise, steps: Sequence[tuple[Entry, StepReview]], best: Sequence[BestStep]) -> Mark:
    """The mark, from the record with what each step told, beside a best path."""
    entries = exercise.entries
    last = max((entry.number for entry in entries if entry.kind == "answer" and entry.right), default=-1)
    # Only of one fault that is there all the time is it known what still fitted.
    single = len(exercise.hidden) == 1 and not exercise.hidden[0].slot_us
    before = [step.after for entry, step in steps if entry.number < last]
    return mark(
        Done(
            found=exercise.mended,
            proved=any(entry.kind == "proof" and entry.right and entry.number > last for entry in entries),
            steps=[step for _, step in steps],
            bound=len(best) or None,
            risks=[risk for entry in entries for risk in entry.risks],
            hints=sum(entry.kind == "hint" for entry in entries),
            sound_parts=sum(entry.kind == "answer" and not entry.right for entry in entries),
            named_at=before[-1] if single and before else None,
            best_leaves=best[-1].after if best else 1,
        ),
        weights_of(exercise.kept.weights),
    )
