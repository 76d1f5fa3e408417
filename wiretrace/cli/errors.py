"""How a command tells what is wrong."""

import sys
from collections.abc import Callable
from functools import wraps
from typing import ParamSpec

import click

from wiretrace.errors import TooMuchWork, WiretraceError
from wiretrace.work import bounded

P = ParamSpec("P")

LONG, LONG_S = {"trace"}, 3600.0
"""Commands that show how far they are, and may take so many seconds."""


def tells_errors(command: Callable[P, None]) -> Callable[P, None]:
    """Errors of the core and of the words typed become lines on standard error and exit code 2."""

    @wraps(command)
    def wrapped(*args: P.args, **kwargs: P.kwargs) -> None:
        context = click.get_current_context()
        seconds = context.find_root().params["seconds"]
        if context.command.name in LONG:
            seconds = max(seconds, LONG_S)
        try:
            with bounded(seconds, "This"):
                command(*args, **kwargs)
        except TooMuchWork as error:
            click.echo(f"error: {error.message} Allow more with wiretrace --seconds.", err=True)
            sys.exit(2)
        except WiretraceError as error:
            click.echo(f"error: {error.message}", err=True)
            for problem in error.problems:
                if problem.message != error.message:
                    click.echo(f"  {problem.message}", err=True)
            sys.exit(2)
        except ValueError as error:
            click.echo(f"error: {error}", err=True)
            sys.exit(2)

    return wrapped
