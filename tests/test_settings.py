"""Settings: outside loopback only guarded."""

from pathlib import Path

import pytest
from pydantic import ValidationError

from iron_probe.settings import Settings


@pytest.mark.parametrize(
    ("said", "why"),
    [
        ({"lan": True}, "only with accounts"),
        ({"hosts": "yard.example"}, "only with accounts"),
        ({"accounts": True, "lan": True}, "only over TLS"),
        ({"accounts": True, "hosts": "yard.example"}, "needs TLS"),
        ({"accounts": True, "lan": True, "tls_cert": "/nowhere.pem", "tls_key": "/nowhere.pem"}, "no file /nowhere.pem"),
    ],
)
def test_outside_loopback_it_opens_only_with_accounts_and_tls(said: dict[str, object], why: str) -> None:
    with pytest.raises(ValidationError, match=why):
        Settings.model_validate(said)


def test_with_both_it_does(tmp_path: Path) -> None:
    pem = tmp_path / "own.pem"
    pem.touch()
    assert Settings(accounts=True, lan=True, tls_cert=pem, tls_key=pem, hosts="yard.example").over_tls
    assert Settings(accounts=True, secure=True, hosts="yard.example").over_tls
    assert not Settings(accounts=True).over_tls
