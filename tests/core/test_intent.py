"""Operating descriptions: lines that are read, judged by working the circuit, and proposed."""

import json
import random

import pytest

from tests.core.circuits import wire, with_params
from tests.core.test_checks import line, rewired, with_more
from tests.core.test_played import by_rule, reversing, shown, stations
from tests.core.test_roles import INTERLOCKS
from wiretrace.checks.facts import Facts
from wiretrace.checks.finding import Outcome
from wiretrace.checks.intent.judging import Judged, LineOutcome, judged
from wiretrace.checks.intent.proposing import proposed
from wiretrace.document.changes import CHANGES, applied, changes
from wiretrace.document.checked import parse_circuit
from wiretrace.document.circuit import Circuit
from wiretrace.document.salvage import salvage
from wiretrace.library import library_circuit, library_names

delta = library_circuit("star-delta-timer-first-closure")
hand_auto = library_circuit("hand-off-auto")
HELD, BROKEN, NEVER, UNREAD = LineOutcome.HELD, LineOutcome.BROKEN, LineOutcome.NEVER_MET, LineOutcome.UNREAD


def judge(made: Circuit, *lines: str) -> list[Judged]:
    return list(judged(Facts(made), lines))


def one(made: Circuit, text: str) -> Judged:
    (found,) = judge(made, text)
    return found


TRUE = [
    (line, "when S1 is pressed, then K1 goes in"),
    (line, "When S1 is pressed then K1 goes in."),
    (line, "when s1 is pressed, k1 is in"),
    (line, "when S1 is pressed and let go, then K1 stays in"),
    (line, "when S1 is let go, then K1 stays in"),
    (line, "when S0 is held, K1 goes out and M1 stops"),
    (line, "when S0 is let go, then K1 stays out"),
    (line, "when F2 trips, then K1 goes out and M1 stands and H3 is lit"),
    (line, "when F2 is reset, then K1 stays out"),
    (line, "when the supply comes, then K1 is out"),
    (line, "when the supply is lost, then K1 goes out"),
    (line, "when the supply returns, then K1 stays out"),
    (line, "while K1 is in, M1 runs and H1 is lit and H2 is dark"),
    (line, "while K1 is not in, H1 is not lit"),
    (line, "never H1 is lit while H2 is lit"),
    (line, "never K1 is in and F2 is tripped"),
    (reversing, "when S1 is pressed, then K1 goes in and K2 goes out"),
    (reversing, "when S1 is pressed, then K1 goes in while K2 is out"),
    (reversing, "never K1 and K2 are in"),
    (reversing, "when S0 is pressed, then K1, K2 go out"),
    (reversing, "when S0 is pressed, then K1 goes out, and H1 is dark"),
    (reversing, "while K2 is in, M1 runs backward"),
    (reversing, "when S0 is pressed, K1 and K2 go out"),
    (delta, "when S1 is pressed while K1 is out, then K1 and K2 go in within 0.5 s"),
    (delta, "when S1 is pressed and let go while K1 is out, then K3 goes in after 4 s"),
    (delta, "when S1 is pressed and let go while K1 is out, then K3 goes in within 5 s"),
    (delta, "when S1 is pressed, then K2 is out"),
    (hand_auto, "when S3 is turned to off, then K1 goes out"),
    (hand_auto, "when B1 is high while S3 is at auto, then K1 goes in"),
    (stations, "when S9 is struck, then K1 goes out"),
    (stations, "when S9 is released, then K1 stays out"),
]


@pytest.mark.parametrize(("made", "text"), TRUE, ids=[text for _, text in TRUE])
def test_a_line_that_is_true_holds(made: Circuit, text: str) -> None:
    found = one(made, text)
    assert (found.outcome, found.moves) == (HELD, ()), found.reason
    assert found.reason.split()[-1] in ("time.", "times.", "state.", "states.")


