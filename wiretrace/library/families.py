"""What the circuits that ship are about: by family, what each shows and what to try on it."""

from dataclasses import dataclass
from typing import Final


@dataclass(frozen=True)
class Shown:
    """A circuit of a family: its name, what it shows, and what to try."""

    name: str
    shows: str
    tries: str


@dataclass(frozen=True)
class Family:
    title: str
    circuits: tuple[Shown, ...]


FAMILIES: Final[tuple[Family, ...]] = (
    Family(
        "Start-stop",
        (
            Shown(
                "start-stop-overload-line",
                "Start, stop and seal-in, with the overload contact before the buttons.",
                "Press start, let go, and read across start and across stop. Trip F2.",
            ),
            Shown(
                "start-stop-overload-neutral",
                "The same with the overload contact behind the coil, on the neutral.",
                "Trip F2 and read from A1 and from A2 to neutral: both stand at line voltage.",
            ),
            Shown(
                "start-stop-two-stations",
                "Stops in series, starts in parallel, and an emergency stop before all.",
                "Hold stop at one station and press start at the other.",
            ),
            Shown(
                "control-transformer-earthed",
                "Control behind a transformer whose secondary is earthed.",
                "Put an earth fault at the coil: the fuse blows.",
            ),
            Shown(
                "control-transformer-unearthed",
                "The same without an earth: the first earth fault does nothing.",
                "Read from any terminal to earth, before and after an earth fault.",
            ),
            Shown(
                "control-transformer-480-120",
                "Control at 120 V from 480 V, with melting-alloy overload relays.",
                "Jam the motor, and try to reset before the alloy has set.",
            ),
        ),
    ),
    Family(
        "Two-wire",
        (
            Shown("two-wire-float", "A float alone runs the pump.", "Raise the level; switch the supply off and on."),
            Shown("two-wire-pressure", "A pressure switch runs a compressor.", "Let the pressure fall and rise."),
            Shown("two-wire-thermostat", "A thermostat runs a fan.", "Heat it up, and open the control breaker."),
            Shown(
                "level-relay-pump",
                "Electrodes in a tank and a relay that waits between two levels.",
                "Fill and empty the tank; take the wire of the common rod off.",
            ),
        ),
    ),
    Family(
        "Hand-off-auto",
        (
            Shown(
                "hand-off-auto", "A selector between hand and a pressure switch.", "Turn it with pressure high and low."
            ),
            Shown(
                "hand-off-auto-timer",
                "The same, with a start that waits.",
                "Let the demand go before the time is over.",
            ),
        ),
    ),
    Family(
        "Jog",
        (
            Shown(
                "jog-and-run",
                "A jog button whose other contact breaks the seal.",
                "Jog, and let go: it must not run on.",
            ),
            Shown("jog-and-run-relay", "Jog and run kept apart by a relay.", "Jog while it runs."),
            Shown(
                "hoist-brake-rectifier",
                "A hoist worked by holding, with a brake that a rectifier releases.",
                "Let go and see it stop; take a wire of the brake off.",
            ),
        ),
    ),
    Family(
        "Reversing",
        (
            Shown("reversing-stage-1", "Each contactor fed through the other.", "Press both buttons."),
            Shown("reversing-stage-2", "The same with seal-in.", "Reverse without stopping first."),
            Shown("reversing-stage-3", "And with the buttons against each other.", "Press one while the other runs."),
            Shown("reversing-interlocked", "Both interlocks and limit switches.", "Run to an end and back."),
            Shown(
                "reversing-mechanical-interlock",
                "A mechanical interlock alone: both coils can still be fed.",
                "Press both buttons at one instant, and leave them pressed.",
            ),
            Shown(
                "plugging-zero-speed",
                "Braked by reversing the field until a zero-speed switch opens.",
                "Stop it at full speed, and press stop again at standstill.",
            ),
            Shown(
                "direct-current-braking",
                "Braked by direct current for as long as a delay block on the contactor says.",
                "Time the way to standstill with F3 on and off; read the direct current with the clamp.",
            ),
            Shown(
                "braking-relay",
                "The same by a relay that waits, brakes, and keeps the contactor out meanwhile.",
                "Press start while it brakes. Then bridge 11 and 12 of T1, and press it again.",
            ),
        ),
    ),
    Family(
        "Star-delta and other starts",
        (
            Shown(
                "star-delta-timer-first-closure", "Star-delta timer, windings closed one way.", "Compare the surges."
            ),
            Shown("star-delta-timer-second-closure", "The same, closed the other way.", "Compare the surges."),
            Shown("star-delta-relay", "With a plain timer relay.", "Follow both contactors at the change."),
            Shown("star-delta-winding-overload", "Overload relay in the windings.", "Set its dial as in the line."),
            Shown(
                "star-delta-closed-transition",
                "Over to delta by way of resistors, never without current.",
                "Compare the current at the change with that of an open transition.",
            ),
            Shown("two-speed-fan", "Two windings, two speeds.", "Change down at full speed, and read the current."),
            Shown(
                "two-speed-tapped-winding",
                "One winding: a delta for slow, a double star for fast.",
                "Put an open coil into K3, start fast, and read the currents of the lines.",
            ),
            Shown("autotransformer-starter", "Started at 65 % of the voltage.", "Read line and motor current."),
            Shown(
                "wound-rotor-starter",
                "Resistance at the slip rings, shorted step by step.",
                "Read volts between the rings at standstill and running; open one ring and start again.",
            ),
            Shown(
                "capacitors-at-a-motor",
                "Capacitors that give a motor its reactive current.",
                "Compare the clamp before and behind them; stop it, and read the voltage that they keep.",
            ),
            Shown("soft-starter-bypass", "The voltage rises, then a contactor takes over.", "Set a longer ramp."),
            Shown(
                "frequency-converter-fan",
                "Any speed: voltage and frequency rise together.",
                "Read volts, amperes and rpm at 20 and at 50 Hz; strike S9 while it runs, and let it go.",
            ),
            Shown(
                "frequency-converter-contactor-mistake",
                "A contactor between converter and motor that switches while it runs.",
                "Press start. Then lead 53-54 of K1 between 24V and RF, and start again.",
            ),
        ),
    ),
    Family(
        "Protection",
        (
            Shown("phase-monitor", "A phase monitor in the stop circuit.", "Take each phase away; exchange two."),
            Shown("phase-monitor-downstream", "The same behind a fuse: it sees less.", "Blow one fuse while it runs."),
            Shown(
                "phase-failure-voltage-and-current",
                "Two relays side by side: a running motor deceives one of them.",
                "Open a pole of Q2 while it runs, and read the voltage of the lost phase.",
            ),
            Shown("thermistor-relay", "Thermistors in the windings.", "Overload it; open and short the string."),
            Shown(
                "earth-leakage-relay",
                "What leaks to earth, through one window.",
                "Put 2 kilohm, then 500 ohm to earth.",
            ),
            Shown(
                "residual-current-device",
                "What does not come back opens all poles.",
                "Press its button; put 20 kilohm, then 3 kilohm from a lead of the motor to its frame.",
            ),
            Shown(
                "residual-current-neutral-mistake",
                "A neutral taken from before the device trips it at each start.",
                "Press start; follow the neutral of K1; read the residual current.",
            ),
            Shown(
                "corner-earthed-supply",
                "A delta with one phase earthed: two phases read to earth, one reads nothing.",
                "Read L1, L2 and L3 to earth. Put an earth fault at V1, then at U1.",
            ),
            Shown("insulation-monitor", "An unearthed circuit that is watched.", "Put one earth fault anywhere."),
            Shown(
                "motor-protection-relay",
                "Overload, phase loss, jam and underload by three transformers.",
                "Jam it, lose a phase, take the load off; read its trip codes.",
            ),
            Shown(
                "undervoltage-release", "A breaker that falls with the voltage.", "Let the supply fail for a moment."
            ),
            Shown(
                "safety-relay-dual-contactors",
                "Emergency stop and lid in both channels, two contactors, and a start that is watched.",
                "Strike S0; take a wire of one channel off alone; weld a contactor.",
            ),
        ),
    ),
    Family(
        "Measuring current",
        (
            Shown(
                "current-transformer-ammeter",
                "An ammeter on a transformer, with a shorting link.",
                "Open the secondary.",
            ),
            Shown(
                "current-transformer-digital", "Four turns through the window.", "Forget them in the meter's setting."
            ),
        ),
    ),
    Family(
        "Direct voltage and sensors",
        (
            Shown("dc-control-pnp", "A sensor that switches plus.", "Put something in front; short its output."),
            Shown("dc-control-npn", "A sensor that switches minus.", "Read at its output, on and off."),
        ),
    ),
    Family(
        "Controller",
        (
            Shown(
                "star-delta-plc", "Star-delta by program, interlocked by wire as well.", "Stop it in star and in delta."
            ),
        ),
    ),
    Family(
        "Single-phase",
        (
            Shown("up-down-common-first", "A motor up and down, common first.", "Turn it up, off and down."),
            Shown("up-down-common-middle", "The same, common in the middle.", "Compare the terminals."),
            Shown("impulse-relay-lights", "Lights from three doors by pulses.", "Switch the supply off and on."),
        ),
    ),
    Family(
        "Deliberate mistakes",
        (
            Shown(
                "hand-off-auto-seal-in-mistake", "A seal-in across the selector.", "Run it in auto, and turn it off."
            ),
            Shown("two-wire-sensor-leakage", "A sensor's leakage holds a relay in.", "Take the target away."),
            Shown("capacitor-motor-rc-mistake", "An RC element across a switch.", "Turn it off, and take R1 out."),
            Shown("feeder-order", "In which order the feeder is built.", "Short it behind each device."),
        ),
    ),
)
