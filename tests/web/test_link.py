"""The worker and the manifest come from the root, so that they answer for every page."""

from tests.conftest import Visitor


def test_the_worker_and_the_manifest_stand_at_the_root(visitor: Visitor) -> None:
    worker = visitor.get("/sw.js")
    assert worker.headers["content-type"].startswith("text/javascript") and "fetch" in worker.text
    manifest = visitor.get("/manifest.webmanifest").json()
    assert manifest["start_url"] == "/" and visitor.get(manifest["icons"][0]["src"]).status_code == 200
    page = visitor.get("/").text
    assert 'rel="manifest"' in page and "/static/link.js" in page
