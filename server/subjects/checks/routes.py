"""/api/check: the rules of the trade, applied to a circuit."""

from collections.abc import Iterable
from typing import Annotated, Final

from apiflask import APIBlueprint
from pydantic import Field

from server.bodies import CheckedCircuit
from server.connection import connection
from server.subjects.sizing.store import read_sizing
from wiretrace.catalogue.machinery.purpose import CommandRole
from wiretrace.checks.check import check, played
from wiretrace.checks.facts import Facts
from wiretrace.checks.finding import Move, NothingToCheck, Outcome, Result
from wiretrace.checks.intent.judging import LineOutcome, judged
from wiretrace.checks.intent.proposing import proposed
from wiretrace.checks.playing.diagram import state_diagram
from wiretrace.checks.playing.difference import does_otherwise
from wiretrace.checks.playing.roles import proposals
from wiretrace.document.circuit import Circuit, Frozen
from wiretrace.errors import WiretraceError
from wiretrace.sizing.carry import carried
from wiretrace.sizing.report import kept_sizing, sheet_of
from wiretrace.work import bounded_anew

WORKED_S: Final = 6.0
"""Seconds of computing that a circuit may take to be worked whole: the largest of the library takes two."""

blueprint = APIBlueprint("checks", __name__, url_prefix="/api/check")


class MoveData(Frozen):
    """One thing that a hand does, as a run takes it."""

    at_us: int
    device: str
    operation: str
    value: bool


class FindingData(Frozen):
    """`key` names the finding within its rule: a note that sets it aside refers to both."""

    key: str
    message: str
    why: str
    device: str | None
    terminal: str | None
    conductor: str | None
    moves: tuple[MoveData, ...]
    """What a hand does to see it, from the circuit just put under power."""
    seen_us: int
    """When it is seen then."""
    drawing: bool
    """Is it about what is still being drawn, so that the next wire may settle it?"""


class ResultData(Frozen):
    rule: str
    title: str
    outcome: Outcome
    findings: tuple[FindingData, ...]
    reason: str
    over: str
    """Over how much it was looked at, of a rule that is clear and for which the circuit was worked; else empty."""


class CheckRequest(Frozen):
    """With a job, also what its sizing says otherwise."""

    circuit: CheckedCircuit
    job: Annotated[int, Field(ge=1, le=2**31 - 1)] | None = None


class PlayedRequest(Frozen):
    circuit: CheckedCircuit


class CheckAnswer(Frozen):
    results: tuple[ResultData, ...]


class DescribedLine(Frozen):
    """A line of the operating description: how it turned out, why, and the moves that show where it is broken."""

    text: str
    outcome: LineOutcome
    reason: str
    moves: tuple[MoveData, ...]
    seen_us: int


class RoleData(Frozen):
    """What a button is there for by what it does, where the drawing does not say, and the parameters that say it."""

    device: str
    role: CommandRole
    words: str
    params: dict[str, bool | int | float | str]


class PlayedAnswer(Frozen):
    """`proposed` are lines of an operating description that hold; `lines` how those that were written stand."""

    results: tuple[ResultData, ...]
    lines: tuple[DescribedLine, ...]
    proposed: tuple[str, ...]
    roles: tuple[RoleData, ...]


class DifferenceRequest(Frozen):
    before: CheckedCircuit
    after: CheckedCircuit


class DifferenceAnswer(Frozen):
    """What is done otherwise, in words, and what was not looked at."""

    lines: tuple[str, ...]
    reason: str


class MachineStateData(Frozen):
    """A state of the machine: what stands in its box, where it stands in the diagram, and the moves that lead there."""

    number: int
    lines: tuple[str, ...]
    active: bool
    tripped: bool
    trap: bool
    """Does nothing but a trip, or the loss of a supply, lead out of it?"""
    column: int
    row: int
    moves: tuple[MoveData, ...]
    seen_us: int


class ArrowData(Frozen):
    """What leads from one state to another: each of these moves does, or time alone."""

    of: int
    to: int
    words: tuple[str, ...]
    by_itself: bool


class DiagramAnswer(Frozen):
    """Empty for a circuit without any coil. `left_out` where there are more states than were played."""

    states: tuple[MachineStateData, ...]
    arrows: tuple[ArrowData, ...]
    left_out: bool
    over: str


