"""Ways to break what converters, braking relays, capacitors and voltages that die away rest on."""

from typing import Final

from scripts.broken import Break

BREAKS: Final = (
    Break(
        "a motor keeps its residual voltage",
        "wiretrace/catalogue/motors/residual.py",
        "first_v = -voltage(state) * abs(share) * abs(speed)",
        "first_v = -voltage(state) * abs(share)",
        "tests/core/test_residual_voltage.py",
    ),
    Break(
        "a residual voltage is told as one of the supply",
        "wiretrace/instruments/voltmeter.py",
        "hertz = (None, *(one.frequency_hz for one in point.others))[most]",
        "hertz = None",
        "tests/core/test_residual_voltage.py",
    ),
    Break(
        "each frequency is solved at that of the supplies",
        "wiretrace/simulation/equations.py",
        "            omega = 2 * math.pi * frequency_hz\n",
        "            omega = self._omega\n",
        "tests/core/test_frequency_converter.py",
    ),
    Break(
        "a motor does not follow its converter",
        "wiretrace/catalogue/motors/tuned.py",
        "            if abs(tone.current_a) > largest_a:",
        "            if abs(tone.current_a) > 1e9:",
        "tests/core/test_frequency_converter.py",
    ),
    Break(
        "an emergency stop that is let go of starts the drive",
        "wiretrace/catalogue/motors/converter_ramp.py",
        "armed = ready and _enabled(params, state) and (bool",
        "armed = ready and (bool",
        "tests/core/test_frequency_converter.py",
    ),
    Break(
        "mains at the output of a converter that is off does nothing",
        "wiretrace/catalogue/motors/converter_guard.py",
        'or (not state["way"] and found.foreign_v',
        'or (state["destroyed"] and found.foreign_v',
        "tests/core/test_frequency_converter.py",
    ),
    Break(
        "a converter takes in nothing of what it gives",
        "wiretrace/catalogue/motors/converter_figures.py",
        "max(0.0, watts) / EFFICIENCY",
        "0.0 * watts",
        "tests/core/test_frequency_converter.py",
    ),
    Break(
        "nobody sees mains come to a converter",
        "wiretrace/checks/converter_rules.py",
        'pole.device != item.id and pole.what == "live"',
        'pole.device == item.id and pole.what == "live"',
        "tests/core/test_checks.py",
    ),
    Break(
        "a ramp is not waited through when a circuit is worked",
        "wiretrace/checks/playing/explore.py",
        "if due is None or not same or",
        "if due is None or same or",
        "tests/core/test_played.py",
    ),
    Break(
        "a brake does not wait",
        "wiretrace/catalogue/motors/braking_relay.py",
        'number(params, "waits_s"))',
        "0.001)",
        "tests/core/test_braking_relay.py",
    ),
    Break(
        "a brake survives the lines",
        "wiretrace/catalogue/motors/braking_relay.py",
        '{**self._rests(state), "destroyed": True, "breaks_at_us": None}',
        '{**self._rests(state), "breaks_at_us": None}',
        "tests/core/test_braking_relay.py",
    ),
    Break(
        "leading contacts charge nothing",
        "wiretrace/catalogue/switching/capacitor_contactor.py",
        'begins = state["position"] == travel.REST and',
        'begins = state["position"] == travel.HOME and',
        "tests/core/test_capacitors.py",
    ),
    Break(
        "capacitors that are off hold nothing",
        "wiretrace/simulation/equations.py",
        "conductance[emf != 0] = HOLDS_S",
        "conductance[emf != 0] = 1e-9",
        "tests/core/test_capacitors.py",
    ),
    Break(
        "a transformer keeps its flux for ever",
        "wiretrace/catalogue/supply/transformer.py",
        "            goes_at = now_us + self.FLUX_GOES_US",
        "            goes_at = None",
        "tests/core/test_transformer.py",
    ),
    Break(
        "a relay for one sensor is ready for another",
        "wiretrace/catalogue/protection/thermistor_relay.py",
        'sensor = SENSORS[str(params["sensors"])]\n        if watching',
        'sensor = SENSORS["ptc"]\n        if watching',
        "tests/core/test_temperature_sensors.py",
    ),
    Break(
        "a relay does not tell its limit",
        "wiretrace/explain/event.py",
        '        return f"; {limit}"',
        '        return ""',
        "tests/core/test_limits_told.py",
    ),
)
