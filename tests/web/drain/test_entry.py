"""Totals and sweep readings are asked about, corrected and dated as any reading is."""

import re

from tests.conftest import Visitor
from tests.web.drain.steps import take_in


def total(visitor: Visitor, job: str, value: str, **said: str) -> str:
    return visitor.submit(job + "/drain/totals", at="total", value=value, way="clamp", back="/drain", **said)


def test_amperes_typed_where_milliamperes_are_meant_are_asked_about(visitor: Visitor) -> None:
    job = take_in(visitor)
    page = total(visitor, job, "0.42")
    assert visitor.last.status_code == 422
    assert "0.42 mA is less than a clamp shows: a bare figure is in mA. Log it anyway?" in page and 'value="0.42"' in page
    assert "420 A while it sleeps" in total(visitor, job, "420 A")
    assert "42 mA" in total(visitor, job, "42")
    assert visitor.last.status_code == 200


def test_a_total_is_corrected_where_it_is_typed(visitor: Visitor) -> None:
    job = take_in(visitor)
    page = total(visitor, job, "4300 mA")
    entry = re.search(r"/drain\?corrects=([0-9a-f-]+)", page)
    assert entry
    page = visitor.get(f"{job}/drain?corrects={entry[1]}").text
    assert 'value="4300 mA"' in page and "Correct <kbd>" in page
    page = total(visitor, job, "430", corrects=entry[1])
    assert "430 mA<small>total" in page and "1 reading so far" in page
    assert "no longer counts" in total(visitor, job, "431", corrects=entry[1])


def test_undo_takes_back_what_was_put_down_last_and_nothing_an_instrument_sent(visitor: Visitor) -> None:
    job = take_in(visitor)
    total(visitor, job, "430")
    total(visitor, job, "410", read_at="2 h ago")
    key = visitor.job(int(job.rsplit("/", 1)[1])).key
    assert visitor.post(f"/api/v1{job}/totals", json={"amps": 0.39}, headers={"X-Job-Key": key}).json()["kept"]
    page = visitor.get(job + "/drain").text
    assert "3 readings so far" in page and page.count('aria-label="Withdraw reading D') == 2
    newest = page.split(' data-key="u"')[0].rsplit('name="entry" value="', 1)[1].split('"')[0]
    page = visitor.submit(job + "/undo", entry=newest, back="/drain")
    assert "2 readings so far" in page and ">410<" not in page and ">430<" in page


def test_a_total_noted_on_paper_is_not_the_present_one(visitor: Visitor) -> None:
    job = take_in(visitor)
    total(visitor, job, "40")
    page = total(visitor, job, "430", read_at="2 h ago")
    assert '<p class="present ">40 mA' in page


def test_a_sweep_reading_is_corrected_at_its_slot_and_withdrawn_from_the_list(visitor: Visitor) -> None:
    job = take_in(visitor)
    total(visitor, job, "430")
    sent = {"where": "c2", "way": "fuse drop", "at": "c2", "back": "/drain/sweep?at=c2"}
    page = visitor.submit(job + "/drain/readings", value="9.0", **sent)
    entry = re.search(r"/drain/sweep\?at=c2&amp;corrects=([0-9a-f-]+)", page)
    assert entry
    page = visitor.get(f"{job}/drain/sweep?at=c2&corrects={entry[1]}").text
    assert 'value="9.0"' in page
    page = visitor.submit(job + "/drain/readings", value="0.9", corrects=entry[1], **sent)
    assert ">0.9<" in page and ">9.0<" not in page
    newest = re.search(r'value="([0-9a-f-]+)" aria-label="Withdraw reading D2"', page)
    assert newest
    assert ">0.9<" not in visitor.submit(job + "/undo", entry=newest[1], back="/drain/sweep?at=c2")
