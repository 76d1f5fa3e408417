"""The list of kinds of fault, told apart in data by `kind`: every class of this package that has an `about`."""

import inspect
import pkgutil
from collections.abc import Iterator
from functools import reduce
from importlib import import_module
from operator import or_
from types import MappingProxyType
from typing import TYPE_CHECKING, Annotated, Final, TypeAlias, TypeGuard

from pydantic import Field

import wiretrace.faults.kinds
from wiretrace.faults.fault import Fault


def _is_kind(cls: object, module: str) -> TypeGuard[type[Fault]]:
    """Is it a kind of this module, not what several have in common nor what was imported?"""
    own = inspect.isclass(cls) and issubclass(cls, Fault) and cls.__module__ == module
    return own and "about" in vars(cls)


def _classes() -> Iterator[type[Fault]]:
    for module in pkgutil.iter_modules(wiretrace.faults.kinds.__path__):
        found = import_module(f"{wiretrace.faults.kinds.__name__}.{module.name}")
        yield from (cls for cls in vars(found).values() if _is_kind(cls, found.__name__))


KINDS: Final = MappingProxyType({str(vars(cls)["kind"]): cls for cls in _classes()})
"""Every kind of fault by its name, in the order in which the package has them."""


def kind_name(fault: Fault) -> str:
    """By which name data calls its kind."""
    return str(vars(type(fault))["kind"])


if TYPE_CHECKING:
    AnyFault: TypeAlias = Fault
else:
    AnyFault = Annotated[reduce(or_, KINDS.values()), Field(discriminator="kind")]
