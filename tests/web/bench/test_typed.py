"""What stood in the field stands there again."""

from starlette.datastructures import FormData

from iron_probe.core.job.fold import JobLog
from iron_probe.core.job.job import Job
from iron_probe.web.bench.typed import Typed


def test_a_reading_fills_the_field_for_its_correction(worked: tuple[Job, JobLog]) -> None:
    old = next(r for r in worked[1].readings if r.reading.red and r.counts)
    typed = Typed.correcting(old)
    assert (typed.red, typed.black, typed.value, typed.corrects) == (old.reading.red, old.reading.black, old.typed, str(old.id))
    assert typed.same_crank and not typed.conditioned


def test_a_refused_form_keeps_all_it_held_and_no_more_than_fits() -> None:
    typed = Typed.of(FormData([("value", "12,4"), ("red", "r" * 900), ("aided", "charger"), ("told", "1"), ("open", "f1,f4")]))
    assert (typed.value, len(typed.red), typed.told, typed.open) == ("12,4", 200, True, "f1,f4") and typed.conditioned
