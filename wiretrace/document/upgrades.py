"""The versions of the circuit document, and the way from each to the next.

2   A coil for direct current drops out below a voltage of its own (`drop_out_dc_percent`). Before, the one that it
    shared with a coil for alternating current was kept in the document and had no effect any more.
"""

from collections.abc import Mapping
from typing import Any, Final

from wiretrace.upgrading import Data, Upgrades


def _direct_coils(data: Data) -> dict[str, Any]:
    devices = data.get("devices")
    if not isinstance(devices, list):
        return dict(data)
    return {**data, "devices": [_with_its_own_drop_out(device) for device in devices]}


def _with_its_own_drop_out(device: Any) -> Any:
    params = device.get("params") if isinstance(device, Mapping) else None
    if not isinstance(params, Mapping) or params.get("coil_kind") != "DC" or "drop_out_percent" not in params:
        return device
    moved = {name: value for name, value in params.items() if name != "drop_out_percent"}
    return {**device, "params": {"drop_out_dc_percent": params["drop_out_percent"], **moved}}


circuit_upgrades: Final = Upgrades("document", _direct_coils)
