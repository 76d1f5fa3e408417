"""What can be wrong with what is asked of the store."""


class Conflict(Exception):
    """The job was saved by somebody else since the caller read it."""

    def __init__(self, current_version: int) -> None:
        super().__init__(current_version)
        self.current_version = current_version


class Refused(Exception):
    """Something was recorded meanwhile, or what it is about was changed: nothing is kept of what was asked."""


class NotFound(Exception):
    """There is no such job or circuit."""
