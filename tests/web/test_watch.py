"""What a machine that watches asks."""

import json
import logging
from pathlib import Path

import pytest
from sqlalchemy import Engine

from iron_probe.store.database import connect
from iron_probe.web import watch
from iron_probe.web.app import create_app
from tests.conftest import Visitor


def test_it_lives_and_can_work(visitor: Visitor) -> None:
    assert visitor.get("/health").json() == {"health": "ok"} and visitor.get("/ready").json() == {"ready": True}


def test_without_its_database_it_lives_and_is_not_ready(yard: Engine, tmp_path: Path) -> None:
    with Visitor(create_app(yard, tmp_path)) as visitor:
        away = connect("postgresql+psycopg://a:b@127.0.0.1:1/none", 1000)
        visitor.app.state.looking = away  # type: ignore[attr-defined]
        assert visitor.get("/health").status_code == 200 and visitor.get("/ready").status_code == 503
        away.dispose()


def test_requests_are_counted_by_route_and_nothing_personal_is_told(visitor: Visitor, caplog: pytest.LogCaptureFixture) -> None:
    caplog.set_level(logging.INFO, watch.LINES.name)
    visitor.get("/jobs/101/report?who=Ida")
    visitor.get("/?search=van")
    told = visitor.get("/metrics").text
    assert 'iron_probe_requests_total{method="GET",route="/jobs/{number}/report",status="200"}' in told
    assert "iron_probe_request_seconds_bucket" in told and "iron_probe_live_screens 0" in told
    lines = [json.loads(r.message) for r in caplog.records if r.name == watch.LINES.name]
    assert {line["route"] for line in lines} >= {"/jobs/{number}/report", "/"} and "Ida" not in caplog.text and "van" not in caplog.text
