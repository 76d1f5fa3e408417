"""Sweeps by date leave nothing out for good."""

import pytest

from tests.sweep import todays


@pytest.mark.parametrize("parts", [1, 2, 4, 60])
def test_each_case_has_its_turn_within_so_many_days(parts: int, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.delenv("WIRETRACE_ALL", raising=False)
    cases, seen = list(range(51)), list[int]()
    for day in range(739_000, 739_000 + min(parts, len(cases))):
        monkeypatch.setenv("WIRETRACE_DAY", str(day))
        assert todays(cases, parts)
        seen += todays(cases, parts)
    assert sorted(seen) == cases


def test_all_are_all(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setenv("WIRETRACE_ALL", "1")
    assert todays("abc", 2) == ["a", "b", "c"]
