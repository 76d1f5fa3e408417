"""wiretrace size: the sheet from the shell."""

from collections.abc import Iterator

from wiretrace.document.circuit import Circuit
from wiretrace.sizing.carry import carried
from wiretrace.sizing.report import SizingAnswer, SizingData, answer, sheet_of


def size_json(data: SizingData) -> str:
    """All that is told of a sizing, as JSON."""
    return answer(data).model_dump_json(indent=2)


def size_text(data: SizingData, circuit: Circuit | None) -> str:
    """The sheet as text, and what a circuit says otherwise."""
    return "\n".join((*_told(answer(data)), *_otherwise(data, circuit)))


def _told(found: SizingAnswer) -> Iterator[str]:
    for trouble in found.troubles:
        yield f"{'error' if trouble.error else 'note'}: {trouble.field}: {trouble.message}"
    for name, value in found.estimates.items():
        yield f"estimated: {name}: {value}"
    group = ""
    for line in found.lines:
        if line.group != group:
            group = line.group
            yield f"\n{group}"
        put_in = f" = {line.put_in}" if line.put_in else ""
        yield f"  {line.title}: {line.formula}{put_in} = {line.shown} {line.unit}".rstrip()
        if line.choice:
            yield f"    {line.choice}"
        if line.warning:
            yield f"    ! {line.warning}"
        if line.verdict:
            yield f"    your figure: {line.verdict.says} {line.verdict.cost}".rstrip()
    yield f"\n{found.caution}"


def _otherwise(data: SizingData, circuit: Circuit | None) -> Iterator[str]:
    sheet, _ = sheet_of(data)
    if circuit is None or sheet is None:
        return
    yield "\nThe circuit says otherwise"
    found = carried(sheet, circuit)
    yield from (f"  {words}" for words in (*(one.words for one in found.proposals), *found.left_out))
