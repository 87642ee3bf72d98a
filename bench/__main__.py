"""./run bench [solve] [composed] [drawn_otherwise] [pages] [drawn] [in_view] [yard] [yard_load] [two_hosts] [streams] [engine] [captures] [charging] [drain] [rig] [rig_orders] [rig_still] [rig_classes] [rig_drains] [experience] [guide_jobs] [practice] [trials]: run the named comparisons, or all, and write their tables into docs/bench.md."""

import sys
from pathlib import Path

from bench import (
    captures,
    charging_trials,
    composed,
    drain_trials,
    drawn,
    drawn_otherwise,
    engine,
    experience,
    guide_jobs,
    in_view,
    pages,
    practice_cases,
    rig_classes,
    rig_drains,
    rig_orders,
    rig_still,
    rig_trials,
    solving,
    streams,
    trials,
    two_hosts,
    yard,
    yard_load,
)

TOPICS = {
    "rig": rig_trials.table,
    "rig_orders": rig_orders.table,
    "rig_still": rig_still.table,
    "rig_classes": rig_classes.table,
    "rig_drains": rig_drains.table,
    "experience": experience.table,
    "guide_jobs": guide_jobs.table,
    "practice": practice_cases.table,
    "solve": solving.table,
    "composed": composed.table,
    "drawn_otherwise": drawn_otherwise.table,
    "pages": pages.table,
    "drawn": drawn.table,
    "in_view": in_view.table,
    "yard": yard.table,
    "yard_load": yard_load.table,
    "two_hosts": two_hosts.table,
    "streams": streams.table,
    "engine": engine.table,
    "captures": captures.table,
    "charging": charging_trials.table,
    "drain": drain_trials.table,
    "trials": trials.table,
}
PAGE = Path(__file__).parent.parent / "docs" / "bench.md"


def main() -> None:
    """Measure, and replace each topic's part of the page."""
    text = (
        PAGE.read_text()
        if PAGE.exists()
        else "# Measured\n\nMade by `./run bench` on 2 cores; ratios travel between machines better than times.\n"
    )
    for name in sys.argv[1:] or TOPICS:
        table = TOPICS[name]()
        sys.stdout.write(table + "\n")
        start, end = f"<!-- {name} -->\n", f"<!-- end {name} -->\n"
        part = f"{start}{table}\n{end}"
        text = text[: text.index(start)] + part + text[text.index(end) + len(end) :] if start in text else f"{text}\n{part}"
    PAGE.write_text(text)


if __name__ == "__main__":
    main()
