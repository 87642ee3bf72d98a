"""What the Bench shows around its field."""

from iron_probe.core.job.fold import JobLog
from iron_probe.core.job.job import Job
from iron_probe.web.bench.page import bench_page
from iron_probe.web.bench.typed import Typed


def test_the_map_says_what_each_point_should_show_only_where_asked(worked: tuple[Job, JobLog]) -> None:
    assert bench_page(*worked, Typed()).volts == ()
    page = bench_page(*worked, Typed(volts="1", state="rest"))
    shown = {p.id: text for p, text in page.volts}
    assert shown[page.sheet.minus] == "0 mV" and shown[page.sheet.plus].startswith("12.") and shown["front.stud"] == shown[page.sheet.plus]
    assert len(page.volts) == len(page.drawing.points)
    cranking = bench_page(*worked, Typed(volts="1", state="crank"))
    assert {b.heavy for b, _, _ in cranking.shares} == {True} and all(0 < drop_v < may_v for _, drop_v, may_v in cranking.shares)


def test_rows_are_the_newest(worked: tuple[Job, JobLog]) -> None:
    page = bench_page(*worked, Typed())
    assert len(page.rows) <= 30 and page.older == len(page.log.readings) - len(page.rows)
