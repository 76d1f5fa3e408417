"""Where practitioners differ: each rule with what it is worth, and why one follows it."""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Final


@dataclass(frozen=True)
class Rule:
    """One way of doing it: its figure, and the reason that is given for it."""

    title: str
    value: float
    reason: str


@dataclass(frozen=True)
class Question:
    """Something on which practitioners differ, the ways by name; the first is the default."""

    title: str
    rules: Mapping[str, Rule]


QUESTIONS: Final[Mapping[str, Question]] = {
    "sizes": Question(
        "Device sizes",
        {
            "iec": Rule("IEC", 0, "Ratings of IEC standards, areas in square millimetres."),
            "na": Rule("North American", 0, "NEMA sizes and North American ratings."),
        },
    ),
    "dial": Question(
        "Dial of the overload relay",
        {
            "nameplate": Rule(
                "at the nameplate current", 1.0, "IEC practice: the relay trips above 1.05 to 1.2 times."
            ),
            "above": Rule("just above it", 1.05, "Against nuisance trips; protects that much later."),
            "cautious": Rule("85 % of it", 0.85, "A cautious school; it trips a fully loaded motor."),
            "service": Rule(
                "125 % or 115 % by service factor",
                1.25,
                "North American practice: 125 % with a service factor of 1.15 or more, else 115 %.",
            ),
        },
    ),
    "breaker_multiple": Question(
        "Breaker, times full-load current",
        {
            "125": Rule("1.25", 1.25, "The smallest that carries the motor; a curve D for the start."),
            "150": Rule("1.5", 1.5, "Room for the start with a curve C or D."),
            "250": Rule("2.5, inverse time", 2.5, "North American practice: the most for an inverse-time breaker."),
        },
    ),
    "contactor_multiple": Question(
        "Contactor, times full-load current",
        {
            "category": Rule("its AC-3 rating", 1.0, "The category's own rating already allows for the start."),
            "125": Rule("1.25", 1.25, "A margin for life and heat."),
            "150": Rule("1.5", 1.5, "A wide margin, for frequent starts."),
        },
    ),
    "trip_class": Question(
        "Trip class",
        {
            "10": Rule("10 (IEC, at 7.2 times)", 0, "Between 4 and 10 s at 7.2 times the dial."),
            "10A": Rule("10A (IEC)", 0, "Between 2 and 10 s at 7.2 times the dial."),
            "20": Rule("20 (IEC)", 0, "Heavy starts: between 6 and 20 s at 7.2 times."),
            "30": Rule("30 (IEC)", 0, "Very heavy starts: between 9 and 30 s at 7.2 times."),
            "NEMA 10": Rule("10 (at 6 times)", 0, "Within 10 s at six times the dial."),
            "NEMA 20": Rule("20 (at 6 times)", 0, "Within 20 s at six times the dial."),
        },
    ),
    "curve": Question(
        "Curve of the breaker",
        {
            "D": Rule("D", 10.0, "Opens at once between 10 and 20 times: for motors."),
            "C": Rule("C", 5.0, "Opens at once between 5 and 10 times: may not hold the start."),
        },
    ),
    "coordination": Question(
        "After a short circuit",
        {
            "1": Rule("type 1", 1, "Contactor and relay may be spoiled, nobody is hurt: parts are changed."),
            "2": Rule("type 2", 2, "Contactor and relay go on; contacts may have welded lightly and are parted."),
        },
    ),
    "unbalance": Question(
        "Voltage unbalance allowed",
        {
            "2": Rule("2 %", 2.0, "Above this the life of the winding is shortened."),
            "1": Rule("1 %", 1.0, "No derating up to this (NEMA MG 1, 14.36)."),
            "5": Rule("5 %", 5.0, "Above this a motor should not run at all."),
        },
    ),
    "drop": Question(
        "Voltage drop to the motor, running",
        {"5": Rule("5 %", 5.0, "IEC 60364-5-52, annex G."), "3": Rule("3 %", 3.0, "Many rules for branch circuits.")},
    ),
}
SERVICE_LIMIT: Final = 1.15
WITHOUT_SERVICE: Final = 1.15
"""North American dial without a service factor of 1.15."""


AMERICAN: Final[Mapping[str, str]] = {"dial": "service", "breaker_multiple": "250"}
"""What is usual where sizes are North American (NFPA 70, 430.32 and 430.52)."""


def chosen_rules(chosen: Mapping[str, str]) -> dict[str, str]:
    """A rule for each question: as somebody chose, else the usual one of his convention."""
    first = {name: next(iter(question.rules)) for name, question in QUESTIONS.items()}
    return {**first, **(AMERICAN if chosen.get("sizes") == "na" else {}), **chosen}


def dial_times(rule: str, service_factor: float) -> float:
    """The dial in full-load currents."""
    if rule == "service" and service_factor < SERVICE_LIMIT:
        return WITHOUT_SERVICE
    return QUESTIONS["dial"].rules[rule].value
