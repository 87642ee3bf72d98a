"""How much a path may lose while the current it exists to carry is flowing: two schools, and the machine's own figure."""

from dataclasses import dataclass
from enum import StrEnum

from iron_probe.core.circuit.elements import Element
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.phrase import Phrase


class School(StrEnum):
    """Whose limits count for drops while cranking."""

    COMMON = "common"
    TIGHT = "tight"
    MACHINE = "machine"


@dataclass(frozen=True, slots=True, kw_only=True)
class Limits:
    """Allowed drop [V] of one joint, one cable, one whole side (supply or ground), with where the figures come from and why."""

    joint_v: float
    cable_v: float
    side_v: float
    source: str
    reason: str


SCHOOLS: dict[School, Limits] = {
    School.COMMON: Limits(
        joint_v=0.1,
        cable_v=0.2,
        side_v=0.4,
        source=Phrase("common practice, no published source"),
        reason=Phrase("default: finds what stops a start today and spares joints that still do their work"),
    ),
    School.TIGHT: Limits(
        joint_v=0.1,
        cable_v=0.1,
        side_v=0.3,
        source=Phrase("common practice, no published source"),
        reason=Phrase("for machines that must start in the cold: finds the joint that is on its way"),
    ),
}


def limits_for(school: School, sheet: Sheet) -> Limits:
    """Limits of a school; for MACHINE the sheet's own figures, or the common school where it has none. 24 V doubles them."""
    if school is School.MACHINE and sheet.allowance is not None:
        own = sheet.allowance
        return Limits(
            joint_v=own.joint_v,
            cable_v=own.cable_v,
            side_v=own.side_v,
            source=Phrase("the machine's circuit sheet"),
            reason=Phrase("the machine's own figure"),
        )
    limits = SCHOOLS[School.TIGHT if school is School.TIGHT else School.COMMON]
    scale = max(sheet.system_v / 12, 1.0)
    if scale == 1.0:
        return limits
    return Limits(
        joint_v=limits.joint_v * scale,
        cable_v=limits.cable_v * scale,
        side_v=limits.side_v * scale,
        source=limits.source,
        reason=Phrase("{reason}; doubled for a {system_v} V system", reason=limits.reason, system_v=sheet.system_v),
    )


CABLE_TYPES = ("cable", "wire", "frame")


def element_allowance_v(element: Element, limits: Limits) -> float:
    """Allowed drop [V] of a single element of a heavy path."""
    return limits.cable_v if element.type in CABLE_TYPES else limits.joint_v