FALSE = [
    (line, "when S1 is pressed and let go, then K1 goes out", "Hold S1, let go of S1: K1 is in."),
    (line, "when S0 is pressed, then K1 stays in", "Hold S0: K1 is out."),
    (line, "when S0 is pressed while K1 is in, then K1 stays in", "Hold S1, let go of S1, hold S0: K1 is out."),
    (line, "never K1 is in while H1 is lit", "Hold S1: K1 is in."),
    (line, "while K1 is out, H1 is lit", "Under power: H1 is dark."),
    (line, "when the supply comes, then K1 is in", "Under power: K1 is out."),
    (reversing, "while K2 is in, M1 runs forward", "Hold S2: M1 turns backward."),
    (delta, "when S1 is pressed, then K3 goes in within 2 s", "Hold S1, a moment later"),
    (delta, "when S1 is pressed while K1 is out, then K3 goes in after 8 s", "K3 is in."),
    (delta, "when S1 is pressed while K1 is out, then K2 stays in", "K2 is out."),
    (rewired(line, c4_seal=""), "when S1 is pressed and let go, then K1 stays in", "K1 is out."),
]


@pytest.mark.parametrize(("made", "text", "reason"), FALSE, ids=[f"{n} {c[1]}" for n, c in enumerate(FALSE)])
def test_a_line_that_is_not_true_is_shown_by_the_fewest_moves(made: Circuit, text: str, reason: str) -> None:
    found = one(made, text)
    assert found.outcome is BROKEN
    if "a moment later" not in reason:
        assert reason in found.reason
    assert found.seen_us > 0


UNREADABLE = [
    ("K1 goes in when S1 is pressed", "A line begins with when, while or never"),
    ("when S1 is pressed", "Say after a comma what then happens"),
    ("while K1 is in", "Say after a comma what is to be while that is so"),
    ("when S7 is pressed, then K1 goes in", "There is no device S7."),
    ("when K1 goes in, then H1 is lit", "Nobody works K1 by hand."),
    ("when S1 is pressd, then K1 goes in", 'S1 is never "pressd". It is pressed or released.'),
    ("when S1 is pressed, then K1 is lti", 'K1 is never "lti". It is out or in.'),
    ("when S1 is pressed, then K1", "Say what K1 does"),
    ("when S1 is pressed, then K1 sings", "Not understood: K1 sings."),
    ("when the supply explodes, then K1 is out", "The supply comes, goes or returns."),
    ("when S1 trips, then K1 goes out", "S1 does not trip by hand."),
    ("never", "Name a device"),
    ("when , then ", "Say after a comma"),
    ("never K1 and K2", "Say what K1 does"),
    ("never and", "There is no device and"),
    ("when S1 is pressed, then and and", "There is no device and"),
]


@pytest.mark.parametrize(("text", "reason"), UNREADABLE, ids=[text for text, _ in UNREADABLE])
def test_what_cannot_be_read_is_said_by_name_and_the_other_lines_are_judged(text: str, reason: str) -> None:
    found = judge(line, "when S1 is pressed, then K1 goes in", text)
    assert [each.outcome for each in found] == [HELD, UNREAD]
    assert reason in found[1].reason


def test_no_line_whatever_it_says_keeps_the_others_from_being_judged() -> None:
    """True lines with words left out, doubled and exchanged."""
    chance = random.Random(7)
    facts, texts = Facts(line), [text for made, text in TRUE if made is line]
    for _ in range(300):
        words = chance.choice(texts).split()
        at, other = chance.randrange(len(words)), chance.randrange(len(words))
        words = chance.choice(
            [words[:at] + words[at + 1 :], [*words[:at], words[at], *words[at:]], _exchanged(words, at, other)]
        )
        found = judged(facts, (" ".join(words), texts[0]))
        assert found[-1].outcome is HELD
        assert found[0].reason


def _exchanged(words: list[str], at: int, other: int) -> list[str]:
    swapped = list(words)
    swapped[at], swapped[other] = words[other], words[at]
    return swapped


def test_a_line_about_what_never_happens_is_not_held() -> None:
    found = one(line, "when S1 is pressed while F2 is tripped, then K1 goes in")
    assert (found.outcome, found.reason) == (NEVER, "Nothing of the kind happened, whatever was worked.")


