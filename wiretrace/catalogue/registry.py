"""The one list of kinds of device."""

from types import MappingProxyType

from wiretrace.catalogue import (
    contactor,
    controller,
    current,
    direct,
    interlock,
    loads,
    maintained,
    monitor,
    motors,
    overload,
    push_button,
    relay,
    sensors,
    supply,
    switchgear,
    timers,
    transformer,
    up_down,
)

KINDS = MappingProxyType(
    {
        kind.name: kind
        for kind in (
            supply.ThreePhaseSupply(),
            supply.SinglePhaseSupply(),
            direct.DirectSupply(),
            direct.PowerSupply(),
            transformer.ControlTransformer(),
            switchgear.Isolator(),
            switchgear.Breaker(),
            switchgear.Fuses(),
            switchgear.MotorStarter(),
            overload.OverloadRelay(),
            overload.ShellDisc(),
            monitor.PhaseMonitor(),
            contactor.Contactor(),
            interlock.MechanicalInterlock(),
            relay.ControlRelay(),
            timers.TimerRelay(),
            timers.StarDeltaTimer(),
            controller.Controller(),
            push_button.PushButton(),
            maintained.EmergencyStop(),
            maintained.OnOffSwitch(),
            maintained.HandOffAuto(),
            up_down.UpDownSwitch(),
            maintained.LimitSwitch(),
            maintained.FloatSwitch(),
            maintained.PressureSwitch(),
            maintained.TemperatureSwitch(),
            sensors.TwoWireSensor(),
            sensors.ThreeWireSensor(),
            loads.Lamp(),
            loads.Horn(),
            motors.ThreeLeadMotor(),
            motors.SixLeadMotor(),
            up_down.ReversibleMotor(),
            loads.Solenoid(),
            current.CurrentTransformer(),
            current.Ammeter(),
            current.DigitalAmmeter(),
            loads.TerminalBlock(),
            current.ShortingTerminals(),
        )
    }
)
"""Every kind by name, in the order in which a list of parts shows them."""
