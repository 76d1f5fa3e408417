"""The OpenAPI document: component schemas straight from pydantic, one problem for all errors.

What an operation takes and gives is said once, where its route is; this asks the routes for it.
"""

from collections.abc import Iterator
from typing import Any

from apiflask import APIFlask
from pydantic import BaseModel
from pydantic.json_schema import JsonSchemaMode, models_json_schema

from server.problems import ProblemBody


def models(app: APIFlask) -> Iterator[tuple[type[BaseModel], JsonSchemaMode]]:
    """Every model that a route takes ("validation") or gives ("serialization"), and the problem."""
    for view in app.view_functions.values():
        spec = getattr(view, "_spec", {})
        taken = [spec.get("body"), *(query for query, *_ in spec.get("args", ()))]
        given = spec.get("response", {}).get("schema")
        yield from ((model, "validation") for model in taken if _is_model(model))
        if _is_model(given):
            yield given, "serialization"
    yield ProblemBody, "serialization"


def _is_model(thing: Any) -> bool:
    return isinstance(thing, type) and issubclass(thing, BaseModel)


def tidy(app: APIFlask, spec: Any) -> Any:
    """Replace the generated component schemas, and add the problem to every operation.

    Taken and given models are told apart, so that a default is optional in what is taken and
    always there in what is given.
    """
    found = list(dict.fromkeys(models(app)))
    _, schemas = models_json_schema(found, ref_template="#/components/schemas/{model}")
    spec["components"] = {"schemas": schemas["$defs"]}
    body = {"application/problem+json": {"schema": {"$ref": "#/components/schemas/ProblemBody"}}}
    for path in spec["paths"].values():
        for name, operation in path.items():
            if name != "parameters":
                operation["responses"]["default"] = {"description": "A problem (RFC 9457)", "content": body}
    return spec
