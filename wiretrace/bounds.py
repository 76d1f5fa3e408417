"""How many things a list or an object may hold, looked at before any of them is.

A validator collects what is wrong with every item and only then counts them: a few megabytes of items that are all
wrong cost it gigabytes. So `Most` counts first, and a list ends at its first item that is wrong.
"""

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any

from pydantic import GetCoreSchemaHandler
from pydantic_core import PydanticCustomError, core_schema

ENDS_EARLY = ("tuple", "list", "set")


@dataclass(frozen=True)
class Most:
    """Of a list or an object in an `Annotated`: at most `most` items, and at least `least`."""

    most: int
    least: int = 0

    def __get_pydantic_core_schema__(self, source: Any, handler: GetCoreSchemaHandler) -> core_schema.CoreSchema:
        schema: Any = handler(source)
        schema |= {"max_length": self.most} | ({"min_length": self.least} if self.least else {})
        if schema["type"] in ENDS_EARLY:
            schema["fail_fast"] = True
        return core_schema.no_info_before_validator_function(lambda value: few(value, self.most), schema)


def few(value: Any, most: int) -> Any:
    """A value that, if it holds others, holds at most so many."""
    if isinstance(value, list | tuple | Mapping) and len(value) > most:
        raise PydanticCustomError(
            "too_many", "there are {given}; at most {most} are taken", {"given": len(value), "most": most}
        )
    return value
