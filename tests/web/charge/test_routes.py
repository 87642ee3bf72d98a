"""The charge board through the app: readings by place, lamp and forced tests, the stator, a refused subtraction."""

from tests.conftest import Visitor


def take_in(visitor: Visitor, sheet: str) -> str:
    visitor.submit("/jobs", sheet_id=sheet, machine="Board test", symptom="cranks", school="common", temp_degc="15", cold_degc="-5")
    return f"/jobs/{visitor.last.url.path.split('/')[2]}/charge"


def volts(visitor: Visitor, path: str, red: str, black: str, state: str, value: str) -> str:
    return log(visitor, path, at=f"posts:{state}", instrument="voltmeter", red=red, black=black, state=state, value=value)


def log(visitor: Visitor, path: str, **form: str) -> str:
    return visitor.submit(path.replace("/charge", "/readings"), back="/charge", **form)


def test_output_is_judged_and_odd_cells_are_marked(visitor: Visitor) -> None:
    path = take_in(visitor, "estate-car")
    page = volts(visitor, path, "bat.plus", "bat.minus", "fast", "12,4")
    assert "not charging" in page
    assert "odd-cell" in page
    page = log(visitor, path, at="lamp:fast", instrument="function", branch="charge-lamp", state="fast", word="dead")
    assert '<b class="fig">out</b>' in page
    page = log(
        visitor, path, at="substitute_lamp:loaded", instrument="substitute_lamp", branch="alternator", state="loaded", word="charges"
    )
    assert '<b class="fig">charges</b>' in page
    page = volts(visitor, path, "bat.plus", "bat.minus", "fast", "many")
    assert visitor.last.status_code == 422
    assert 'value="many"' in page


def test_a_subtraction_is_refused_while_the_source_falls(visitor: Visitor) -> None:
    path = take_in(visitor, "crew-minibus")
    volts(visitor, path, "bat.plus", "bat.minus", "fast", "14.30")
    volts(visitor, path, "alt.B", "alt.case", "fast", "14.55")
    assert "0.25 V lost both ways" in visitor.get(path).text
    page = volts(visitor, path, "bat.plus", "bat.minus", "fast", "13.60")
    assert "Not subtracted: the source moved by 0.70 V" in page


def test_the_matrix_names_a_shorted_diode(visitor: Visitor) -> None:
    path = take_in(visitor, "patrol-motorcycle")
    fields = {f"{w}{p}{rail}": v for p in "123" for rail in "+−" for w, v in (("f", "0.48"), ("r", "OL"))}
    page = visitor.submit(path + "/stator", **{**fields, "r1−": "0.02", "f1−": "0.02"})
    assert "phase 1 to −: shorted" in page
    page = visitor.submit(path + "/stator", **{**fields, "f1+": "beep"})
    assert visitor.last.status_code == 422
    assert "is not a voltage" in page
    assert 'value="beep"' in page


def test_machines_without_a_stator_say_so(visitor: Visitor) -> None:
    path = take_in(visitor, "estate-car")
    assert "no stator of its own" in visitor.submit(path + "/stator", leads="0.1")


def test_the_stator_form_is_taken_whole_and_its_figures_are_evidence(visitor: Visitor) -> None:
    path = take_in(visitor, "patrol-motorcycle")
    visitor.submit(path + "/stator", leads="0.1", p12="0.6", p23="0.6", p31="0.6")
    page = visitor.submit(path + "/stator", leads="0.1", p12="0.6", p23="OL", p31="OL")
    assert "phase 3 is open" in page
    report = visitor.get(path.replace("/charge", "/report")).text
    assert report.count("corrected by 4") == 3
    entry = page.split('aria-label="Withdraw what was measured of the stator"')[0].rsplit('name="entry" value="', 1)[1].split('"')[0]
    page = visitor.submit(path.replace("/charge", "/undo"), entry=entry, back="/charge#stator")
    assert "phase 3 is open" not in page and 'value="OL"' not in page


def test_a_single_winding_is_asked_for_one_pair_and_two_ends(visitor: Visitor) -> None:
    path = take_in(visitor, "green-mower")
    page = visitor.get(path).text
    assert 'name="p12"' in page and 'name="p23"' not in page and 'name="f3+"' not in page
    page = visitor.submit(path + "/stator", leads="0.1", p12="0.55", ground="OL", rpm="3000", v12="33")
    assert "as a winding has it" in page and "as it should be" in page
    assert "the winding is open" in visitor.submit(path + "/stator", leads="0.1", p12="OL")


def test_the_bus_line_is_read_point_by_point(visitor: Visitor) -> None:
    path = take_in(visitor, "parcel-van")
    good = {"idle:ecu.bus": "12.3", "low:ecu.bus": "0.8", "idle:plug.bus": "12.2", "low:plug.bus": "0.9"}
    page = visitor.submit(path + "/bus", supply="12.6", **good, **{"idle:alt.bus": "11.8", "low:alt.bus": "6"})
    assert "Look at bus plug at radiator" in page
    page = visitor.submit(path + "/bus", supply="12.6", **good, **{"idle:alt.bus": "11.8"})
    assert visitor.last.status_code == 422
    assert "type both levels" in page
    assert 'value="11.8"' in page
    entry = visitor.get(path).text.split('aria-label="Withdraw the levels"')[0].rsplit('name="entry" value="', 1)[1].split('"')[0]
    page = visitor.submit(path.replace("/charge", "/undo"), entry=entry, back="/charge#bus")
    assert "Look at bus plug at radiator" not in page and 'value="11.8"' not in page
    assert "Nothing was changed" in visitor.submit(take_in(visitor, "estate-car") + "/bus", supply="12")


def test_ripple_by_an_ac_meter_and_a_kart_that_makes_no_current(visitor: Visitor) -> None:
    path = take_in(visitor, "estate-car")
    page = log(visitor, path, at="ripple:loaded", instrument="ripple", branch="alternator", state="loaded", value="", rms="0.26")
    assert "0.90 V peak to peak: a diode" in page
    kart = visitor.get(take_in(visitor, "training-kart")).text
    assert "total loss" in kart
    assert "1.5 A" in kart


def test_running_readings_are_asked_for_again_after_a_repair(visitor: Visitor) -> None:
    path = take_in(visitor, "estate-car")
    volts(visitor, path, "bat.plus", "bat.minus", "fast", "12.4")
    job = path.removesuffix("/charge")
    page = visitor.submit(job + "/repairs", text="fitted the charge lamp bulb", elements="charge-lamp")
    assert "Measure again" in page
    volts(visitor, path, "bat.plus", "bat.minus", "fast", "14.2")
    assert "within limit" in visitor.get(job + "/repair").text
