"""Lines of the sheet for the contactors."""

from collections.abc import Iterator

from wiretrace.sizing.line import Factor, Line, product
from wiretrace.sizing.protection import full_load, rated
from wiretrace.sizing.schools import QUESTIONS
from wiretrace.sizing.sheet import DELTA_SHARE, STAR_LINE, Sheet


def contactor_lines(sheet: Sheet) -> Iterator[Line]:
    """The contactors with their category; for star-delta each with its own current."""
    if not sheet.plate.star_delta:
        yield from _contactor(sheet, "contactor_line", "Contactor", 1.0, "1")
        return
    yield from _contactor(sheet, "contactor_line", "Line contactor", DELTA_SHARE, "1/√3")
    yield from _contactor(sheet, "contactor_delta", "Delta contactor", DELTA_SHARE, "1/√3")
    yield from _contactor(sheet, "contactor_star", "Star contactor", STAR_LINE, "1/3")


def _contactor(sheet: Sheet, key: str, title: str, share: float, told: str) -> Iterator[Line]:
    rule = sheet.schools["contactor_multiple"]
    others = tuple(
        (f"“{other.title}” was taken for the multiple", other.value)
        for name, other in QUESTIONS["contactor_multiple"].rules.items()
        if name != rule
    )
    factors = [
        Factor("the multiple", sheet.rule("contactor_multiple"), 1, others),
        full_load(sheet),
    ]
    if share != 1.0:
        wrong = STAR_LINE if share == DELTA_SHARE else DELTA_SHARE
        factors.append(
            Factor(f"the {told} of this contactor", share, 1, (("the share of another contactor was taken", wrong),))
        )
    wanted = product(
        f"{key}_wanted",
        "Contactor",
        f"{title}, before the next size",
        "I = multiple × share × I",
        "A",
        factors,
        choice=QUESTIONS["contactor_multiple"].rules[rule].reason,
        source="NEMA ICS 2" if sheet.american else "IEC 60947-4-1, AC-3: start a cage motor, stop it running",
    )
    yield wanted
    category = "AC-3; AC-4 for inching and plugging, which asks for more."
    if sheet.american:
        size = sheet.contactor_size if share == 1.0 else None
        category = "By the motor current of NEMA sizes." if size is None else f"NEMA size {size}, by horsepower."
    yield rated(key, "Contactor", f"{title}, next standard size", sheet, "contactors", wanted, (category, ""))
