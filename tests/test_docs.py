"""What the docs say runs as written."""

import re
from pathlib import Path

import pytest

DOCS = Path(__file__).parents[1] / "docs"


def test_the_example_of_the_core_runs_as_written(capsys: pytest.CaptureFixture[str]) -> None:
    code = re.findall(r"```python\n(.*?)```", (DOCS / "method/diagnosing.md").read_text(), re.S)[0]
    assert len([line for line in code.splitlines() if line and not line.startswith(("from", "import"))]) <= 10
    exec(compile(code, "diagnosing.md", "exec"), {})
    assert "frame-bolt" in capsys.readouterr().out


def test_every_link_of_the_readme_leads_somewhere() -> None:
    text = (DOCS.parent / "README.md").read_text()
    for link in re.findall(r"\]\(([^)]+)\)", text):
        assert (DOCS.parent / link).exists(), link