def test_what_lies_behind_a_trip_is_not_said_to_hold() -> None:
    """A pole wired to another phase: the contactor welds as it closes, and nothing was played behind that."""
    wrong = rewired(line, p1_contactor="supply:L3")
    found = one(wrong, "never H1 is lit while H2 is lit")
    assert (found.outcome, "not played any further" in found.reason) == (LineOutcome.CANNOT_TELL, True)
    assert one(wrong, "when S1 is pressed while F2 is tripped, then K1 is out").outcome is LineOutcome.CANNOT_TELL
    assert proposed(Facts(wrong)) == ()


def test_a_broken_line_is_found_like_the_rest_and_played() -> None:
    told = "when S0 is pressed, then K1 goes out"
    good = line.model_copy(update={"description": (told, "nonsense", told)})
    result = by_rule(good)["described"]
    assert (result.outcome, result.findings) == (Outcome.CANNOT_TELL, ())
    assert "nonsense: A line begins with" in result.reason
    wrong = rewired(good, c3_seal="a>stop:11")
    (found,) = by_rule(wrong)["described"].findings
    assert found.message == (
        "It does not do this: when S0 is pressed, then K1 goes out. Hold S1, let go of S1, hold S0: K1 is in."
    )
    assert "contactor" in shown(wrong, found)
    assert by_rule(line.model_copy(update={"description": ()}))["described"].outcome is Outcome.NOT_ASKED


def test_overlapping_between_two_states_breaks_a_never_of_two_contactors() -> None:
    """Without interlocks both come in, and the breaker trips at once: in no state that lasts are they in together."""
    wires = [wire(f"free-{n}", f"{name}:{a}", f"{name}:{b}") for n, (name, a, b) in enumerate(INTERLOCKS)]
    free = with_more(reversing, *wires)
    assert one(free, "never K1 is in while K2 is in").outcome is BROKEN
    assert one(free, "never K2 and K1 are in").outcome is BROKEN


@pytest.mark.by_turns(4)
@pytest.mark.parametrize("name", library_names())
def test_what_is_proposed_holds_and_is_read_back(name: str) -> None:
    made = library_circuit(name)
    lines = proposed(Facts(made))
    assert len(lines) == len(set(lines)) <= 40
    assert {found.outcome for found in judge(made, *lines)} <= {HELD} if lines else True


def test_what_is_proposed_tells_what_each_command_does() -> None:
    assert proposed(Facts(line))[:4] == (
        "when S1 is pressed, then K1 goes in",
        "when S1 is pressed and let go, then K1 stays in",
        "when S0 is pressed, then K1 goes out",
        "when F2 trips, then K1 goes out",
    )
    assert "when S1 is pressed while S3 is hand, then K1 goes in" in proposed(Facts(hand_auto))
    assert "when S1 is pressed and let go while K1 is out, then K3 goes in after 4 s" in proposed(Facts(delta))
    timer = next(item.id for item in delta.devices if item.kind == "timer_star_delta")
    slow = proposed(Facts(with_params(delta, {timer: {"star_s": 9.0}})))
    assert any("then K3 goes in after 9" in text for text in slow), slow


def test_every_mistake_of_the_library_that_its_description_tells_of_is_told() -> None:
    """The description of the good circuit, written under the one whose seal-in lies before the selector."""
    found = by_rule(library_circuit("hand-off-auto-seal-in-mistake"))["described"].findings
    assert any("when S3 is turned to off, then K1 goes out" in each.message for each in found)


def test_a_description_is_part_of_the_document_and_of_what_changes() -> None:
    told = ("when S1 is pressed, then K1 goes in",)
    other = line.model_copy(update={"description": told})
    steps = changes(line, other)
    assert applied(line, CHANGES.validate_json(CHANGES.dump_json(steps))).description == told
    assert parse_circuit(other.model_dump_json()).description == told
    former = {**json.loads(line.model_dump_json()), "version": 4}
    del former["description"]
    assert parse_circuit(json.dumps(former)).description == ()
    broken = {**json.loads(line.model_dump_json()), "description": ["when", 7, "x" * 300]}
    saved, problems = salvage(json.dumps(broken))
    assert saved.description == ("when", "x" * 200)
    assert ["1 of its lines are no text" in problem.message for problem in problems] == [True]
