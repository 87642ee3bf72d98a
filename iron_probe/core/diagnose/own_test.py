"""What proves an element: its own test, and power, ground and command at it."""

from collections.abc import Sequence

from iron_probe.core.circuit.elements import BranchKind, Module, Relay, Solenoid, Starter
from iron_probe.core.circuit.heavy_path import heavy_path
from iron_probe.core.circuit.network import Network
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.evidence import Instrument, Reading

LEAST_OWN_CURRENT = 0.3
"""A clamp is a starter's own test from this share of its load current."""


def own_test(network: Network, element_id: str, reading: Reading) -> bool:
    """Whether a reading lies on the element alone: both leads on the ends of its working branch, its bypass, or what it draws.

    A coil or a module's own supply is no test of the element: they are its command and its feed (`proofs`).
    """
    element = network.sheet.element(element_id)
    if reading.instrument is Instrument.CLAMP:
        branch = reading.branch or ""
        if not isinstance(element, Starter) or abs(reading.value or 0.0) < LEAST_OWN_CURRENT * element.load_a:
            return False  # no current proves nothing about what it does not flow through
        heavy = heavy_path(network)  # what the starter draws, all of the heavy path carries
        return branch in (*heavy.supply, *heavy.ground) or network.owners[network.find_branch(branch)].type == "battery"
    helpers = (BranchKind.CONDUCTOR, BranchKind.DRAW) if isinstance(element, Relay | Solenoid | Module) else ()
    return any({b.start, b.end} == {reading.red, reading.black} for b in element.branches() if b.kind not in helpers)


def proofs(sheet: Sheet, element_id: str, mode: str) -> tuple[tuple[str, str], ...]:
    """Points whose reading proves power, ground and command at an element that does not answer (or answers unasked).

    A part is condemned only when these are known in the state of its own test; a drop across it under load needs none.
    """
    element = sheet.element(element_id)
    if "resistive" in mode or "burnt" in mode or "high" in mode:
        return ()
    if isinstance(element, Relay):
        return (element.coil,)
    if isinstance(element, Solenoid):
        return ((element.s, element.case),)
    if isinstance(element, Module):
        needs = dict.fromkeys(n.point for o in element.outputs for n in o.needs)
        return ((element.supply, element.ground), *((point, element.ground) for point in needs))
    return ()


def unproven(sheet: Sheet, element_id: str, mode: str, state: str, readings: Sequence[Reading]) -> list[tuple[str, str]]:
    """Those proofs not yet read in that state; against battery minus counts as well as against the element's ground."""
    minus = sheet.minus
    taken = [{r.red, r.black} for r in readings if r.state == state and r.instrument is Instrument.VOLTMETER]
    return [(a, b) for a, b in proofs(sheet, element_id, mode) if {a, b} not in taken and {a, minus} not in taken]
