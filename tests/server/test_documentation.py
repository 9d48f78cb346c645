"""The page of the API: for members, from this server alone."""

import re

import yaml
from django.conf import settings


def test_the_schema_and_its_page_are_for_whoever_signs_in(world):
    for address in ("/api/schema", "/api/docs"):
        assert world.client(None).get(address).status_code in (401, 403)
    given = world.client(world.viewer.account).get("/api/schema")
    assert yaml.safe_load(b"".join(given.streaming_content)) == yaml.safe_load(
        (settings.ROOT / "server" / "schema.yaml").read_text()
    )


def test_all_that_the_page_loads_is_shipped(world):
    """It would stay white with the network cut otherwise."""
    rana = world.client(world.viewer.account)
    page = rana.get("/api/docs", headers={"accept": "text/html"}).content.decode()
    loaded = re.findall(r'(?:src|href)="([^"]+)"', page)
    assert len(loaded) >= 4
    for address in loaded:
        assert address.startswith("/"), address
        found = rana.get(address.replace("&amp;", "&"))
        assert found.status_code == 200, address
    script = rana.get("/api/docs?script=").content.decode()
    assert 'url: "/api/schema"' in script.replace("\\u002D", "-")
    assert "SwaggerUIBundle" in script
    # Nothing of it may be written into the page itself: the policy lets no such script run.
    assert "<script>" not in page
