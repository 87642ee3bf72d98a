"""Checks that committed generated files are current: python -m tools.generated [--write].

The built CSS, the catalogues of texts, the scripts and fonts copied from packages, the JSON Schemas, the pages of limits and machines, the hash under the rig's table, and the migrations against the tables.
"""

import filecmp
import json
import os
import shutil
import subprocess
import sys
import tempfile
from pathlib import Path

from alembic import command
from alembic.config import Config
from pydantic import TypeAdapter

from bench.rig_trials import code_hash
from iron_probe.core import limits
from iron_probe.core.answers import DiagnoseAnswer, SheetAnswer, SolveAnswer
from iron_probe.core.circuit.sheet import Sheet
from iron_probe.core.diagnose.read_readings import READINGS
from iron_probe.demo.crank_captures import STORIES, csv_of
from iron_probe.demo.drain_captures import RECORDS
from iron_probe.store.cluster import cluster
from iron_probe.store.database import connect
from iron_probe.store.migrate import MIGRATIONS, migrate
from iron_probe.work.archive.shape import JobArchive
from tools.catalogues import bring_up, strays
from tools.machines_page import machines_page

ROOT = Path(__file__).parent.parent
STATIC = ROOT / "iron_probe/web/static"
SCHEMAS = {
    "job.schema.json": JobArchive.model_json_schema(),
    "sheet.schema.json": Sheet.model_json_schema(),
    "readings.schema.json": READINGS.json_schema(),
    "sheets.schema.json": TypeAdapter(list[SheetAnswer]).json_schema(mode="serialization"),
    "solve.schema.json": SolveAnswer.model_json_schema(mode="serialization"),
    "diagnose.schema.json": DiagnoseAnswer.model_json_schema(mode="serialization"),
}


def limits_page() -> str:
    """The page of all limits and factors, a table a subject."""
    lines = ["# Limits and factors", "", "Made from `core/limits.py` by `python -m tools.generated --write`. Each stands once in the code."]
    for line in Path(limits.__file__).read_text().splitlines():
        if line.startswith("# "):
            lines += ["", f"## {line[2:]}", "", "| name | value | unit | what it says | source |", "|---|---|---|---|---|"]
        elif isinstance(it := getattr(limits, line.partition(" = ")[0], None), limits.Limit):
            lines.append(f"| {line.partition(' = ')[0]} | {float(it):g} | {it.unit} | {it.says} | {it.source} |")
    return "\n".join(lines) + "\n"


def build(folder: Path) -> dict[Path, Path]:
    """Make everything anew in `folder`: {new file: committed file}."""
    if not (ROOT / "node_modules/tailwindcss").exists():
        subprocess.run(["npm", "ci", "--ignore-scripts", "--no-audit", "--no-fund", "--silent"], cwd=ROOT, check=True)
    made = {}
    css = folder / "app.css"
    source = "iron_probe/web/style/app.css"
    subprocess.run(
        ["npx", "--no-install", "@tailwindcss/cli", "-i", source, "-o", css, "--minify"], cwd=ROOT, check=True, capture_output=True
    )
    made[css] = STATIC / "app.css"
    made[ROOT / "node_modules/htmx.org/dist/htmx.min.js"] = STATIC / "htmx.min.js"
    for font in sorted((STATIC / "fonts").iterdir()):
        family = font.name.split("-latin")[0].split("-greek")[0]
        made[ROOT / f"node_modules/@fontsource/{family}/files/{font.name}"] = font
    page = folder / "limits.md"
    page.write_text(limits_page())
    made[page] = ROOT / "docs/method/limits.md"
    page = folder / "machines.md"
    page.write_text(machines_page())
    made[page] = ROOT / "docs/method/machines.md"
    for name, schema in SCHEMAS.items():
        path = folder / name
        path.write_text(json.dumps(schema, indent=1, ensure_ascii=False) + "\n")
        made[path] = ROOT / "docs/schemas" / name
    return made


def check_migrations() -> None:
    """Fail when the tables differ from what the migrations make."""
    with tempfile.TemporaryDirectory(prefix="iron-probe-") as folder:
        Path(folder).chmod(0o755)
        with cluster(Path(folder) / "postgres", throwaway=True) as url:
            engine = connect(url)
            migrate(engine)
            engine.dispose()
            os.environ["IRON_PROBE_DATABASE_URL"] = url
            config = Config()
            config.set_main_option("script_location", str(MIGRATIONS))
            command.check(config)


def rig_table_is_of_this_code() -> bool:
    """Whether the table of trials on the rig was made by the code that stands here."""
    return f"on code {code_hash()}" in (ROOT / "docs/bench.md").read_text()


def main() -> int:
    """Exit 1 and name each stale file, or write them with --write."""
    with tempfile.TemporaryDirectory() as folder:
        stale = [(new, old) for new, old in build(Path(folder)).items() if not old.exists() or not filecmp.cmp(new, old, shallow=False)]
        if "--write" in sys.argv:
            for new, old in stale:
                shutil.copy(new, old)
            (STATIC / "captures").mkdir(exist_ok=True)
            for story in STORIES:  # held against the simulator by a test: the last digit may differ from machine to machine
                (STATIC / "captures" / story.name).write_text(csv_of(story))
            for name, record in RECORDS.items():
                (STATIC / "captures" / name).write_text(record.make())
            bring_up()
        elif stale:
            sys.stderr.write(
                "".join(f"{old.relative_to(ROOT)} is not current\n" for _, old in stale) + "run: python -m tools.generated --write\n"
            )
            return 1
    if found := list(strays()):
        sys.stderr.write("".join(f"{stray}\n" for stray in found) + "run: python -m tools.generated --write\n")
        return 1
    check_migrations()
    if not rig_table_is_of_this_code():
        sys.stderr.write(f"the rig's table in docs/bench.md is older than the code it measures ({code_hash()}); run: ./run bench rig\n")
        return 1
    return 0


if __name__ == "__main__":
    sys.exit(main())
