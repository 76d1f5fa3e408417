"""What an exercise hides: drawn by chance, or under a number the same for all; by what a person has met before."""

import hmac
import secrets
from collections.abc import Sequence

from server.connection import connection
from server.person import me
from server.subjects.exercises import store
from server.subjects.exercises.exercise import kept_faults
from wiretrace.diagnosis.procedure import Halt
from wiretrace.faults.fault import Fault, Sort
from wiretrace.simulation.assembly import Assembly
from wiretrace.training.exercise.hidden import draw


def drawn(
    sound: Assembly, halts: Sequence[Halt], ref: str, number: int | None, sorts: Sequence[Sort]
) -> tuple[Fault, ...]:
    """The faults to be hidden in a circuit whose likeness is `ref`. Raises UnknownTarget where none shows anything."""
    return draw(sound, halts, _seed(ref, number, sorts), sorts, _met(ref, number))


def _met(ref: str, number: int | None) -> tuple[Fault, ...]:
    """What this person has found in the circuit before; under a number, which gives all the same, nothing."""
    if number is not None:
        return ()
    return tuple(one for kept in store.ended_faults(connection(), me(), ref) for one in kept_faults(kept))


def _seed(ref: str, number: int | None, sorts: Sequence[Sort]) -> int:
    """What faults are drawn from: by chance; or, under a number, the same for all, which nobody can work out."""
    if number is None:
        return secrets.randbelow(1 << 62)
    asked = f"{ref} {number} {' '.join(sorts)}"
    digest = hmac.digest(store.draw_secret(connection()).encode(), asked.encode(), "sha256")
    return int.from_bytes(digest[:8])
