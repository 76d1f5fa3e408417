"""North American sizing against the code book, entered here a second time, and worked by hand."""

from itertools import pairwise

import pytest

from tests.core.sheets import sheet, shown
from wiretrace.sizing.american import SIZES, THREE_PHASE, column_of, contactor_size, full_load_a
from wiretrace.sizing.ampacity import carried_a, rows

# NFPA 70, table 430.250, 460 V and 230 V, read again from the book.
AT_460 = {0.5: 1.1, 0.75: 1.6, 1: 2.1, 1.5: 3.0, 2: 3.4, 3: 4.8, 5: 7.6, 7.5: 11, 10: 14, 15: 21, 20: 27, 25: 34,
          30: 40, 40: 52, 50: 65, 60: 77, 75: 96, 100: 124, 125: 156, 150: 180, 200: 240, 250: 302, 300: 361, 350: 414,
          400: 477, 450: 515, 500: 590}  # fmt: skip
AT_230 = {0.5: 2.2, 0.75: 3.2, 1: 4.2, 1.5: 6.0, 2: 6.8, 3: 9.6, 5: 15.2, 7.5: 22, 10: 28, 15: 42, 20: 54, 25: 68,
          30: 80, 40: 104, 50: 130, 60: 154, 75: 192, 100: 248, 125: 312, 150: 360, 200: 480}  # fmt: skip
AT_575 = {0.5: 0.9, 0.75: 1.3, 1: 1.7, 1.5: 2.4, 2: 2.7, 3: 3.9, 5: 6.1, 7.5: 9, 10: 11, 15: 17, 20: 22, 25: 27, 30: 32,
          40: 41, 50: 52, 60: 62, 75: 77, 100: 99, 125: 125, 150: 144, 200: 192, 250: 242, 300: 289, 350: 336, 400: 382,
          450: 412, 500: 472}  # fmt: skip
AT_208 = {0.5: 2.4, 0.75: 3.5, 1: 4.6, 1.5: 6.6, 2: 7.5, 3: 10.6, 5: 16.7, 7.5: 24.2, 10: 30.8, 15: 46.2, 20: 59.4,
          25: 74.8, 30: 88, 40: 114, 50: 143, 60: 169, 75: 211, 100: 273, 125: 343, 150: 396, 200: 528}  # fmt: skip
# Table 430.248, 230 V and 115 V.
ONE_230 = {0.5: 4.9, 0.75: 6.9, 1: 8.0, 1.5: 10, 2: 12, 3: 17, 5: 28, 7.5: 40, 10: 50}
ONE_115 = {0.5: 9.8, 0.75: 13.8, 1: 16, 1.5: 20, 2: 24, 3: 34, 5: 56, 7.5: 80, 10: 100}


@pytest.mark.parametrize(
    ("volts", "single", "table"),
    [
        (460, False, AT_460),
        (230, False, AT_230),
        (575, False, AT_575),
        (208, False, AT_208),
        (230, True, ONE_230),
        (115, True, ONE_115),
    ],
)
def test_the_tables_are_those_of_the_book(volts: float, single: bool, table: dict[float, float]) -> None:
    assert {power: full_load_a(power, volts, single) for power in table} == table


def test_no_current_of_the_tables_falls_where_the_power_grows_or_the_voltage_falls() -> None:
    powers = sorted(THREE_PHASE)
    for one, more in pairwise(powers):
        for volts, amperes in THREE_PHASE[one].items():
            assert THREE_PHASE[more].get(volts, amperes + 1) > amperes
    for row in THREE_PHASE.values():
        assert list(row.values()) == sorted(row.values(), reverse=True)


@pytest.mark.parametrize(
    ("volts", "column"),
    [(480, 460), (440, 460), (240, 230), (220, 230), (208, 208), (600, 575), (120, 115), (400, None), (690, None)],
)
def test_each_system_has_its_column(volts: float, column: float | None) -> None:
    assert column_of(volts) == column


def american(hp: float, amperes: float, volts: float = 460, **more: str) -> dict[str, str]:
    fields = {
        "power": f"{hp:g} hp",
        "voltage": f"{volts:g}",
        "current": f"{amperes:g} A",
        "frequency": "60",
        "ambient": "30",
    }
    return {**fields, **more}


