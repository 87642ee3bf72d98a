"""A report as it is given away: opened by its link, without an account."""

from fastapi import APIRouter, HTTPException, Request, Response

from iron_probe.web.page import Db

router = APIRouter()


def as_pdf(pdf: bytes, number: int) -> Response:
    """A PDF to be shown in the browser, under a name to keep it by."""
    return Response(pdf, media_type="application/pdf", headers={"Content-Disposition": f'inline; filename="report-{number}.pdf"'})


@router.get("/r/{word}")
def given(request: Request, db: Db, word: str) -> Response:
    """A report by the link that was given to the customer; 410 where that was ended."""
    found = request.app.state.links.opened(db, word)
    if found is None or found.pdf is None:
        raise HTTPException(410, "This link opens no report any more, or never did. Ask the yard that gave it to you for another.")
    return as_pdf(found.pdf, 0)
