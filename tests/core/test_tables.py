"""The standard tables, entered here a second time: column by column, where the files have rows."""

from itertools import pairwise

import pytest

from wiretrace.sizing.american import LIMITS_HP, SINGLE_HP, SIZE_A
from wiretrace.sizing.ampacity import AMBIENT, AMBIENT_AMERICAN, AMBIENT_GROUND, COLUMN, GROUPED, GROUPED_AMERICAN, step
from wiretrace.sizing.breaking import FUSE_A2S
from wiretrace.sizing.fields import FIELDS, ONLY_FOR, WORD_TITLES
from wiretrace.sizing.series import HEADS, SOURCES, shipped
from wiretrace.sizing.starting import WAYS

MM2 = "1.5 2.5 4 6 10 16 25 35 50 70 95 120 150 185 240 300"
# IEC 60364-5-52:2009, annex B: copper, by installation method.
LAID = {
    "cables-iec": {
        "conduit": "15.5 21 28 36 50 68 89 110 134 171 207 239 262 296 346 394",
        "multicore_conduit": "15 20 27 34 46 62 80 99 118 149 179 206 225 255 297 339",
        "wall": "17.5 24 32 41 57 76 96 119 144 184 223 259 299 341 403 464",
        "air": "18.5 25 34 43 60 80 101 126 153 196 238 276 319 364 430 497",
        "ground": "18 24 30 38 50 64 82 98 116 143 169 192 217 243 280 316",
    },
    "cables-iec-two": {
        "conduit": "17.5 24 32 41 57 76 101 125 151 192 232 269 300 341 400 458",
        "multicore_conduit": "16.5 23 30 38 52 69 90 111 133 168 201 232 258 294 344 394",
        "wall": "19.5 27 36 46 63 85 112 138 168 213 258 299 344 392 461 530",
        "air": "22 30 40 51 70 94 119 148 180 232 282 328 379 434 514 593",
        "ground": "22 29 37 46 60 78 99 119 140 173 204 231 261 292 336 379",
    },
    "cables-iec-xlpe": {
        "conduit": "20 28 37 48 66 88 117 144 175 222 269 312 342 384 450 514",
        "multicore_conduit": "19.5 26 35 44 60 80 105 128 154 194 233 268 300 340 398 455",
        "wall": "22 30 40 52 71 96 119 147 179 229 278 322 371 424 500 576",
        "air": "23 32 42 54 75 100 127 158 192 246 298 346 399 456 538 621",
        "ground": "21 28 36 44 58 75 96 115 135 167 197 223 251 281 324 365",
    },
    "cables-iec-xlpe-two": {
        "conduit": "23 31 42 54 75 100 133 164 198 253 306 354 393 449 528 603",
        "multicore_conduit": "22 30 40 51 69 91 119 146 175 221 265 305 334 384 459 532",
        "wall": "24 33 45 58 80 107 138 171 209 269 328 382 441 506 599 693",
        "air": "26 36 49 63 86 115 149 185 225 289 352 410 473 542 641 741",
        "ground": "25 33 43 53 71 91 116 139 164 203 239 271 306 343 395 446",
    },
}
# NFPA 70 (2023), table 310.16, by temperature of the conductor.
BY_HEAT = {
    "cables-na": (
        "15 20 30 40 55 70 85 95 110 125 145 165 195 215 240 260 280 320 350 400 455",
        "20 25 35 50 65 85 100 115 130 150 175 200 230 255 285 310 335 380 420 475 545",
        "25 30 40 55 75 95 115 130 145 170 195 225 260 290 320 350 380 430 475 535 615",
    ),
    "cables-na-aluminium": (
        "15 25 35 40 55 65 75 85 100 115 130 150 170 195 210 225 260 285 320 375",
        "20 30 40 50 65 75 90 100 120 135 155 180 205 230 250 270 310 340 385 445",
        "25 35 45 55 75 85 100 115 135 150 175 205 230 260 280 305 350 385 435 500",
    ),
}


def figures(text: str) -> list[float]:
    return [float(one) for one in text.split()]


@pytest.mark.parametrize("name", LAID)
def test_conductors_of_iec_carry_what_its_tables_say(name: str) -> None:
    rows = shipped(name)
    assert [row[0] for row in rows] == figures(MM2)
    assert {way: [row[at] for row in rows] for way, at in COLUMN.items()} == {
        way: figures(text) for way, text in LAID[name].items()
    }


@pytest.mark.parametrize("name", BY_HEAT)
def test_conductors_of_north_america_carry_what_their_table_says(name: str) -> None:
    rows = shipped(name)
    assert [[row[at] for row in rows] for at in (1, 2, 3)] == [figures(text) for text in BY_HEAT[name]]


@pytest.mark.parametrize("name", [*LAID, *BY_HEAT])
def test_a_larger_conductor_carries_more_and_a_better_insulation_or_way_too(name: str) -> None:
    rows = shipped(name)
    for one, more in pairwise(rows):
        assert all(a < b for a, b in zip(one, more, strict=True))
    for row in rows:
        if name in BY_HEAT:
            assert row[1] < row[2] < row[3]
        else:
            # A cable in conduit carries less than wires there, on a wall more, in free air most.
            assert row[2] < row[1] < row[3] < row[4]


