"""Captures through the app: brought in, laid out, read beside it, handed to the Bench; broken files refused with a word."""

import gzip

import pytest

from iron_probe.web.captures.routes import SAMPLES, STATIC_CAPTURES
from tests.conftest import Visitor


def bring(visitor: Visitor, name: str, data: bytes) -> str:
    answer = visitor.post(
        "/jobs/102/captures", data={"form_token": visitor.cookies["iron_probe_form"]}, files={"file": (name, data, "text/csv")}
    )
    visitor.last = answer
    return str(answer.url.path)


def layout(**changed: str) -> dict[str, str]:
    fields = {
        "delimiter": ",", "decimal": ".", "skip": "2", "time": "seconds", "time_column": "0", "role_1": "amps", "name_1": "Clamp", "scale_1": "1",
        "role_2": "volts", "name_2": "Posts", "scale_2": "1",
    }  # fmt: skip
    return {**fields, **changed}


def read(visitor: Visitor, path: str) -> str:
    visitor.work()
    page = visitor.get(path).text
    assert "samples so far" not in page
    return page


@pytest.mark.parametrize("packed", [False, True])
def test_from_upload_to_the_bench(visitor: Visitor, packed: bool) -> None:
    data = (STATIC_CAPTURES / "minibus-sound.csv").read_bytes()
    sent = gzip.compress(data) if packed else data
    path = bring(visitor, "a.csv.gz" if packed else "a.csv", sent)
    assert "Guessed from its first lines" in visitor.get(path).text
    visitor.submit(path + "/layout", **layout(keep_as="yard scope"))
    page = read(visitor, path)
    assert "216 rpm" in page
    view = visitor.get(path + "/view?width=300").json()
    assert len(view["channels"]) == 2
    assert len(view["channels"][0]["low"]) <= 300
    close = visitor.get(path + "/view?first=1300&last=1310&width=300").json()
    assert close["channels"][0]["high"] is None
    assert len(close["channels"][0]["low"]) == 10
    visitor.submit(path + "/bench")
    bench = visitor.get("/jobs/102").text
    assert "by capture" in bench
    assert "clamp on battery" in bench
    assert bring(visitor, "again.csv", sent) == path  # the same file is the same capture
    other = gzip.compress(data[:-60]) if packed else data[:-60]
    assert "yard scope" in visitor.get(bring(visitor, "b.csv", other)).text


def test_a_layout_that_does_not_fit_keeps_what_was_typed(visitor: Visitor) -> None:
    path = bring(visitor, "a.csv", (STATIC_CAPTURES / SAMPLES[0]).read_bytes())
    page = visitor.submit(path + "/layout", **layout(scale_1="plenty", keep_as="mine"))
    assert visitor.last.status_code == 422
    assert "are numbers" in page
    assert "plenty" in page
    assert 'value="mine"' in page
    page = visitor.submit(path + "/layout", **layout(time="rate", rate_hz=""))
    assert "sample rate" in page
    visitor.submit(path + "/layout", **layout(delimiter=";"))
    assert "do not fit the layout" in read(visitor, path)


@pytest.mark.parametrize(
    ("data", "told"),
    [(b"", "empty"), (b"\x89PNG\r\n\x1a\n" + bytes(200), "No line of numbers"), (b"\x1f\x8b\x08broken", "packed file is broken")],
)
def test_files_that_are_no_captures(visitor: Visitor, data: bytes, told: str) -> None:
    bring(visitor, "x.csv", data)
    assert visitor.last.status_code == 422
    assert told in visitor.last.text


def test_odd_lines_are_listed_and_no_crank_is_said(visitor: Visitor) -> None:
    lines = [f"{k / 100:.2f},{k % 3},12.{k % 10}" for k in range(300)]
    lines[40] = "the lead fell off"
    path = bring(visitor, "odd.csv", ("Time,Clamp,Posts\n(s),(A),(V)\n" + "\n".join(lines) + "\n").encode())
    visitor.submit(path + "/layout", **layout())
    page = read(visitor, path)
    assert "1 odd line left out" in page
    assert "the lead fell off" in page
    assert "No crank is found" in page
    visitor.submit(path + "/bench")
    assert visitor.last.status_code == 422
    assert visitor.get(path + "x").status_code == 404
