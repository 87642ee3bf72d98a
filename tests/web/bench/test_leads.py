"""Where the leads stand on the Bench, and what a good machine shows there."""

import pytest

from iron_probe.core.diagnose.evidence import Instrument
from iron_probe.core.diagnose.scope import Scope
from iron_probe.core.job.fold import JobLog
from iron_probe.core.job.job import Job
from iron_probe.web.bench.leads import probe_part
from iron_probe.web.bench.typed import Typed


def test_what_is_unknown_in_an_address_is_left_out(worked: tuple[Job, JobLog]) -> None:
    job, _ = worked
    leads = probe_part(job, Typed(red="nowhere", black=job.sheet.minus, state="flying", instrument="spoon"), None, Scope.STARTING)
    assert (leads.red, leads.black, leads.instrument) == ("", job.sheet.minus, Instrument.VOLTMETER)
    assert leads.state in job.sheet.states and leads.good is None


def test_the_posts_while_cranking_read_as_a_good_machine_would(worked: tuple[Job, JobLog]) -> None:
    job, _ = worked
    leads = probe_part(job, Typed(red=job.sheet.plus, black=job.sheet.minus, state="crank"), None, Scope.STARTING)
    assert leads.good is not None and leads.low < leads.good < leads.high and 8 < leads.good < 13
    swapped = probe_part(job, Typed(red=job.sheet.minus, black=job.sheet.plus, state="crank"), None, Scope.STARTING)
    assert swapped.good == pytest.approx(-leads.good)


def test_a_point_may_be_named_by_its_title_and_the_way_to_it_is_the_current_s(worked: tuple[Job, JobLog]) -> None:
    job, _ = worked
    titled = job.sheet.points["relay.86"].title.upper()
    leads = probe_part(job, Typed(red=titled, black="relay.85", state="crank"), None, Scope.STARTING)
    assert leads.red == "relay.86" and leads.way == ("start-relay.coil",)
    lost = probe_part(job, Typed(red="start relay 99", black="relay.85", state="crank"), None, Scope.STARTING)
    assert lost.red == "" and "did you mean" in lost.unknown
