"""Runs of services in an IFC file: of which system each is, and which way it flows."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import ifcopenshell.util.placement
import numpy as np
from numpy.typing import NDArray

from edge_slice.core.model.building import Run

F64 = NDArray[np.float64]
INTO, OUT_OF = "SINK", "SOURCE"  # an element, of its ports' directions (ISO 16739, IfcFlowDirectionEnum)
UNSAID = ("NOTDEFINED", "USERDEFINED")


class Runs:
    """Looks up what a file says of runs; one per file."""

    def __init__(self, file: Any) -> None:
        self._systems: dict[int, tuple[str, str]] = {}
        self._ports: dict[int, list[Any]] = {}
        for port, element in _ports(file):
            self._ports.setdefault(element.id(), []).append(port)
        of_port = {port.id(): element for element, ports in self._ports.items() for port in ports}
        for given in file.by_type("IfcRelAssignsToGroup"):
            system = given.RelatingGroup
            if system is None or not system.is_a("IfcSystem"):
                continue
            said = (_name(system), _purpose(system))
            for member in given.RelatedObjects or ():
                self._systems.setdefault(of_port.get(member.id(), member.id()), said)

    def of(self, product: Any) -> Run | None:
        """The run that a product is a piece of; None for anything but straight pieces and what joins them."""
        fitting = product.is_a("IfcFlowFitting")
        if not fitting and not product.is_a("IfcFlowSegment"):
            return None
        system, purpose = self._systems.get(product.id(), ("", ""))
        return Run(system, purpose, fitting, None if fitting else self._flow(product))

    def _flow(self, product: Any) -> tuple[float, float, float] | None:
        """From where it flows in to where it flows out; None where the ports don't tell."""
        at: dict[str, list[F64]] = {INTO: [], OUT_OF: []}
        for port in self._ports.get(product.id(), ()):
            if port.FlowDirection in at and port.ObjectPlacement is not None:
                at[port.FlowDirection].append(ifcopenshell.util.placement.get_local_placement(port.ObjectPlacement))
        if len(at[INTO]) != 1 or len(at[OUT_OF]) != 1:
            return None
        way = at[OUT_OF][0][:3, 3] - at[INTO][0][:3, 3]
        long = float(np.linalg.norm(way))
        if not np.isfinite(long) or long < 1e-9:
            return None
        x, y, z = (round(float(v), 6) for v in way / long)
        return x, y, z


def _ports(file: Any) -> Iterator[tuple[Any, Any]]:
    """Ports with their elements: nested in them (IFC4 and later), or connected to them."""
    for related in file.by_type("IfcRelConnectsPortToElement"):
        if related.RelatingPort is not None and related.RelatedElement is not None:
            yield related.RelatingPort, related.RelatedElement
    if file.schema == "IFC2X3":
        return
    for nest in file.by_type("IfcRelNests"):
        for port in nest.RelatedObjects or ():
            if port.is_a("IfcDistributionPort") and nest.RelatingObject is not None:
                yield port, nest.RelatingObject


def _name(system: Any) -> str:
    return str(getattr(system, "LongName", None) or system.Name or "").strip()


def _purpose(system: Any) -> str:
    """What a system is for in the words of ISO 16739, or in the file's own."""
    said = str(getattr(system, "PredefinedType", None) or "")
    return str(system.ObjectType or "").strip() if said in ("", *UNSAID) else said.lower()
