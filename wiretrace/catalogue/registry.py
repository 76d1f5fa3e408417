"""The list of kinds of device: every class of this package that says what it is called."""

import inspect
import pkgutil
from collections.abc import Iterator
from importlib import import_module
from types import MappingProxyType
from typing import Final

import wiretrace.catalogue
from wiretrace.catalogue.machinery.device import Kind

GROUPS: Final = {
    "supply": "Supply",
    "protection": "Switching off and protection",
    "switching": "Contactors and relays",
    "command": "Commands",
    "signal": "Signals",
    "load": "Motors",
    "measuring": "Measuring",
    "terminal": "Terminals",
}
"""What the groups are called, in the order in which a list of parts shows them."""


def _kinds() -> Iterator[Kind]:
    for module in pkgutil.walk_packages(wiretrace.catalogue.__path__, f"{wiretrace.catalogue.__name__}."):
        if module.name != __name__:
            for cls in vars(import_module(module.name)).values():
                if inspect.isclass(cls) and issubclass(cls, Kind) and _is_kind(cls, module.name):
                    yield cls()


def _is_kind(cls: type[Kind], module: str) -> bool:
    """Is it a kind of this module, not what several have in common nor what was imported?"""
    return cls.__module__ == module and "name" in vars(cls)


def _order(kind: Kind) -> tuple[int, int, str]:
    return list(GROUPS).index(kind.group), kind.rank, kind.title


KINDS = MappingProxyType({kind.name: kind for kind in sorted(_kinds(), key=_order)})
"""Every kind by name, in the order in which a list of parts shows them."""
