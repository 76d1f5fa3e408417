"""The versions of the circuit document, and the way from each to the next.

2   A coil for direct current drops out below a voltage of its own (`drop_out_dc_percent`). Before, the one that it
    shared with a coil for alternating current was kept in the document and had no effect any more.
3   A push button has a `role`. Before, its name said what it is for. Choices have ids; before, they were the words that
    people read.
4   A phase monitor has a delay for undervoltage and one for overvoltage. Before, they were one.
5   It has an operating description. Before, nobody could say in a document what its circuit is to do.
"""

import re
from collections.abc import Callable, Mapping
from typing import Any, Final

from wiretrace.upgrading import Data, Upgrades

Device = Mapping[str, Any]


def _each_device(step: Callable[[Device, Data], Any]) -> Callable[[Data], dict[str, Any]]:
    """A step of the document from one of its devices with parameters; what is none is left as it is."""

    def whole(data: Data) -> dict[str, Any]:
        devices = data.get("devices")
        if not isinstance(devices, list):
            return dict(data)
        return {**data, "devices": [_with_params(device, step) for device in devices]}

    return whole


def _with_params(device: Any, step: Callable[[Device, Data], Any]) -> Any:
    params = device.get("params") if isinstance(device, Mapping) else None
    return {**device, "params": step(device, params)} if isinstance(params, Mapping) else device


def _own_drop_out(device: Device, params: Data) -> Data:
    if params.get("coil_kind") != "DC" or "drop_out_percent" not in params:
        return params
    moved = {name: value for name, value in params.items() if name != "drop_out_percent"}
    return {"drop_out_dc_percent": params["drop_out_percent"], **moved}


RENAMED: Final[Mapping[str, Mapping[str, str]]] = {
    "auxiliary_block": {"1 NO + 1 NC": "1NO_1NC", "2 NO + 2 NC": "2NO_2NC", "4 NO": "4NO"},
    "contacts": {"NO + NC": "NO_NC"},
    "layout": {"common 1, up 2, down 3": "common_first", "up 1, common 2, down 3": "common_middle"},
    "link_class": {"gG, general use": "gG", "aM, short circuits of motors": "aM", "time delay": "time_delay"},
    "mode": {"on-delay": "on_delay", "off-delay": "off_delay", "one-shot": "one_shot"},
    "reset": {"by hand": "by_hand"},
    "suppressed_by": {"RC element": "rc"},
    "taps": {"no taps": "none", "taps at 95 and 105 %": "95_105"},
    "type": {"RC element": "rc"},
    "voltage": {"24 V DC": "24_DC", "120 V AC": "120_AC", "230 V AC": "230_AC"},
    "works_by": {"melting alloy": "melting_alloy", "magnetic with dashpot": "dashpot"},
}
"""Choices by the name of their parameter: what stood in a document of version 2, and its id since."""


def renamed_choice(name: str, value: Any) -> Any:
    """The id of a choice that was written as words."""
    return RENAMED.get(name, {}).get(value, value) if isinstance(value, str) else value


_BUTTONS: Final = ("push_button", "push_button_lit")
_ROLES: Final = ("stop", "jog", "reset", "start")


def _roles_and_ids(device: Device, params: Data) -> Data:
    ids = {name: renamed_choice(name, value) for name, value in params.items()}
    role = _role(device, ids) if device.get("kind") in _BUTTONS else None
    return ids if role is None or "role" in ids else {**ids, "role": role}


def _role(device: Device, params: Data) -> str | None:
    """What its name said: the first of these words in it, but a red button that does not say stop stops as it is."""
    name = device.get("function")
    words = set(re.findall(r"[a-z]+", name.lower())) if isinstance(name, str) else set()
    role = next((role for role in _ROLES if role in words), None)
    return role if role == "stop" or params.get("colour") != "red" else None


ONE_DELAY: Final = "voltage_delay_s"


def _two_delays(device: Device, params: Data) -> Data:
    if device.get("kind") != "phase_monitor" or ONE_DELAY not in params:
        return params
    moved = {name: value for name, value in params.items() if name != ONE_DELAY}
    return {"under_delay_s": params[ONE_DELAY], "over_delay_s": params[ONE_DELAY], **moved}


circuit_upgrades: Final = Upgrades(
    "document",
    _each_device(_own_drop_out),
    _each_device(_roles_and_ids),
    _each_device(_two_delays),
    lambda data: {"description": [], **data},
)


def upgraded_fault(data: Any) -> Any:
    """A fault as it was kept beside a document of an earlier version: a wrong setting names what there is since."""
    if not isinstance(data, Mapping) or data.get("kind") != "setting" or not isinstance(data.get("name"), str):
        return data
    name = "under_delay_s" if data["name"] == ONE_DELAY else data["name"]
    return {**data, "name": name, "value": renamed_choice(name, data.get("value"))}
