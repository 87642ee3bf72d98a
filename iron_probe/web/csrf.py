"""A token in a cookie, signed by this yard, that every form must repeat, so that no other site can post for the technician."""

import secrets
from collections.abc import AsyncIterator

from fastapi import Request
from itsdangerous import BadSignature, Signer
from starlette.datastructures import FormData

COOKIE = "iron_probe_form"
FIELD = "form_token"
LONGEST = 200


class CsrfError(Exception):
    """A form came without the token of its browser."""


class Tokens:
    """Tokens signed with the yard's secret: one that was not made here is none."""

    def __init__(self, secret: str) -> None:
        self._signer = Signer(secret, salt="form")

    def fresh(self) -> str:
        """A new token."""
        return self._signer.sign(secrets.token_urlsafe(18)).decode()

    def holds(self, token: str) -> bool:
        """Whether a token was made by this yard."""
        if not token or len(token) > LONGEST or not token.isascii():
            return False
        try:
            self._signer.unsign(token)
        except BadSignature:
            return False
        return True

    def of(self, request: Request) -> tuple[str, bool]:
        """The browser's token, and whether it was made just now."""
        known = request.cookies.get(COOKIE, "")
        return (known, False) if self.holds(known) else (self.fresh(), True)


async def guarded_form(request: Request) -> AsyncIterator[FormData]:
    """The posted form, once its token matches the cookie, its files closed afterwards; raises CsrfError."""
    async with request.form(max_fields=400, max_part_size=12_000_000) as form:
        sent, known = form.get(FIELD), request.cookies.get(COOKIE, "")
        tokens: Tokens = request.app.state.tokens
        if not isinstance(sent, str) or not tokens.holds(known) or not secrets.compare_digest(sent.encode(), known.encode()):
            raise CsrfError(
                "This form was opened before cookies were set, or by another site. Nothing was saved. Reload the page and send it again."
            )
        yield form
