"""Which program this is: the hash of the code and data that results are worked out by.

What is kept of results is named by it too, so that another release never takes one for its own.
"""

import hashlib
from collections import Counter
from collections.abc import Iterable
from functools import cache
from pathlib import Path
from typing import Final

import numpy
import scipy

import wiretrace

_ROOTS: Final = (Path(wiretrace.__file__).parent, Path(__file__).parent)


@cache
def release() -> str:
    """The same as long as nothing of core, server and the libraries that count for it has changed."""
    digest = hashlib.sha256(f"{numpy.__version__} {scipy.__version__}".encode())
    for root in _ROOTS:
        for path in sorted(root.rglob("*")):
            if path.suffix in (".py", ".csv", ".json"):
                digest.update(f"{path.relative_to(root)}\0".encode() + path.read_bytes())
    return digest.hexdigest()


def names_of(texts: Iterable[str]) -> tuple[str, ...]:
    """A name for each; those that are the same are told apart by which of them they are."""
    seen: Counter[str] = Counter()
    names = []
    for text in texts:
        names.append(named(text, str(seen[text])))
        seen[text] += 1
    return tuple(names)


def named(*parts: str) -> str:
    """The name of what these parts and this release make."""
    return hashlib.sha256("\0".join((release(), *parts)).encode()).hexdigest()
