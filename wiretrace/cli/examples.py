"""Examples of each command, shown at the end of its help."""

from collections.abc import Mapping
from typing import Final

EXAMPLES: Final[Mapping[str, tuple[str, ...]]] = {
    "run": (
        "run start-stop-overload-line --do S1.press@0.1s..0.5s --probe S1:13,S1:14",
        "run star-delta-timer-first-closure --do S1.press@0.1s..0.5s --until 6s --probe M1:U1,M1:U2",
        "run start-stop-overload-line --do S1.press@0.1s --fault K1:A1=open@2s --until 4s",
    ),
    "explain": (
        "explain start-stop-overload-line S1:13,S1:14",
        "explain start-stop-overload-line p1-motor --amperes --do S1.press@0.1s",
    ),
    "measure": ("measure start-stop-overload-line --do Q1.switch=off@0s --ohms K1:A1,K1:A2",),
    "map": ("map feeder-order M1:PE",),
    "table": ("table star-delta-plc", "--seconds 60 table star-delta-plc"),
    "races": ("races reversing-interlocked --do S1.press@0.1s",),
    "validate": ("validate my-circuit.json",),
    "check": ("check two-wire-float", "check start-stop-overload-line --fault S0/11-12=welded"),
    "describe": ("describe reversing-interlocked",),
    "states": ("states star-delta-timer-first-closure",),
    "trace": (
        "trace start-stop-overload-line --hidden K1:A1=open",
        "trace two-wire-float --audit --json",
        "trace start-stop-overload-line --seen observations.txt",
        "trace start-stop-overload-line --seen observations.txt --wider",
    ),
    "size": ("size nameplate.json --circuit start-stop-overload-line",),
    "export": (
        "export list star-delta-plc wires > wires.csv",
        "export list star-delta-plc devices > devices.cir",
        "export spice start-stop-overload-line > circuit.cir",
    ),
    "import": ('import wires.csv --title "From a list" > circuit.json',),
    "compare": (
        "compare as-drawn.json as-wired.json",
        "compare --json as-drawn.json as-wired.json > repair.json",
    ),
    "apply": ("apply as-drawn.json repair.json > as-wired-again.json",),
}
"""As they are typed behind `wiretrace`."""


def shown(command: str) -> str:
    """The examples of a command as its help ends."""
    return "\b\n" + "\n".join(["Examples:", *(f"  wiretrace {line}" for line in EXAMPLES[command])])
