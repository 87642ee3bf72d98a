"""What templates ask of the modules that word things is there: a name that is gone would be silently nothing."""

import re
from types import ModuleType

import pytest

from iron_probe.web.page import templates
from tools.served import ROOT

WEB = ROOT / "iron_probe" / "web"
MODULES = {name: module for name, module in templates.env.globals.items() if isinstance(module, ModuleType)}


@pytest.mark.parametrize("name", list(MODULES))
def test_every_name_of_a_module_that_a_template_uses_is_there(name: str) -> None:
    pages = [text for page in WEB.rglob("*.html") if not re.search(rf"(for|set) {name}\b", text := page.read_text())]
    used = {found for text in pages for found in re.findall(rf"(?<![\w.]){name}\.(\w+)", text)}
    assert used and {one for one in used if not hasattr(MODULES[name], one)} == set()
