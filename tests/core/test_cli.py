"""The command line, without server or database."""

import json
from pathlib import Path

import pytest
from click.testing import CliRunner, Result

from wiretrace.cli.main import main
from wiretrace.library import library_circuit
from wiretrace.quantity import parse_quantity

LINE = "start-stop-overload-line"


def call(*words: str) -> Result:
    return CliRunner().invoke(main, words)


def test_run_prints_states_and_readings_as_a_table() -> None:
    done = call("run", LINE, "--do", "S1.press@0.1s..0.5s", "--until", "1s", "--probe", "K1:A1,K1:A2")
    assert done.exit_code == 0
    lines = done.output.splitlines()
    assert lines[0].split() == ["time", "s", "change", "K1:A1", "-", "K1:A2"]
    assert any(line.startswith("0.135000") and "K1 in, M1 turns forward" in line for line in lines)
    assert "230.7 V" in lines[-2]
    assert "M1 turns forward" in lines[-1]


def test_run_prints_json_that_says_the_same() -> None:
    done = call("run", LINE, "--do", "S1.press@100ms", "--do", "G1.switch=off@0.8s", "--json", "--probe", "K1:A1,K1:A2")
    data = json.loads(done.output)
    assert data["end"]["time_us"] == 1_000_000
    assert data["frames"][-1]["devices"]["contactor"]["says"] == "out"
    readings = [frame["readings"][0]["voltage_v"] for frame in data["frames"]]
    assert max(readings) == pytest.approx(230.9, abs=0.1)
    assert readings[-1] == 0


def test_faults_can_be_named() -> None:
    joint = call("run", LINE, "--do", "S1.press@0.1s", "--fault", "c4=300ohm")
    assert "K1 out" in joint.output.splitlines()[-1]
    dark = call("run", LINE, "--do", "S1.press@0.1s", "--fault", "H1/lamp=open")
    assert "H1 dark" in dark.output.splitlines()[-1]
    assert "K1 in" in dark.output.splitlines()[-1]


def test_explain_gives_reading_sentences_and_influences() -> None:
    done = call("explain", LINE, "S1:13,S1:14")
    assert done.output.startswith(
        "230.9 V\nRed, on S1:13 (wire 3), is joined to L1 through S0, F2 95-96, F1 and Q1 1-2."
    )
    assert "S1 (0.003 V)" in done.output
    data = json.loads(call("explain", LINE, "S1:13,S1:14", "--json").output)
    assert data["reading"]["display"] == "230.9"


def test_validate_reads_files(tmp_path: Path) -> None:
    file = tmp_path / "circuit.json"
    file.write_text(library_circuit(LINE).model_dump_json(), encoding="utf-8")
    assert "valid, 15 devices, 35 conductors" in call("validate", str(file)).output
    data = json.loads(file.read_text("utf-8"))
    data["devices"][0]["kind"] = "windmill"
    data["devices"][1]["params"] = {"poles": 9}
    file.write_text(json.dumps(data), encoding="utf-8")
    refused = call("validate", str(file))
    assert refused.exit_code == 2
    assert "windmill" in refused.stderr
    assert "isolator has no poles" in refused.stderr


def test_export_spice_is_a_netlist() -> None:
    text = call("export", "spice", LINE, "--do", "S1.press@0.1s").output
    assert text.startswith("* Condensate sump pump")
    assert "* contactor coil" in text
    assert text.rstrip().endswith(".end")


@pytest.mark.parametrize(
    ("words", "told"),
    [
        (("run", "nothing"), "no file nothing"),
        (("run", LINE, "--do", "S9.press@1s"), "no device S9. The circuit has: G1, Q1"),
        (("run", LINE, "--do", "S1.press"), "not of the form DEVICE.OPERATION"),
        (("run", LINE, "--do", "S1.paint@0.1s"), "S1 has no paint"),
        (("run", LINE, "--until", "soon"), "not a number with a unit"),
        (("run", LINE, "--probe", "K1:A1"), "not of the form TERMINAL,TERMINAL"),
        (("run", LINE, "--probe", "K1:A1,K1:A9"), "no terminal K1:A9"),
        (("run", LINE, "--fault", "c99=open"), "no device or conductor c99"),
        (("run", LINE, "--fault", "K1/heart=open"), "K1 has no element heart"),
        (("explain", LINE, "K1,K2"), "not of the form DEVICE:TERMINAL"),
    ],
)
def test_errors_are_one_line_and_exit_with_2(words: tuple[str, ...], told: str) -> None:
    done = call(*words)
    assert done.exit_code == 2
    assert told in done.stderr
    assert "Traceback" not in done.stderr


@pytest.mark.parametrize(
    ("text", "unit", "value"),
    [
        ("4k7", "ohm", 4700),
        ("4R7", "ohm", 4.7),
        ("10 µF", "F", 1e-5),
        ("1.5 mm²", "mm2", 1.5),
        ("300", "ohm", 300),
        ("300 Ω", "ohm", 300),
        ("2,2 kohm", "ohm", 2200),
        ("250ms", "s", 0.25),
        ("2 min", "s", 120),
        ("-3 V", "V", -3),
    ],
)
def test_quantities_are_read_as_people_write_them(text: str, unit: str, value: float) -> None:
    assert parse_quantity(text, unit) == pytest.approx(value)


@pytest.mark.parametrize(
    ("text", "unit"), [("", "V"), ("V", "V"), ("1 V", "A"), ("1..2", "s"), ("nan", "s"), ("4k7 V", "A")]
)
def test_what_is_no_quantity_is_refused(text: str, unit: str) -> None:
    with pytest.raises(ValueError, match=r"."):
        parse_quantity(text, unit)


def test_an_operation_with_a_figure_in_its_name_can_be_given() -> None:
    done = CliRunner().invoke(main, ["run", LINE, "--do", "G1.l2=off@0.1s", "--until", "0.3s"])
    assert done.exit_code == 0, done.output
    assert "without L2" in done.output


@pytest.mark.parametrize(
    "words",
    [
        ("run", LINE, "--until", "9" * 400),
        ("run", LINE, "--until", "2 9"),
        ("run", LINE, "--until", "99999999999 s"),
        ("run", LINE, "--do", f"S1.press@{'9' * 400}"),
        ("run", LINE, "--do", "S1.press@1s..99999999999s"),
        ("run", LINE, "--fault", f"K1:A1={'9' * 400}ohm"),
        ("run", LINE, "--fault", f"K1:A1=open@{'9' * 400}s"),
    ],
)
def test_a_figure_that_nothing_can_be_is_told_in_a_sentence(words: tuple[str, ...]) -> None:
    done = call(*words)
    assert done.exit_code != 0
    assert isinstance(done.exception, SystemExit), done.exception
    assert "Traceback" not in done.output
    assert len(done.output) < 600
