"""What the head of a page asks for ahead is what the page asks for: each of it once, nothing in vain."""

import json
import re
from pathlib import Path

import pytest
from playwright.sync_api import Page, Route
from playwright.sync_api import TimeoutError as PlaywrightTimeout

from tests.browser.conftest import open_demo

HEADS = json.loads((Path(__file__).resolve().parents[2] / "web" / "dist" / "heads.json").read_text("utf-8"))
WITHIN = [head for head in HEADS if head["address"].startswith("/projects/")]
ASKED = "performance.getEntriesByType('resource').map((one) => one.name.replace(location.origin, ''))"


@pytest.fixture
def numbers(page: Page, home: str) -> dict[str, str]:
    """What addresses are made of, in the demo."""
    open_demo(page, home)
    project = re.search(r"/projects/([0-9]+)", page.url)[1]

    def first(path: str) -> list[dict]:
        found = page.request.get(f"{home}/api/projects/{project}/{path}").json()
        return found if isinstance(found, list) else found["documents"]

    of = {"documentId": "documents", "exhibitId": "exhibits", "frozenId": "compare/frozen"}
    return {"projectId": project, **{name: str(first(path)[0]["id"]) for name, path in of.items()}}


def test_each_page_asks_for_what_its_head_did(page: Page, home: str, numbers: dict[str, str]):
    def put(address: str) -> str:
        return re.sub(r":(\w+)", lambda name: numbers[name[1]], address)

    def without_head(route: Route) -> None:
        answer = route.fetch()
        route.fulfill(response=answer, body=re.sub(r'<meta name="revision".*</head>', "</head>", answer.text()))

    got: list[str] = []
    page.on("request", lambda one: got.append(one.url.replace(home, "")) if one.method == "GET" else None)
    wrong = {}
    for head in WITHIN:
        address, asked, said = (
            home + put(head["address"]),
            *([put(one) for one in head[kind]] for kind in ("asked", "said")),
        )
        page.route(address, without_head)
        page.goto(address)
        in_vain = missing(page, asked + said)
        page.unroute(address)
        got.clear()
        page.goto(address)
        # The first thing that no head asks for: by then all that the page stands on was taken.
        page.wait_for_function(f"() => {ASKED}.some((one) => one.includes('/pulse'))")
        wrong[head["address"]] = {
            "in vain": in_vain,
            "not once": [one for one in asked if got.count(one) != 1],
            "though it was said": [one for one in said if one in got],
            "seventh": asked[6:],
        }
    assert {address: found for address, found in wrong.items() if any(found.values())} == {}


def missing(page: Page, asked: list[str]) -> list[str]:
    """What the page hasn't asked for, however long it is waited for."""
    try:
        page.wait_for_function(f"(asked) => asked.every((one) => {ASKED}.includes(one))", arg=asked, timeout=15_000)
    except PlaywrightTimeout:
        went = page.evaluate(ASKED)
        return [one for one in asked if one not in went]
    return []
