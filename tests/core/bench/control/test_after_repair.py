"""What a replaced part asks for before the job closes."""

from iron_probe.core.bench.control.after_repair import todos
from iron_probe.machines import load_sheet


def test_after_a_replacement() -> None:
    sheet = load_sheet("pool-car")
    by = {t.id for t in todos([sheet.element("engine-module"), sheet.element("battery")])}
    assert {"module-theft", "battery-register"} <= by
    assert todos([sheet.element("clamp-minus" if any(e.id == "clamp-minus" for e in sheet.elements) else "lamp-switch")]) == []
