"""What motors say that calls for attention: why it came to that, and the way back."""

from typing import Final

BRAKES: Final = "Its field turns the other way, or slower than it does. It draws a multiple of its current."
REMEDIES: Final = {
    "too_hot": "Its windings are hotter than they may be. Stop it, let it cool, and find out why.",
    "hums": "It is fed and does not turn: a line is missing, or it is held fast. Stop it, then measure.",
    "unbalanced": "It growls: a line is missing or low, or a winding has a short. Stop it, then measure.",
    "draws_too_much": "It growls and heats: a winding has a short, or its voltage is wrong. Stop it, then measure.",
    "overloaded": "Its load holds it below its speed. Take load off.",
    "brakes_from_forward": BRAKES,
    "brakes_from_backward": BRAKES,
}

OF_ONE_PHASE: Final = {"hums": "It is fed and does not turn. Look at the capacitor and at both windings."}