def test_two_loaded_conductors_carry_more_than_three_and_xlpe_more_than_pvc() -> None:
    for three, two in (("cables-iec", "cables-iec-two"), ("cables-iec-xlpe", "cables-iec-xlpe-two")):
        for one, other in zip(shipped(three), shipped(two), strict=True):
            assert all(a < b for a, b in zip(one[1:], other[1:], strict=True))
    for pvc, xlpe in zip(shipped("cables-iec"), shipped("cables-iec-xlpe"), strict=True):
        assert all(a < b for a, b in zip(pvc[1:], xlpe[1:], strict=True))


def test_heat_and_company_make_less() -> None:
    # By what is left at the temperature that the insulation is made for: root of (70 - t) / 40, and (90 - t) / 60.
    for insulation, most in (("PVC", 70.0), ("XLPE", 90.0)):
        for celsius, factor in AMBIENT[insulation]:
            assert factor == pytest.approx(((most - celsius) / (most - 30)) ** 0.5, abs=0.006)
        for celsius, factor in AMBIENT_GROUND[insulation]:
            assert factor == pytest.approx(((most - celsius) / (most - 20)) ** 0.5, abs=0.006)
    for made_for, table in AMBIENT_AMERICAN.items():
        for celsius, factor in table:
            assert factor == pytest.approx(((made_for - celsius) / (made_for - 30)) ** 0.5, abs=0.006)
    # IEC 60364-5-52:2009, table B.52.17, line 1; NFPA 70 (2023), table 310.15(C)(1).
    assert [step(GROUPED, n) for n in (1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 12, 16, 20, 21)] == [
        *(1.0, 0.8, 0.7, 0.65, 0.6, 0.57, 0.54, 0.52, 0.5, 0.45, 0.45, 0.41, 0.38, 0.0)
    ]
    assert [step(GROUPED_AMERICAN, n) for n in (3, 4, 6, 7, 9, 10, 20, 21, 30, 31, 40, 41)] == [
        *(1.0, 0.8, 0.8, 0.7, 0.7, 0.5, 0.5, 0.45, 0.45, 0.4, 0.4, 0.35)
    ]


def test_ratings_of_breakers_fuses_and_contactors() -> None:
    def column(name: str) -> list[float]:
        return [row[0] for row in shipped(name)]

    miniature = "1 2 4 6 10 13 16 20 25 32 40 50 63 80 100 125"
    assert column("breakers-iec") == figures(f"{miniature} 160 200 250 315 400 500 630 800 1000")
    assert column("fuse-links-iec") == figures(
        "2 4 6 8 10 12 16 20 25 32 40 50 63 80 100 125 160 200 250 315 400 500 630"
    )
    # NFPA 70 (2023), table 240.6(A).
    small = "15 20 25 30 35 40 45 50 60 70 80 90 100 110 125 150 175 200 225 250 300 350 400 450 500 600"
    assert column("breakers-na") == figures(f"{small} 700 800 1000 1200 1600")
    # NEMA ICS 2-2000, table 2-4-1: amperes and horsepower of sizes 00 to 8.
    assert list(SIZE_A) == figures("9 18 27 45 90 135 270 540 810 1215")
    assert list(LIMITS_HP[200.0]) == figures("1.5 3 7.5 10 25 40 75 150 0 0")
    assert list(LIMITS_HP[230.0]) == figures("1.5 3 7.5 15 30 50 100 200 300 450")
    assert list(LIMITS_HP[460.0]) == list(LIMITS_HP[575.0]) == figures("2 5 10 25 50 100 200 400 600 900")
    assert list(SINGLE_HP[230.0]) == figures("1 2 3 7.5 15 0 0 0 0 0")
    assert list(SINGLE_HP[115.0]) == figures("0.3333 1 2 3 7.5 0 0 0 0 0")


def test_what_a_fuse_lets_through_rises_as_its_table_says() -> None:
    # IEC 60269-1:2006, table 7, kA2 s.
    ratings = "16 20 25 32 40 50 63 80 100 125 160 200 250 315 400 500 630"
    most = "1 1.8 3 5 9 16 27 46 86 140 250 400 760 1300 2250 3800 7500"
    told = dict(zip(figures(ratings), figures(most), strict=True))
    assert {float(rating): value / 1000 for rating, value in FUSE_A2S.items()} == told


def test_every_series_says_where_it_stands_and_every_way_of_starting_is_a_word_of_the_form() -> None:
    assert set(SOURCES) == set(HEADS)
    assert FIELDS["start"][1] == tuple(WAYS)
    words = {word for _, what in FIELDS.values() if isinstance(what, tuple) for word in what}
    assert set(WORD_TITLES) <= words
    assert {one for many in ONLY_FOR.values() for one in many} <= set(WAYS) | {"iec", "na"}
