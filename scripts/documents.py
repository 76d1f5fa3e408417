"""Writes the generated documents: docs/openapi.json, the schemas of what people keep, docs/devices/, docs/shell.md."""

import inspect
import json
from pathlib import Path
from typing import Any

import click

from server.app import create_app
from server.config import Config
from wiretrace.catalogue.machinery.device import Kind
from wiretrace.catalogue.machinery.structure import Param, Terminal
from wiretrace.catalogue.registry import KINDS
from wiretrace.cli.main import main as main_command
from wiretrace.document.circuit import Circuit
from wiretrace.sizing.report import SizingData
from wiretrace.training.prediction.sheet import PredictionSheet

DOCS = Path(__file__).resolve().parents[1] / "docs"


def documents() -> dict[str, Any]:
    """The generated documents by file name."""
    nowhere = Config("postgresql://app@127.0.0.1:1/none", DOCS, database_timeout_s=0.1)
    app = create_app(nowhere)
    try:
        return {
            "openapi.json": app.spec,
            "circuit.schema.json": Circuit.model_json_schema(mode="validation"),
            "prediction-sheet.schema.json": PredictionSheet.model_json_schema(mode="validation"),
            "sizing.schema.json": SizingData.model_json_schema(mode="validation"),
        }
    finally:
        app.extensions["database"].close()


def device_pages() -> dict[str, str]:
    """A short page for each kind of device, and their list, by file name."""
    pages = {f"{kind.name}.md": _page(kind) for kind in KINDS.values()}
    lines = [f"- [{kind.title}]({kind.name}.md)" for kind in KINDS.values()]
    return {"README.md": "\n".join(["# Devices", "", *lines, ""]), **pages}


def shell_page() -> str:
    """The command line, from its own help."""
    lines = [
        "# From the shell",
        "",
        "The core needs no server and no database; `.venv/bin/wiretrace` is its command line. CIRCUIT is a file or the",
        "name of a circuit of the library. This page is its own help (`python -m scripts.documents`).",
    ]
    for name, command in main_command.commands.items():
        with click.Context(command, info_name=f"wiretrace {name}", max_content_width=110) as context:
            lines += ["", f"## {name}", "", "```", command.get_help(context), "```"]
    return "\n".join([*lines, ""])


def _page(kind: Kind) -> str:
    about = inspect.getdoc(type(kind)) or ""
    lines = [
        f"# {kind.title}",
        "",
        about,
        "",
        f"Kind `{kind.name}`, designation {kind.letter} (IEC), {kind.letter_nema}.",
    ]
    if kind.params:
        lines += ["", "| parameter | default | range |", "|---|---|---|"]
        lines += [f"| {p.title} (`{p.name}`) | {p.default} {p.unit} | {_range(p)} |" for p in kind.params]
    terminals = ", ".join(_terminal(t) for t in kind.terminals)
    lines += ["", f"Terminals: {terminals}." if terminals else "It has no terminals."]
    if kind.structure(kind.defaults()).branches:
        lines += ["", "Elements, as faults name them: " + ", ".join(f"`{b.name}`" for b in kind.branches) + "."]
    if kind.operations:
        lines += ["", "By hand:", ""]
        lines += [f"- `{o.name}`: {o.title} ({o.style}). {o.caution}".rstrip() for o in kind.operations]
    return "\n".join([*lines, ""])


def _range(param: Param) -> str:
    if param.choices:
        titles = [param.title_of(one) for one in param.choices]
        return ", ".join(
            f"`{one}`" if title == str(one) else f"`{one}` ({title})"
            for one, title in zip(param.choices, titles, strict=True)
        )
    if param.type == "switch":
        return "yes or no"
    if param.type == "text":
        return "a text"
    return f"{param.minimum:g} to {param.maximum:g} {param.unit}".strip()


def _terminal(terminal: Terminal) -> str:
    name = f"{terminal.name} ({terminal.nema})" if terminal.nema else terminal.name
    if terminal.when is None:
        return name
    return f"{name} with {terminal.when.param} {' or '.join(str(v) for v in terminal.when.values)}"


def main() -> None:
    (DOCS / "devices").mkdir(exist_ok=True)
    for name, text in device_pages().items():
        (DOCS / "devices" / name).write_text(text, encoding="utf-8")
    (DOCS / "shell.md").write_text(shell_page(), encoding="utf-8")
    for name, document in documents().items():
        (DOCS / name).write_text(json.dumps(document, indent=1, ensure_ascii=False) + "\n", encoding="utf-8")


if __name__ == "__main__":
    main()
