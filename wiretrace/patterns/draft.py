"""A circuit being put together: devices, and potentials as lists of terminals."""

from itertools import pairwise

from wiretrace.document.circuit import Circuit, Conductor, Device, End

POWER_MM2 = 2.5


class Draft:
    """Collects devices and the terminals of each potential; each potential becomes a chain of wires."""

    def __init__(self, title: str) -> None:
        self.title = title
        self.devices: dict[str, Device] = {}
        self.nets: dict[str, list[End]] = {}
        self.control = 0

    def device(self, label: str, kind: str, function: str, **params: bool | float | str) -> str:
        """Add a device; its id is its label in small letters."""
        name = label.lower().replace(".", "-")
        self.devices[name] = Device(id=name, kind=kind, label=label, function=function, params=params)
        return name

    def join(self, net: str, *ends: str) -> None:
        """Put terminals, written "k1:A1", on a potential."""
        for text in ends:
            device, terminal = text.split(":")
            self.nets.setdefault(net, []).append(End(device=device, terminal=terminal))

    def next_net(self) -> str:
        """A number for a further potential of the control circuit."""
        self.control += 1
        return str(self.control)

    def circuit(self) -> Circuit:
        """The circuit, without geometry."""
        conductors: list[Conductor] = []
        for net, ends in self.nets.items():
            size = 1.5 if net.isdigit() or net == "N" else POWER_MM2
            for a, b in pairwise(ends):
                count = f"w{len(conductors) + 1}"
                conductors.append(Conductor(id=count, a=a, b=b, number=net, cross_section_mm2=size))
        return Circuit(title=self.title, devices=tuple(self.devices.values()), conductors=tuple(conductors))