@blueprint.post("")
@blueprint.input(CheckRequest, arg_name="body")
@blueprint.output(CheckAnswer)
def check_circuit(body: CheckRequest) -> CheckAnswer:
    """What every rule says: found, clear, cannot tell, or nothing of the kind here."""
    return CheckAnswer(
        results=(*_told(check(body.circuit)), *(_sized(body.circuit, body.job) if body.job is not None else ())),
    )


@blueprint.post("/played")
@blueprint.input(PlayedRequest, arg_name="body")
@blueprint.output(PlayedAnswer)
def check_by_working(body: PlayedRequest) -> PlayedAnswer:
    """What the rules say for which the circuit is worked: every command from every state that commands lead to."""
    facts = Facts(body.circuit)
    with bounded_anew(WORKED_S):
        results = played(facts)
        try:
            lines, more, roles = judged(facts, body.circuit.description), proposed(facts), proposals(facts)
        except (NothingToCheck, WiretraceError):
            # The rules have said why: there is no coil, or it cannot be worked.
            lines, more, roles = (), (), ()
    return PlayedAnswer(
        results=_told(results),
        lines=tuple(
            DescribedLine(
                text=one.text,
                outcome=one.outcome,
                reason=one.reason,
                moves=_moves(one.moves),
                seen_us=one.seen_us,
            )
            for one in lines
        ),
        proposed=more,
        roles=tuple(RoleData(**{**vars(one), "params": dict(one.params)}) for one in roles),
    )


@blueprint.post("/difference")
@blueprint.input(DifferenceRequest, arg_name="body")
@blueprint.output(DifferenceAnswer)
def difference_in_work(body: DifferenceRequest) -> DifferenceAnswer:
    """What the one circuit does otherwise than the other when both are worked."""
    with bounded_anew(WORKED_S):
        return DifferenceAnswer(**vars(does_otherwise(Facts(body.before), Facts(body.after))))


@blueprint.post("/diagram")
@blueprint.input(PlayedRequest, arg_name="body")
@blueprint.output(DiagramAnswer)
def diagram_of_states(body: PlayedRequest) -> DiagramAnswer:
    """What the machine can be, and what takes it from one to the other."""
    try:
        with bounded_anew(WORKED_S):
            found = state_diagram(Facts(body.circuit))
    except NothingToCheck:
        return DiagramAnswer(states=(), arrows=(), left_out=False, over="")
    return DiagramAnswer(
        states=tuple(MachineStateData(**{**vars(one), "moves": _moves(one.moves)}) for one in found.states),
        arrows=tuple(ArrowData(**vars(one)) for one in found.arrows),
        left_out=found.left_out,
        over=found.over,
    )


def _moves(moves: Iterable[Move]) -> tuple[MoveData, ...]:
    return tuple(MoveData(at_us=m.at_us, device=m.device, operation=m.operation, value=m.value) for m in moves)


def _told(results: Iterable[Result]) -> tuple[ResultData, ...]:
    return tuple(
        ResultData(
            rule=result.rule,
            title=result.title,
            outcome=result.outcome,
            reason=result.reason,
            over=result.over,
            findings=tuple(
                FindingData(
                    key=f.key,
                    message=f.message,
                    why=f.why,
                    device=f.device,
                    terminal=f.terminal,
                    conductor=f.conductor,
                    seen_us=f.seen_us,
                    drawing=f.drawing,
                    moves=_moves(f.moves),
                )
                for f in result.findings
            ),
        )
        for result in results
    )


def _sized(circuit: Circuit, job: int) -> tuple[ResultData, ...]:
    """Where the circuit is not as the job was sized; nothing where nobody has sized it."""
    _, _, kept = read_sizing(connection(), job)
    sheet = None if kept is None else sheet_of(kept_sizing(kept))[0]
    if sheet is None:
        return ()
    findings = tuple(
        FindingData(
            key=f"{one.device or one.conductor}/{one.name}",
            message=f"{one.words}.",
            why="The sizing of this job says otherwise: change the one or the other.",
            device=one.device,
            terminal=None,
            conductor=one.conductor,
            moves=(),
            seen_us=0,
            drawing=False,
        )
        for one in carried(sheet, circuit).proposals
        if not one.larger
    )
    outcome = Outcome.FOUND if findings else Outcome.CLEAR
    return (ResultData(rule="sizing", title="As it was sized", outcome=outcome, findings=findings, reason="", over=""),)
