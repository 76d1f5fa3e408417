"""The one list of kinds of device."""

from types import MappingProxyType

from wiretrace.catalogue import (
    contactor,
    loads,
    maintained,
    monitor,
    motors,
    overload,
    push_button,
    relay,
    supply,
    switchgear,
    timers,
    transformer,
)

KINDS = MappingProxyType(
    {
        kind.name: kind
        for kind in (
            supply.ThreePhaseSupply(),
            supply.SinglePhaseSupply(),
            transformer.ControlTransformer(),
            switchgear.Isolator(),
            switchgear.Breaker(),
            switchgear.Fuses(),
            switchgear.MotorStarter(),
            overload.OverloadRelay(),
            monitor.PhaseMonitor(),
            contactor.Contactor(),
            relay.ControlRelay(),
            timers.TimerRelay(),
            timers.StarDeltaTimer(),
            push_button.PushButton(),
            maintained.EmergencyStop(),
            maintained.OnOffSwitch(),
            maintained.HandOffAuto(),
            maintained.LimitSwitch(),
            maintained.FloatSwitch(),
            maintained.PressureSwitch(),
            maintained.TemperatureSwitch(),
            loads.Lamp(),
            loads.Horn(),
            motors.ThreeLeadMotor(),
            motors.SixLeadMotor(),
            loads.Solenoid(),
            loads.TerminalBlock(),
        )
    }
)
"""Every kind by name, in the order in which a list of parts shows them."""
