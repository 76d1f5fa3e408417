"""The changeover contact of relays and timers, marked as IEC 60947-5-1 has it: common, break, make."""

from wiretrace.catalogue.machinery.purpose import Does
from wiretrace.catalogue.machinery.structure import Part, When


def changeover(
    common: str, rests: str, moved: str, *, title: str = "Changeover", timed: bool = False, when: When | None = None
) -> Part:
    """A common and two ways, the first closed at rest; it is drawn to the right of the second."""
    name = f"{common}-{rests}-{moved}"
    return Part(
        name,
        f"{title} {name}",
        "timer_changeover" if timed else "changeover",
        Does.CHANGES_OVER,
        (common, rests, moved),
        (f"{common}-{rests}", f"{common}-{moved}"),
        when,
        right_first=True,
    )
