"""A token in a cookie that every form must repeat, so that no other site can post for the technician."""

import secrets
from collections.abc import AsyncIterator

from fastapi import Request
from starlette.datastructures import FormData

COOKIE = "iron_probe_form"
FIELD = "form_token"


class CsrfError(Exception):
    """A form came without the token of its browser."""


def ensure_token(request: Request) -> tuple[str, bool]:
    """The browser's token, and whether it was made just now."""
    known = request.cookies.get(COOKIE, "")
    return (known, False) if len(known) >= 20 else (secrets.token_urlsafe(24), True)


async def guarded_form(request: Request) -> AsyncIterator[FormData]:
    """The posted form, once its token matches the cookie, its files closed afterwards; raises CsrfError."""
    async with request.form(max_fields=200) as form:
        sent = form.get(FIELD)
        if not isinstance(sent, str) or not secrets.compare_digest(sent.encode(), request.cookies.get(COOKIE, "").encode()) or not sent:
            raise CsrfError(
                "This form was opened before cookies were set, or by another site. Nothing was saved. Reload the page and send it again."
            )
        yield form
