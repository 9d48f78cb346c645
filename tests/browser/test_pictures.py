"""Exported pictures are whole: read back from the .svg, with more rows than a window holds."""

import re

import pytest
from lxml import etree
from playwright.sync_api import Page, expect

from tests.browser.conftest import open_demo

SVG = "{http://www.w3.org/2000/svg}"
CODES = ".".join(str(number) for number in range(1, 31))
FORMS = {
    "table": "Thin line: 95 % interval",
    "gaps": "95 % interval",
    "bars": "line: 95 % interval",
    "matrix": "A full dial is the largest figure",
    "people": "Filled: the person mentions it",
    "spread": "A dot a person",
    "waves": "From group to group in their order",
}


@pytest.mark.parametrize("form", FORMS)
def test_a_picture_holds_every_row_and_its_words_stand_clear(page: Page, home: str, form: str):
    open_demo(page, home)
    page.goto(f"{page.url.rsplit('/', 1)[0]}/compare?form={form}&codes={CODES}")
    expect(page.get_by_text(FORMS[form]).first).to_be_visible()
    names = page.locator("[data-form]").get_by_text("Getting tired", exact=True)
    expect(names.first).to_be_attached()
    page.get_by_role("button", name="Export").click()
    with page.expect_download() as kept:
        page.get_by_role("button", name=".svg").click()
    drawing = etree.fromstring(kept.value.path().read_bytes())
    wide, high = (float(number) for number in drawing.get("viewBox").split()[2:])
    words = [("".join(one.itertext()).strip(), *_place(one)) for one in drawing.iter(f"{SVG}text")]
    caption = min(y for said, _, y in words if said.startswith("Adds up:"))
    sentence = max(y for said, _, y in words[:3] if said.startswith(("Compare", "up.")))
    for name in ("Getting across", "Getting tired", "Anger"):
        # Below the sentence and above what is left out: nothing is printed over it.
        assert {sentence < y < caption for said, _, y in words if said == name} == {True}
    assert [said for said, x, y in words if not (0 <= x <= wide and 0 <= y <= high)] == []


def _place(text: etree._Element) -> tuple[float, float]:
    """Where it stands in the whole drawing: its own place, moved by the groups and drawings that it is in."""
    x, y = float(text.get("x") or 0), float(text.get("y") or 0)
    for around in text.iterancestors():
        if around.tag == f"{SVG}svg" and around.getparent() is not None:
            x, y = x + float(around.get("x") or 0), y + float(around.get("y") or 0)
        moved = re.match(r"translate\(([-\d.]+)[ ,]+([-\d.]+)\)", around.get("transform") or "")
        if moved:
            x, y = x + float(moved[1]), y + float(moved[2])
    return x, y