# Horsepower, nameplate amperes; table, 125 % for the cable with terminals at 60 degC up to 100 A,
# breaker at 250 %, dual-element fuse at 175 %, size.
BY_HAND = [
    (1, 1.8, 2.1, "14 AWG", "15", "6", "00"),
    (2, 3.1, 3.4, "14 AWG", "15", "6", "00"),
    (3, 4.4, 4.8, "14 AWG", "15", "10", "0"),
    (5, 7.0, 7.6, "14 AWG", "20", "15", "0"),
    (7.5, 10.0, 11, "14 AWG", "30", "20", "1"),
    (10, 13.1, 14, "12 AWG", "35", "25", "1"),
    (15, 19.2, 21, "10 AWG", "60", "40", "2"),
    (20, 25.2, 27, "8 AWG", "70", "50", "2"),
    (25, 31.0, 34, "6 AWG", "90", "60", "2"),
    (30, 37.0, 40, "6 AWG", "100", "70", "3"),
    (40, 49.0, 52, "4 AWG", "150", "100", "3"),
    (50, 59.0, 65, "3 AWG", "175", "125", "3"),
    (60, 70.0, 77, "1 AWG", "200", "150", "4"),
    (75, 87.0, 96, "1 AWG", "250", "175", "4"),
    (100, 115.0, 124, "2/0 AWG", "350", "225", "4"),
    (125, 144.0, 156, "3/0 AWG", "400", "300", "5"),
    (150, 170.0, 180, "4/0 AWG", "450", "350", "5"),
    (200, 225.0, 240, "350 kcmil", "600", "450", "5"),
]


@pytest.mark.parametrize(("hp", "plate_a", "table_a", "awg", "breaker", "fuse", "size"), BY_HAND)
def test_a_motor_of_three_phases_is_sized_as_the_book_says(
    hp: float, plate_a: float, table_a: float, awg: str, breaker: str, fuse: str, size: str
) -> None:
    found = sheet(american(hp, plate_a, length="3 m"), sizes="na", breaker_multiple="250", dial="service")
    assert found.table_a == table_a
    told = shown(american(hp, plate_a, length="3 m"), sizes="na", breaker_multiple="250", dial="service")
    assert (told["cable_current"], told["breaker_rating"], told["fuse_rating"]) == (awg, breaker, fuse)
    assert found.contactor_size == size
    # The relay goes by the nameplate, and by nothing else.
    assert found.dial_a == pytest.approx(1.15 * plate_a)


@pytest.mark.parametrize(
    ("hp", "volts", "amperes", "size"), [(0.5, 115, 9.8, "0"), (1, 115, 16, "0"), (3, 230, 17, "1"), (5, 230, 28, "2")]
)
def test_a_motor_of_one_phase_has_a_table_of_its_own(hp: float, volts: float, amperes: float, size: str) -> None:
    found = sheet(american(hp, amperes * 0.9, volts, phases="1"), sizes="na")
    assert (found.table_a, found.contactor_size) == (amperes, size)


def test_where_the_tables_have_no_such_motor_the_nameplate_is_taken_and_it_says_so() -> None:
    told = shown(american(10, 16, 400), sizes="na")
    assert told["table_current"] == "none"
    assert sheet(american(10, 16, 400), sizes="na").branch_a == 16
    assert sheet(american(10, 16, 460)).table_a is None
    assert "table_current" not in shown(american(10, 16, 460))


@pytest.mark.parametrize(
    ("hp", "volts", "size"), [(1.5, 200, "00"), (10, 230, "2"), (15, 230, "2"), (30, 230, "3"), (900, 460, "8")]
)
def test_contactors_go_by_horsepower(hp: float, volts: float, size: str) -> None:
    assert contactor_size(hp, volts, False, 1.0) == size
    assert contactor_size(901 * 1.1, 460, False, 1.0) is None
    assert list(SIZES) == sorted(SIZES, key=lambda one: (one != "00", one))


@pytest.mark.parametrize(
    ("celsius", "made_for", "terminals", "amperes"),
    [
        ("30", "75", "75", 85.0),
        ("40", "75", "75", 85 * 0.88),
        ("50", "75", "75", 85 * 0.75),
        ("60", "75", "75", 85 * 0.58),
        # One for 90 degC begins at 95 A, and its terminals end it: at 85, at 70, and by its heat at 95 x 0.82.
        ("30", "90", "75", 85.0),
        ("30", "90", "60", 70.0),
        ("50", "90", "75", 95 * 0.82),
        ("30", "60", "75", 70.0),
        ("40", "60", "75", 70 * 0.82),
        # Not marked: 60 degC up to 100 A.
        ("30", "90", "", 70.0),
    ],
)
def test_a_conductor_in_the_heat_carries_what_the_book_says(
    celsius: str, made_for: str, terminals: str, amperes: float
) -> None:
    """4 AWG copper carries 70, 85 and 95 A at 60, 75 and 90 degC (NFPA 70, tables 310.16 and 310.15(B)(1))."""
    fields = american(10, 13, ambient=celsius, conductor_c=made_for, terminals_c=terminals)
    found = sheet(fields, sizes="na")
    row = next(row for row in rows(found) if row[0] == 21.2)
    assert carried_a(found, row, 17.5, 1) == pytest.approx(amperes)
