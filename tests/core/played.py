"""The library, each circuit taken through its operating sequence once in a session."""

from functools import cache

from wiretrace.library import library_circuit, library_sequence
from wiretrace.sequences.sequence import Taken, take_steps


@cache
def played(name: str) -> tuple[Taken, ...]:
    return tuple(take_steps(library_circuit(name), library_sequence(name)))
