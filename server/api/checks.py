"""/api/check: the rules of the trade, applied to a circuit."""

from apiflask import APIBlueprint

from server.api.bodies import CheckedCircuit
from wiretrace.checks.check import check
from wiretrace.checks.finding import Outcome
from wiretrace.circuit.document import Frozen

blueprint = APIBlueprint("checks", __name__, url_prefix="/api/check")


class FindingData(Frozen):
    """`key` names the finding within its rule: a note that sets it aside refers to both."""

    key: str
    message: str
    why: str
    device: str | None
    terminal: str | None
    conductor: str | None


class ResultData(Frozen):
    rule: str
    title: str
    outcome: Outcome
    findings: tuple[FindingData, ...]
    reason: str


class CheckRequest(Frozen):
    circuit: CheckedCircuit


class CheckAnswer(Frozen):
    results: tuple[ResultData, ...]


@blueprint.post("")
@blueprint.input(CheckRequest, arg_name="body")
@blueprint.output(CheckAnswer)
def check_circuit(body: CheckRequest) -> CheckAnswer:
    """What every rule says: found, clear, cannot tell, or nothing of the kind here."""
    return CheckAnswer(
        results=tuple(
            ResultData(
                rule=result.rule,
                title=result.title,
                outcome=result.outcome,
                reason=result.reason,
                findings=tuple(
                    FindingData(
                        key=f.key,
                        message=f.message,
                        why=f.why,
                        device=f.device,
                        terminal=f.terminal,
                        conductor=f.conductor,
                    )
                    for f in result.findings
                ),
            )
            for result in check(body.circuit)
        )
    )
