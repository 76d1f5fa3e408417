"""Lines of the sheet for the contactors."""

from collections.abc import Iterator

from wiretrace.sizing.line import Factor, Line, product
from wiretrace.sizing.protection import full_load, rated
from wiretrace.sizing.schools import QUESTIONS
from wiretrace.sizing.sheet import Sheet
from wiretrace.sizing.starting import Switch


def contactor_lines(sheet: Sheet) -> Iterator[Line]:
    """The contactors of the starter with their category, each by the current that it carries."""
    for switch in sheet.way.contactors:
        yield from _contactor(sheet, switch)


def _contactor(sheet: Sheet, switch: Switch) -> Iterator[Line]:
    key, title, share = switch.key, switch.title, switch.share(sheet.plate)
    others_shares = sorted({other.share(sheet.plate) for other in sheet.way.contactors} - {share})
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
        wrong = tuple(("the share of another contactor was taken", other) for other in others_shares)
        factors.append(Factor(f"the {switch.told} of this contactor", share, 1, wrong))
    wanted = product(
        f"{key}_wanted",
        "Contactor",
        f"{title}, before the next size",
        "I = multiple × share × I",
        "A",
        factors,
        choice=QUESTIONS["contactor_multiple"].rules[rule].reason,
        source="NEMA ICS 2" if sheet.american else f"IEC 60947-4-1, {switch.category}",
    )
    yield wanted
    yield rated(
        key, "Contactor", f"{title}, next standard size", sheet, "contactors", wanted, (_says(sheet, switch), "")
    )


def _says(sheet: Sheet, switch: Switch) -> str:
    """What a contactor is chosen by, in words."""
    if not sheet.american:
        short = switch.category.partition(":")[0]
        return f"{short}; AC-4 for inching and plugging, which asks for more." if short == "AC-3" else f"{short}."
    size = sheet.contactor_size if sheet.way.across_the_line else None
    return "By the motor current of NEMA sizes." if size is None else f"NEMA size {size}, by horsepower."
