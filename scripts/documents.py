"""Writes the generated documents: docs/openapi.json and docs/circuit.schema.json."""

import json
from pathlib import Path
from typing import Any

from server.app import create_app
from server.config import Config
from wiretrace.circuit.document import Circuit

DOCS = Path(__file__).resolve().parents[1] / "docs"


def documents() -> dict[str, Any]:
    """The generated documents by file name."""
    nowhere = Config("postgresql://app@127.0.0.1:1/none", DOCS, database_timeout_s=0.1)
    app = create_app(nowhere)
    try:
        return {
            "openapi.json": app.spec,
            "circuit.schema.json": Circuit.model_json_schema(mode="validation"),
        }
    finally:
        app.extensions["database"].close()


def main() -> None:
    for name, document in documents().items():
        (DOCS / name).write_text(json.dumps(document, indent=1, ensure_ascii=False) + "\n", encoding="utf-8")


if __name__ == "__main__":
    main()
