"""Bad values in every field of every form, taken from the pages themselves: a clear answer each, never a 500."""

import random
from html.parser import HTMLParser
from uuid import uuid4

from tests.conftest import Visitor

BAD = [
    "",
    "\x00",
    "🔧",
    "1e309",
    "nan",
    "-1",
    "9" * 400,
    "²",
    "٣",
    "'\"><script>",
    "../../etc/passwd",
    "x" * 5000,
    "1,5",
    "OL",
    "3 d",
    "1" + " " * 17 + "megohm",
]
PAGES = ["", "/battery", "/captures", "/control", "/charge", "/drain", "/drain/sweep", "/fuse", "/repair", "/intake"]
CASES = 220


class Forms(HTMLParser):
    """The forms of a page: action and fields as they stand."""

    def __init__(self) -> None:
        super().__init__()
        self.found: list[tuple[str, dict[str, str]]] = []
        self._select = ""

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        said = {name: value or "" for name, value in attrs}
        if tag == "form" and said.get("method") == "post":
            self.found.append((said.get("action", ""), {}))
        elif (
            self.found
            and tag in ("input", "button", "textarea")
            and "name" in said
            and not (said.get("type") == "radio" and "checked" not in said)
        ):
            self.found[-1][1][said["name"]] = said.get("value", "")
        elif self.found and tag == "select":
            self._select = said.get("name", "")
        elif self.found and tag == "option" and self._select:
            self.found[-1][1].setdefault(self._select, said.get("value", ""))


def test_no_field_of_any_form_breaks_the_app(visitor: Visitor) -> None:
    forms: dict[tuple[str, tuple[str, ...]], dict[str, str]] = {}
    for page in [
        "/machines/new",
        "/machines/1",
        "/machines/1/sheet",
        "/machines/1/workbench",
        "/machines/1/import",
        "/compose?kind=mower",
        "/jobs/new",
        *(f"/jobs/{n}{p}" for n in (102, 109) for p in PAGES),
    ]:
        answer = visitor.get(page)
        assert answer.status_code == 200, page
        reader = Forms()
        reader.feed(answer.text)
        forms |= {(action, tuple(sorted(fields))): fields for action, fields in reader.found}
    cases = [
        (action, fields, name, bad)
        for (action, _), fields in forms.items() if not action.endswith(("/delete", "/close"))
        for name in fields if name != "form_token"
        for bad in BAD
    ]  # fmt: skip
    random.Random(11).shuffle(cases)
    for action, fields, name, bad in cases[:CASES]:
        form = {**fields, "form_token": visitor.cookies["iron_probe_form"], "entry_id": str(uuid4()), name: bad}
        status = visitor.post(action, data=form).status_code
        assert status < 500, (action, name, bad[:40])


def test_a_token_made_elsewhere_another_host_and_another_site_are_refused(visitor: Visitor) -> None:
    form = {"form_token": "x" * 32, "value": "1"}
    own = {"form_token": visitor.cookies["iron_probe_form"]}
    assert visitor.get("/", headers={"Host": "evil.example"}).status_code == 421
    assert visitor.post("/jobs/102/undo", data=own, headers={"Origin": "https://evil.example"}).status_code == 403
    visitor.cookies.set("iron_probe_form", "x" * 32)
    assert visitor.post("/jobs/102/undo", data=form).status_code == 403
