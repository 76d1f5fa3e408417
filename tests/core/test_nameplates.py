"""Sixty nameplates: what each line comes to, worked apart from the product with tables of its own.

Each stands as the plate, the practice, and what was found: the arithmetic and the tables were entered a second time by
whoever worked them, and the results are kept here as figures.
"""

import pytest

from tests.core.sheets import shown

PLATES = """
power 0.37 kW; voltage 400; current 1.1 A; locked_ratio 7; length 5 m
    = dial 1.1; breaker_rating 2; fuse_rating 2; contactor_line 6; cable_current 1.5; locked 7.7
power 0.75 kW; voltage 400; current 1.8 A; locked_ratio 7; length 5 m
    = dial 1.8; breaker_rating 4; fuse_rating 4; contactor_line 6; cable_current 1.5; locked 12.6
power 1.1 kW; voltage 400; current 2.5 A; locked_ratio 7; length 5 m
    = dial 2.5; breaker_rating 4; fuse_rating 4; contactor_line 6; cable_current 1.5; locked 17.5
power 1.5 kW; voltage 400; current 3.4 A; locked_ratio 7; length 5 m
    = dial 3.4; breaker_rating 6; fuse_rating 6; contactor_line 6; cable_current 1.5; locked 23.8
power 2.2 kW; voltage 400; current 4.8 A; locked_ratio 7; length 5 m
    = dial 4.8; breaker_rating 6; fuse_rating 8; contactor_line 6; cable_current 1.5; locked 33.6
power 3 kW; voltage 400; current 6.4 A; locked_ratio 7; length 5 m
    = dial 6.4; breaker_rating 10; fuse_rating 12; contactor_line 9; cable_current 1.5; locked 44.8
power 4 kW; voltage 400; current 8.2 A; locked_ratio 7; length 5 m
    = dial 8.2; breaker_rating 13; fuse_rating 16; contactor_line 9; cable_current 1.5; locked 57.4
power 5.5 kW; voltage 400; current 11 A; locked_ratio 7; length 5 m
    = dial 11; breaker_rating 16; fuse_rating 20; contactor_line 12; cable_current 1.5; locked 77
power 7.5 kW; voltage 400; current 14.5 A; locked_ratio 7; length 5 m
    = dial 14.5; breaker_rating 20; fuse_rating 25; contactor_line 16; cable_current 2.5; locked 102
power 11 kW; voltage 400; current 21 A; locked_ratio 7; length 5 m
    = dial 21; breaker_rating 32; fuse_rating 40; contactor_line 25; cable_current 4; locked 147
power 15 kW; voltage 400; current 28.5 A; locked_ratio 7; length 5 m
    = dial 28.5; breaker_rating 40; fuse_rating 50; contactor_line 32; cable_current 6; locked 200
power 18.5 kW; voltage 400; current 35 A; locked_ratio 7; length 5 m
    = dial 35; breaker_rating 50; fuse_rating 63; contactor_line 40; cable_current 10; locked 245
power 22 kW; voltage 400; current 41 A; locked_ratio 7; length 5 m
    = dial 41; breaker_rating 63; fuse_rating 80; contactor_line 50; cable_current 10; locked 287
power 30 kW; voltage 400; current 55 A; locked_ratio 7; length 5 m
    = dial 55; breaker_rating 80; fuse_rating 100; contactor_line 63; cable_current 16; locked 385
power 37 kW; voltage 400; current 67 A; locked_ratio 7; length 5 m
    = dial 67; breaker_rating 100; fuse_rating 125; contactor_line 80; cable_current 25; locked 469
power 45 kW; voltage 400; current 81 A; locked_ratio 7; length 5 m
    = dial 81; breaker_rating 125; fuse_rating 160; contactor_line 100; cable_current 35; locked 567
power 55 kW; voltage 400; current 98 A; locked_ratio 7; length 5 m
    = dial 98; breaker_rating 125; fuse_rating 160; contactor_line 100; cable_current 50; locked 686
power 75 kW; voltage 400; current 132 A; locked_ratio 7; length 5 m
    = dial 132; breaker_rating 200; fuse_rating 250; contactor_line 160; cable_current 70; locked 924; release 1424
power 90 kW; voltage 400; current 158 A; locked_ratio 7; length 5 m
    = dial 158; breaker_rating 200; fuse_rating 315; contactor_line 160; cable_current 95; locked 1106; release 1705
power 110 kW; voltage 400; current 193 A; locked_ratio 7; length 5 m
    = dial 193; breaker_rating 250; fuse_rating 315; contactor_line 200; cable_current 120; locked 1351; release 2083
power 132 kW; voltage 400; current 232 A; locked_ratio 7; length 5 m
    = dial 232; breaker_rating 315; fuse_rating 400; contactor_line 250; cable_current 185; locked 1624; release 2503
power 160 kW; voltage 400; current 281 A; locked_ratio 7; length 5 m
    = dial 281; breaker_rating 400; fuse_rating 500; contactor_line 315; cable_current 240; locked 1967; release 3032
power 7.5 kW; voltage 400; current 14.5 A; locked_ratio 7; length 5 m; start star_delta; connection delta
    = dial 8.37; contactor_line 9; contactor_delta 9; contactor_star 6; star_start 33.8; cable_leads 1.5
power 11 kW; voltage 400; current 21 A; locked_ratio 7; length 5 m; start star_delta; connection delta
    = dial 12.1; contactor_line 16; contactor_delta 16; contactor_star 9; star_start 49; cable_leads 2.5
power 15 kW; voltage 400; current 28.5 A; locked_ratio 7; length 5 m; start star_delta; connection delta
    = dial 16.5; contactor_line 20; contactor_delta 20; contactor_star 12; star_start 66.5; cable_leads 4
power 22 kW; voltage 400; current 41 A; locked_ratio 7; length 5 m; start star_delta; connection delta
    = dial 23.7; contactor_line 25; contactor_delta 25; contactor_star 16; star_start 95.7; cable_leads 6
power 37 kW; voltage 400; current 67 A; locked_ratio 7; length 5 m; start star_delta; connection delta
    = dial 38.7; contactor_line 40; contactor_delta 40; contactor_star 25; star_start 156; cable_leads 16
power 75 kW; voltage 400; current 132 A; locked_ratio 7; length 5 m; start star_delta; connection delta
    = dial 76.2; contactor_line 80; contactor_delta 80; contactor_star 50; star_start 308; cable_leads 35
power 4 kW; voltage 400; current 8.2 A; length 5 m; insulation XLPE; laying wall; ambient 35; circuits 3
    = cable_current 1.5
power 15 kW; voltage 400; current 28.5 A; length 5 m; insulation XLPE; laying wall; ambient 35; circuits 3
    = cable_current 6
power 45 kW; voltage 400; current 81 A; length 5 m; insulation XLPE; laying wall; ambient 35; circuits 3
    = cable_current 35
power 110 kW; voltage 400; current 193 A; length 5 m; insulation XLPE; laying wall; ambient 35; circuits 3
    = cable_current 120
power 55; voltage 400; current 98; locked_ratio 7; start by_tap; tap 65 %; length 5
    = tapped_start 290; tapped_kva 201; contactor_transformer 50; contactor_neutral 25; contactor_line 100
power 30; voltage 400; current 55; locked_ratio 7; start soft_start; start_limit 3; length 5
    = limited_start 165; start_torque 18.4; contactor_line 63; contactor_bypass 63; soft_rating 55
power 22; voltage 400; current 43; start wound_rotor; start_limit 2; rotor_voltage 220; rotor_current 62; length 5
    = limited_start 86; rotor_ohm 1.02; contactor_rotor 40; contactor_line 50
power 4.4; voltage 400; current 9.2; start two_speed; low_power 3.1; low_current 7.3; length 5
    = dial 9.2; dial_low 7.3; contactor_line 12; contactor_low 9; contactor_star 6; breaker_rating 13
power 7.5; voltage 400; current 14.5; power_factor 0.84; start converter; length 5
    = converter_in 13.5; breaker_rating 20; contactor_line 16; cable_current 2.5; dial 14.5
power 0.18 kW; voltage 230; current 1.6 A; power_factor 0.92; phases 1; length 5 m; locked_ratio 4
    = dial 1.6; breaker_rating 2; cable_current 1.5; contactor_line 6; input 0.339
power 0.37 kW; voltage 230; current 2.9 A; power_factor 0.92; phases 1; length 5 m; locked_ratio 4
    = dial 2.9; breaker_rating 4; cable_current 1.5; contactor_line 6; input 0.614
power 0.55 kW; voltage 230; current 4.1 A; power_factor 0.92; phases 1; length 5 m; locked_ratio 4
    = dial 4.1; breaker_rating 6; cable_current 1.5; contactor_line 6; input 0.868
power 0.75 kW; voltage 230; current 5.2 A; power_factor 0.92; phases 1; length 5 m; locked_ratio 4
    = dial 5.2; breaker_rating 10; cable_current 1.5; contactor_line 6; input 1.1
power 1.1 kW; voltage 230; current 7.4 A; power_factor 0.92; phases 1; length 5 m; locked_ratio 4
    = dial 7.4; breaker_rating 10; cable_current 1.5; contactor_line 9; input 1.57
power 1.5 kW; voltage 230; current 9.6 A; power_factor 0.92; phases 1; length 5 m; locked_ratio 4
    = dial 9.6; breaker_rating 13; cable_current 1.5; contactor_line 12; input 2.03
power 2.2 kW; voltage 230; current 13.8 A; power_factor 0.92; phases 1; length 5 m; locked_ratio 4
    = dial 13.8; breaker_rating 20; cable_current 1.5; contactor_line 16; input 2.92
power 3 hp; voltage 208; current 9.9 A; frequency 60; ambient 30; length 2 m | sizes na
    = table_current 10.6; breaker_rating 30; cable_current 14 AWG; dial 11.4; contactor_line 18
power 7.5 hp; voltage 208; current 22.8 A; frequency 60; ambient 30; length 2 m | sizes na
    = table_current 24.2; breaker_rating 70; cable_current 8 AWG; dial 26.2; contactor_line 27
power 10 hp; voltage 230; current 26 A; frequency 60; ambient 30; length 2 m | sizes na
    = table_current 28; breaker_rating 70; cable_current 8 AWG; dial 29.9; contactor_line 45
power 20 hp; voltage 230; current 50 A; frequency 60; ambient 30; length 2 m | sizes na
    = table_current 54; breaker_rating 150; cable_current 4 AWG; dial 57.5; contactor_line 90
power 25 hp; voltage 575; current 25 A; frequency 60; ambient 30; length 2 m | sizes na
    = table_current 27; breaker_rating 70; cable_current 8 AWG; dial 28.7; contactor_line 45
power 50 hp; voltage 575; current 48 A; frequency 60; ambient 30; length 2 m | sizes na
    = table_current 52; breaker_rating 150; cable_current 4 AWG; dial 55.2; contactor_line 90
power 100 hp; voltage 575; current 92 A; frequency 60; ambient 30; length 2 m | sizes na
    = table_current 99; breaker_rating 250; cable_current 1 AWG; dial 106; contactor_line 135
power 30 hp; voltage 200; current 85 A; frequency 60; ambient 30; length 2 m | sizes na
    = table_current 92; breaker_rating 250; cable_current 2 AWG; dial 97.7; contactor_line 135
power 0.5 hp; voltage 115; current 9 A; frequency 60; ambient 30; length 1 m; phases 1; service_factor 1.15 | sizes na
    = table_current 9.8; breaker_rating 25; cable_current 14 AWG; dial 11.2; contactor_line 18
power 0.75 hp; voltage 115; current 12.5 A; frequency 60; ambient 30; length 1 m; phases 1;
    service_factor 1.15 | sizes na
    = table_current 13.8; breaker_rating 35; cable_current 12 AWG; dial 15.6; contactor_line 18
power 1.5 hp; voltage 115; current 18 A; frequency 60; ambient 30; length 1 m; phases 1;
    service_factor 1.15 | sizes na
    = table_current 20; breaker_rating 50; cable_current 10 AWG; dial 22.5; contactor_line 27
power 1 hp; voltage 230; current 7.2 A; frequency 60; ambient 30; length 1 m; phases 1; service_factor 1.15 | sizes na
    = table_current 8; breaker_rating 20; cable_current 14 AWG; dial 9; contactor_line 9
power 2 hp; voltage 230; current 11 A; frequency 60; ambient 30; length 1 m; phases 1; service_factor 1.15 | sizes na
    = table_current 12; breaker_rating 30; cable_current 14 AWG; dial 13.8; contactor_line 18
power 3 hp; voltage 230; current 15.5 A; frequency 60; ambient 30; length 1 m; phases 1;
    service_factor 1.15 | sizes na
    = table_current 17; breaker_rating 45; cable_current 10 AWG; dial 19.4; contactor_line 27
power 5 hp; voltage 230; current 25 A; frequency 60; ambient 30; length 1 m; phases 1; service_factor 1.15 | sizes na
    = table_current 28; breaker_rating 70; cable_current 8 AWG; dial 31.2; contactor_line 45
power 7.5 hp; voltage 230; current 36 A; frequency 60; ambient 30; length 1 m; phases 1;
    service_factor 1.15 | sizes na
    = table_current 40; breaker_rating 100; cable_current 6 AWG; dial 45; contactor_line 45
"""


def plates() -> list[tuple[dict[str, str], dict[str, str], dict[str, str]]]:
    """Plate, practice and results of each; a line that begins with spaces goes on with the one before."""
    joined = PLATES.strip().replace("\n    ", " ").splitlines()
    found = []
    for line in joined:
        given, results = line.split(" = ")
        plate, _, practice = given.partition(" | ")
        found.append((_pairs(plate), _pairs(practice), _pairs(results)))
    return found


def _pairs(text: str) -> dict[str, str]:
    pairs = (one.strip().partition(" ") for one in text.split(";") if one.strip())
    return {name: value for name, _, value in pairs}


@pytest.mark.parametrize(("fields", "practice", "expected"), plates())
def test_a_nameplate_comes_to_what_was_worked_by_hand(
    fields: dict[str, str], practice: dict[str, str], expected: dict[str, str]
) -> None:
    found = shown(fields, **practice)
    assert {key: found.get(key) for key in expected} == expected


def test_there_are_sixty_and_twenty_of_them_are_single_phase_or_north_american() -> None:
    every = plates()
    other = [fields for fields, practice, _ in every if fields.get("phases") == "1" or practice.get("sizes") == "na"]
    assert (len(every), len(other) >= 20) == (60, True)
