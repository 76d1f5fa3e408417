"""What a save carries."""

from typing import Any


def save(based_on: int, writer: str, serial: int, **what: Any) -> dict[str, Any]:
    """The body of a save by a window, counted by it, of something made from a version."""
    return {"based_on": based_on, "writer": writer, "serial": serial, **what}
