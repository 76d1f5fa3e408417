"""What devices are seen to do, as codes: the words for them, and what earlier releases wrote in words."""

import re

import pytest

from tests.core.played import played
from wiretrace.catalogue.machinery.status import WORDS, status_of_words, tells, words
from wiretrace.catalogue.registry import KINDS
from wiretrace.library import library_names
from wiretrace.sequences.sequence import Sequence, kept_sequence
from wiretrace.training.exercise.record import Entry, Risk, entry_upgrades
from wiretrace.training.prediction.marking import Mark, mark_upgrades


@pytest.mark.parametrize(
    ("status", "says"),
    [
        ("pulled_in", "in"),
        ("pulled_in+welded", "in, welded"),
        ("tripped:e5_underload", "tripped: E5 underload"),
        ("turns_forward+unbalanced+too_hot", "turns forward, unbalanced, too hot"),
        ("=1.2 A", "1.2 A"),
        ("=2", "2"),
        ("without_l1_and_l3", "without L1 and L3"),
        ("", ""),
    ],
)
def test_a_status_has_words_and_former_words_a_status(status: str, says: str) -> None:
    assert words(status) == says
    assert status_of_words(says) == status
    assert status_of_words(status) == status


def test_a_status_tells_what_is_part_of_it() -> None:
    assert tells("hums+too_hot", "hums")
    assert tells("turns_forward+unbalanced", "turns_forward+unbalanced")
    assert not tells("turns_forward", "turns_forward+unbalanced")
    assert not tells("turns_forward", "turns")


@pytest.mark.parametrize("name", library_names())
def test_every_status_of_the_library_is_made_of_codes(name: str) -> None:
    for step in played(name):
        for view in step.frames[-1].views.values():
            for part in re.split("[+:]", view.status):
                assert not part or part.startswith("=") or part in WORDS, view.status


def test_a_sequence_of_an_earlier_release_expects_the_same() -> None:
    former = {"steps": [{"text": "Hold", "expect": {"K1": "in", "M1": "turns forward", "S3": "2"}}]}
    sequence = kept_sequence(former)
    assert sequence.steps[0].expect == {"K1": "pulled_in", "M1": "turns_forward", "S3": "=2"}
    assert sequence.version == 2
    assert kept_sequence(sequence.model_dump(mode="json")) == sequence
    assert Sequence.model_validate_json('{"steps": [{"text": "x", "expect": {"K1": "out"}}]}').steps[0].expect == {
        "K1": "dropped_out"
    }


def test_an_entry_of_an_earlier_release_says_the_same() -> None:
    former = {
        "number": 3,
        "kind": "read",
        "words": "Ohms: A to B",
        "events": [{"at_us": 1, "device": "k1", "says": "in", "active": True}],
        "seen": {"k1": {"says": "in, welded", "active": True, "attention": True, "on": {}}},
        "risks": ["Ohms before the circuit was locked off and proved dead.", "Ohms or insulation on a live circuit."],
    }
    entry = Entry.model_validate(entry_upgrades(former))
    assert entry.events[0].status == "pulled_in"
    assert entry.seen["k1"].status == "pulled_in+welded"
    assert entry.risks == (Risk.NOT_PROVED, Risk.LIVE)
    assert entry_upgrades(entry.model_dump(mode="json")) == entry.model_dump(mode="json")
    hint = Entry.model_validate(entry_upgrades({"number": 4, "kind": "hint", "words": "Hint 2 of 3"}))
    assert hint.hint == 2
    # What an answer named stood in words alone.
    answer = Entry.model_validate(entry_upgrades({"number": 5, "kind": "answer", "words": "Answer: The lamp is open"}))
    assert answer.words == "Answer: The lamp is open"


def test_a_mark_of_an_earlier_release_stays_as_it_was() -> None:
    fit = {"name": "seal_forgotten", "title": "t", "leads_to": "l", "right": "r", "about": "K1"}
    former = {"expected": "out", "shown": "in", "right": False, "question": "", "fits": [fit]}
    mark = Mark.model_validate(mark_upgrades(former))
    assert (mark.shown, [(one.name, one.about) for one in mark.fits]) == ("pulled_in", [("seal_forgotten", "K1")])
    assert words(Mark.model_validate(mark_upgrades({**former, "shown": "230.9 V", "fits": []})).shown) == "230.9 V"


@pytest.mark.parametrize("name", KINDS)
def test_no_title_of_a_kind_is_a_code(name: str) -> None:
    """People read the titles, a screen reader speaks them: no underscore, and a capital where a sentence begins."""
    kind = KINDS[name]
    things = (kind, *kind.operations, *kind.parts)
    choices = [words for param in kind.params for words in (param.title, *map(param.title_of, param.choices))]
    titles = [thing.title for thing in things]
    assert [title for title in (*titles, *choices) if "_" in title] == []
    assert [title for title in titles if not title[:1].isupper() and not title[:1].isdigit()] == []
