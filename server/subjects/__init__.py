"""What the server is asked about, a folder each: routes, what they take and give, and what they keep.

Found by being there: every blueprint of a module of these folders is served.
"""

import pkgutil
from collections.abc import Iterator
from importlib import import_module

from apiflask import APIBlueprint


def blueprints() -> Iterator[APIBlueprint]:
    """Every blueprint, in the order of the names of the modules."""
    for module in pkgutil.walk_packages(__path__, f"{__name__}."):
        for thing in vars(import_module(module.name)).values():
            if isinstance(thing, APIBlueprint) and thing.import_name == module.name:
                yield thing
