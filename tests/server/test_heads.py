"""What the head of a page says already, or asks for: to whom, and no more than the API would say."""

import json
import re
from html.parser import HTMLParser

import pytest
from django.http import HttpResponse

from server.shell import heads

HEADS = [
    {
        "address": "/",
        "scripts": ["/assets/Projects-1.js"],
        "letters": [],
        "said": ["/api/session", "/api/projects"],
        "asked": [],
    },
    {
        "address": "/projects/:projectId/code/:documentId",
        "scripts": ["/assets/Frame-1.js", "/assets/Desk-1.js"],
        "letters": ["/assets/sans-1.woff2"],
        "said": ["/api/session", "/api/projects/:projectId"],
        "asked": ["/api/projects/:projectId/roster", "/api/projects/:projectId/documents/:documentId"],
    },
]


class Page(HTMLParser):
    """Links, the revision and what is said, as a browser finds them."""

    def __init__(self, html: str) -> None:
        super().__init__()
        self.links: list[tuple[str, str]] = []
        self.said: dict[str, object] = {}
        self.revision: tuple[str, str] | None = None
        self._of = ""
        self.feed(html)

    def handle_starttag(self, tag, attrs):
        found = dict(attrs)
        if tag == "link":
            self.links.append((found["rel"], found["href"]))
        if tag == "meta" and found.get("name") == "revision":
            self.revision = found["data-project"], found["content"]
        self._of = found.get("data-said", "")

    def handle_data(self, data):
        if self._of:
            self.said[self._of] = json.loads(data)

    def handle_endtag(self, tag):
        self._of = ""


@pytest.fixture
def web(tmp_path, settings):
    (tmp_path / "index.html").write_text("<html><head></head><body></body></html>", "utf-8")
    (tmp_path / "heads.json").write_text(json.dumps(HEADS), "utf-8")
    settings.WEB = tmp_path
    heads._heads.cache_clear()
    yield tmp_path
    heads._heads.cache_clear()


def opened(world, account, address):
    answer = world.client(account).get(address)
    assert answer.status_code == 200
    assert answer.headers["Cache-Control"] == "no-store"
    return Page(answer.content.decode())


def test_what_an_address_needs_is_said_and_asked_for_at_once(world, web):
    document = world.project.documents.first()
    page = opened(world, world.owner.account, f"/projects/{world.project.pk}/code/{document.pk}?scope=anything")
    world.project.refresh_from_db()
    assert page.revision == (str(world.project.pk), str(world.project.revision))
    assert page.links == [
        ("modulepreload", "/assets/Frame-1.js"),
        ("modulepreload", "/assets/Desk-1.js"),
        ("preload", "/assets/sans-1.woff2"),
        ("preload", world.url("/roster")),
        ("preload", world.url(f"/documents/{document.pk}")),
    ]
    client = world.client(world.owner.account)
    for address in ("/api/session", world.url("")):
        assert page.said[address] == client.get(address).json()


def test_a_guest_is_only_told_that_nobody_is_there(world, web):
    page = opened(world, None, f"/projects/{world.project.pk}/code/1")
    assert (page.links, page.revision) == ([], None)
    assert list(page.said) == ["/api/session"]
    assert page.said["/api/session"]["account"] is None


def test_a_stranger_is_told_nothing_of_the_project(world, web):
    page = opened(world, world.stranger, f"/projects/{world.project.pk}/code/1")
    assert (page.links, page.revision) == ([], None)
    assert list(page.said) == ["/api/session"]
    # Nor does it say more than for a project that isn't there.
    assert opened(world, world.stranger, "/projects/999999/code/1").said == page.said


@pytest.mark.parametrize(
    "address", ["/nowhere", "/projects/x/code/1", "/projects/1/code/1/more", "/projects/1'\"><b>/code/1"]
)
def test_another_address_asks_for_nothing(world, web, address):
    page = opened(world, world.owner.account, address)
    assert (page.links, list(page.said)) == ([], ["/api/session"])


def test_no_name_ends_the_element_that_it_stands_in(world, web):
    world.project.name = "</script><script>alert(1)</script><!--"
    world.project.save(update_fields=["name"])
    answer = world.client(world.owner.account).get("/").content.decode()
    assert len(re.findall("<script", answer)) == 2
    assert "alert(1)" in answer
    said = Page(answer).said["/api/projects"]
    assert world.project.name in [one["name"] for one in said]


def test_a_page_is_only_ever_read(world, web):
    """Whatever is sent to it, the answers in its head are those of a reading."""
    client = world.client(None)
    answer = client.post("/", {"username": world.owner.account.username, "password": "wrong"})
    assert Page(answer.content.decode()).said["/api/session"]["account"] is None


def test_without_a_build_the_page_comes_all_the_same(world, web):
    (web / "heads.json").unlink()
    assert list(opened(world, world.owner.account, "/").said) == ["/api/session"]


def test_what_stands_behind_the_address_is_not_asked_of_the_answers(world, web, monkeypatch):
    asked = []

    def view(request):
        asked.append((request.method, request.get_full_path(), dict(request.GET)))
        return HttpResponse("{}", content_type="application/json")

    monkeypatch.setattr(heads, "resolve", lambda address: (view, (), {}))
    client = world.client(None)
    client.post("/?since=3", {"anything": 1})
    assert asked == [("GET", "/api/session", {})]
