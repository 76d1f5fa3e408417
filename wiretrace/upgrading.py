"""From what an earlier release wrote to what this one reads: a step from each version of a format to the next.

Every format has one list of steps, and whatever reads the format goes through it: files, drafts, and what is kept in a
database. A step is a pure function of plain data; it makes whatever the next version has and its own had not, and
keeps the meaning where a field has gained another.
"""

from collections.abc import Callable, Mapping
from typing import Any

from wiretrace.errors import NewerVersion

Data = Mapping[str, Any]
Step = Callable[[Data], dict[str, Any]]


class Upgrades:
    """The way of a format through its versions; `steps[0]` leads from version 1 to 2. Data without one is of 1."""

    def __init__(self, what: str, *steps: Step) -> None:
        self._what = what
        self._steps = steps
        self.version = len(steps) + 1

    def __call__(self, data: Any) -> Any:
        """The same as the present version has it. What is no object, or has no whole version, is left as it is.

        Raises NewerVersion.
        """
        if not isinstance(data, Mapping):
            return data
        version = data.get("version", 1)
        if not isinstance(version, int) or isinstance(version, bool) or version < 1:
            return data
        if version > self.version:
            raise NewerVersion(
                f"The {self._what} has version {version} of the format; this program reads up to {self.version}. "
                "Open it with a newer Wire Trace."
            )
        for number, step in enumerate(self._steps[version - 1 :], version + 1):
            data = {**step(data), "version": number}
        return data
