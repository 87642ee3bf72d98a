"""A step as the Yard keeps it: titles, and nothing that a changed sheet could no longer say."""

from iron_probe.core.diagnose.evidence import Reading
from iron_probe.core.guide.route import Leg
from iron_probe.core.guide.step import Act, GuideStep, How, Why
from iron_probe.core.job.step import JobStep, asked_of, kept_step
from iron_probe.machines import load_sheet

BUS = load_sheet("crew-minibus")


def test_points_parts_and_states_are_kept_by_their_titles_and_what_is_gone_by_its_id() -> None:
    on_part = asked_of(Reading(red="bat.plus", black="isolator.in", branch="isolator", state="crank", value=0.0), BUS)
    assert (on_part.red, on_part.part, on_part.itself) == (BUS.points["bat.plus"].title, BUS.element("isolator").title, True)
    gone = asked_of(Reading(red="bat.plus", black="gone", state="gone", value=0.0), BUS)
    assert (gone.black, gone.state, gone.part, gone.itself) == ("gone", "gone", "", False)


def test_a_kept_step_comes_back_from_its_json() -> None:
    step = kept_step(GuideStep(act=Act.REPAIR, leg=Leg.REPAIR, why=Why.FOUND, parts=("isolator",), how=How.BESIDE), BUS)
    assert step.named == (BUS.element("isolator").title,) and JobStep.model_validate_json(step.model_dump_json()) == step
