"""Tokens of forms: only those this yard signed."""

from starlette.requests import Request

from iron_probe.web.csrf import COOKIE, Tokens


def request(cookie: str) -> Request:
    return Request({"type": "http", "headers": [(b"cookie", cookie.encode())]})


def test_a_token_of_this_yard_is_kept_and_any_other_is_replaced() -> None:
    yard, other = Tokens("secret"), Tokens("another")
    token = yard.fresh()
    assert yard.of(request(f"{COOKIE}={token}")) == (token, False)
    for strange in ("", "x" * 20, other.fresh(), token[:-1], token + "x" * 300, "ä" * 20):
        assert not yard.holds(strange)
    fresh, new = yard.of(request(f"{COOKIE}={'x' * 20}"))
    assert new and yard.holds(fresh)
