"""Long sweeps, as through the whole library: a part of them each day, all of them with `./test --all`.

In the environment: WIRETRACE_ALL for all of them, WIRETRACE_DAY (days since the year 1) for those of another day.
"""

import datetime
import os
from collections.abc import Sequence
from typing import TypeVar

Case = TypeVar("Case")

# Said once, before the workers of a run start: they must agree on what there is to do, also at midnight.
os.environ.setdefault("WIRETRACE_DAY", str(datetime.date.today().toordinal()))


def todays(cases: Sequence[Case], parts: int = 4) -> list[Case]:
    """Those of today: every `parts`th, beginning with another one each day, so that each has its turn."""
    if os.environ.get("WIRETRACE_ALL"):
        return list(cases)
    return list(cases)[int(os.environ["WIRETRACE_DAY"]) % min(parts, len(cases)) :: parts]
