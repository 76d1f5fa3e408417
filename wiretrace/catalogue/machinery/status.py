"""What devices are seen to do, as codes: what sequences expect, records hold and dictionaries compare.

A status is one code or several, the first being what the device does and the others what is to be said of that:
`turns_forward+unbalanced`, or the reason after a colon: `tripped:underload`. A part that begins with = is written as
it stands: the position of a switch (`=2`), what an ammeter shows (`=1.2 A`). People read the words.
"""

import re
from collections.abc import Mapping
from typing import Final

WORDS: Final[Mapping[str, str]] = {
    "actuated": "actuated",
    "at_rest": "at rest",
    "auto": "auto",
    "blown": "blown",
    "brake_on": "brake on",
    "braked_by_direct_current": "braked by direct current",
    "brakes": "brakes",
    "brakes_from_backward": "brakes from backward",
    "brakes_from_forward": "brakes from forward",
    "channels_differ": "channels differ",
    "charged": "charged",
    "closed": "closed",
    "coasts": "coasts",
    "coasts_backward": "coasts backward",
    "coasts_forward": "coasts forward",
    "coil_burnt": "coil burnt",
    "conducts": "conducts",
    "cool": "cool",
    "danger": "danger",
    "dark": "dark",
    "dead": "dead",
    "dead_time": "dead time",
    "delta": "delta",
    "discharged": "discharged",
    "down": "down",
    "draws_too_much": "draws too much",
    "dropped_out": "out",
    "e0_test": "E0 test",
    "e1_overload": "E1 overload",
    "e2_phase_loss": "E2 phase loss",
    "e3_unbalance": "E3 unbalance",
    "e4_jam": "E4 jam",
    "e5_underload": "E5 underload",
    "e6_earth_fault": "E6 earth fault",
    "earth_fault": "earth fault",
    "earth_leakage": "earth leakage",
    "empty": "empty",
    "feeds": "feeds",
    "free": "free",
    "full": "full",
    "glows_faintly": "glows faintly",
    "hand": "hand",
    "healthy": "healthy",
    "high": "high",
    "high_speed": "high speed",
    "hot": "hot",
    "hums": "hums",
    "insulation_low": "insulation low",
    "l1_and_l2_exchanged": "L1 and L2 exchanged",
    "lit": "lit",
    "locked_off": "locked off",
    "low": "low",
    "low_speed": "low speed",
    "mains_at_its_output": "mains at its output",
    "measures": "measures",
    "middle": "middle",
    "moving": "moving",
    "off": "off",
    "on": "on",
    "one_hand": "one hand",
    "open": "open",
    "output_destroyed": "output destroyed",
    "overcurrent": "overcurrent",
    "overload": "overload",
    "overloaded": "overloaded",
    "overvoltage": "overvoltage",
    "phase_lost": "phase lost",
    "pressed": "pressed",
    "pulled_in": "in",
    "ramp": "ramp",
    "ramps_backward": "ramps backward",
    "ramps_forward": "ramps forward",
    "ready": "ready",
    "released": "released",
    "reset": "reset",
    "runs": "runs",
    "runs_backward": "runs backward",
    "runs_forward": "runs forward",
    "saturated": "saturated",
    "secondary_open": "secondary open",
    "set": "set",
    "shorted": "shorted",
    "shut": "shut",
    "silent": "silent",
    "sound": "sound",
    "sounds": "sounds",
    "star": "star",
    "star_point_shifted": "star point shifted",
    "still": "still",
    "stopped": "stopped",
    "string_open": "string open",
    "string_shorted": "string shorted",
    "struck": "struck",
    "switched": "switched",
    "taken_out": "taken out",
    "test": "test",
    "timing": "timing",
    "too_hot": "too hot",
    "too_late": "too late",
    "top_of_ramp": "top of ramp",
    "tripped": "tripped",
    "turning": "turning",
    "turns_backward": "turns backward",
    "turns_down": "turns down",
    "turns_forward": "turns forward",
    "turns_up": "turns up",
    "unbalance": "unbalance",
    "unbalanced": "unbalanced",
    "undervoltage": "undervoltage",
    "up": "up",
    "waiting": "waiting",
    "waits_for_a_new_start": "waits for a new start",
    "welded": "welded",
    "without_l1": "without L1",
    "without_l1_and_l2": "without L1 and L2",
    "without_l1_and_l2_and_l3": "without L1 and L2 and L3",
    "without_l1_and_l3": "without L1 and L3",
    "without_l2": "without L2",
    "without_l2_and_l3": "without L2 and L3",
    "without_l3": "without L3",
    "without_n": "without N",
    "wrong_sequence": "wrong sequence",
}
JOINED: Final = {"+": ", ", ":": ": "}
_PARTS: Final = re.compile(r"([+:]|=.*)")


def coded(text: object) -> str:
    """The code of what a state holds in words of its own: `wrong_sequence` of "wrong sequence"."""
    return str(text).lower().replace(" ", "_")


def words(status: str) -> str:
    """What people read of a status. A part that is no code is told as it stands."""
    return "".join(
        part[1:] if part.startswith("=") else JOINED.get(part) or WORDS.get(part, part)
        for part in _PARTS.split(status)
        if part
    )


def tells(status: str, what: str) -> bool:
    """Does a status say at least this? "hums" is told by `hums+too_hot` too."""
    return set(_PARTS.split(what)) <= {"+", ":", "", *_PARTS.split(status)}


_FORMER: Final = {"in": "pulled_in", "out": "dropped_out"}


def status_of_words(text: str) -> str:
    """The status that earlier releases wrote in these words."""
    if text.startswith("="):
        return text
    found = "".join(
        {": ": ":", ", ": "+"}.get(part) or _FORMER.get(part, coded(part)) for part in re.split("(: |, )", text) if part
    )
    known = all(part in WORDS or part in JOINED for part in _PARTS.split(found) if part)
    return found if known else f"={text}"
