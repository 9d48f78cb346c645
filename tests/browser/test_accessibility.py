"""axe finds nothing on any main view, by day and by night; none is wider than its window, down to 320 points (WCAG 1.4.10)."""

import re
from collections.abc import Iterator
from typing import Any

import pypdfium2
import pytest
from axe_playwright_python.sync_playwright import Axe
from playwright.sync_api import Browser, Page, expect

from tests.browser.conftest import open_demo

VIEWS = {
    "gather": "P07_kitchen_table",
    "people": "Crosses for work",
    "code": "Getting across",
    "code/codebook": "Click a code to read its passages",
    "code/answers": "As in the material",
    "code/find": "Words used most",
    "code/guide": "Who was asked what",
    "code/topics": "Topic and its phrases",
    "people?tab=cohorts&of=document": "Group discussions",
    "code/guide?question=1": "All",
    "code/themes": "with passages are in no theme",
    "code/find?text=wait": "hits by",
    "code/memos": "I grew up with a ferry",
    "compare": "Adds up:",
    "compare?form=gaps&order=difference": "95 % interval",
    "compare?form=bars": "line: 95 % interval",
    "compare?form=bars&stack=1": "Each bar is 100 %",
    "compare?swap=1": "Adds up:",
    "compare?form=flow": "A band is as wide",
    "compare?form=tiles": "A column is as wide",
    "compare?form=matrix": "A full dial is the largest figure",
    "compare?form=map": "Correspondence analysis",
    "compare?form=people": "Filled: the person mentions it",
    "compare?form=spread": "A dot a person",
    "compare?form=waves": "Person by person",
    "compare?adjusted=6": "If the groups were alike in Vehicle",
    "compare?open=0~2": "Open in document",
    "compare?variable=cases&codes=1.2.3.4.5.6.7.8.9.10.11.12.13.14.15.16.17.18.19.20.21.22.23.24.25.26.27.28.29.30": "Adds up:",
    "compare/together": "Meet most",
    "compare/passages?saved=1": "Open in document",
    "compare/overview": "A tile’s area",
    "compare/overview?form=ring": "An arc’s length",
    "compare/overview?part=went": "By coder",
    "compare/overview?part=enough": "Codes of the base",
    "compare/frozen/1": "One cell differs today",
    "report": "Take it out as",
    "report/digests": "crossings",
    "gather/bring-in": "Nothing waits to be brought in",
    "people?tab=check": "Man by the window",
    "members": "Nobody else sees this project",
    "words#sure": "One word for one thing",
    "history": "newest first",
}


WIDTHS = (1024, 1440, 320, 1280)
"""Pixels; no view makes the page wider than the window."""
NAMED = "label-content-name-mismatch"
"""Whoever says what they see reaches what is named so (WCAG 2.5.3): a rule that axe runs only when asked."""
WCAG = ["wcag2a", "wcag2aa", "wcag21a", "wcag21aa", "wcag22aa"]
RULES = {"runOnly": {"type": "tag", "values": [*WCAG, "best-practice"]}, "rules": {NAMED: {"enabled": True}}}
CONTRAST = {"runOnly": {"type": "rule", "values": ["color-contrast"]}}
"""All that another theme changes."""


@pytest.fixture(scope="module")
def demo(browser: Browser, browser_context_args: dict[str, Any], home: str) -> Iterator[tuple[Page, str]]:
    """One page for all views, each gone to by its address, and the address of the demo."""
    with browser.new_context(**browser_context_args) as context:
        page = context.new_page()
        open_demo(page, home)
        yield page, page.url.rsplit("/", 1)[0]


ALIKE = """() => {
  const named = {};
  for (const link of document.querySelectorAll("a[href]")) {
    const name = (link.getAttribute("aria-label") ?? link.textContent).trim().replace(/\\s+/g, " ");
    (named[name] ??= []).push(link);
  }
  const apart = "li, tr, p, dd, dt, article, figure, blockquote, section[aria-label], [role=row]";
  return Object.entries(named).filter(([, links]) => new Set(links.map((one) => one.href)).size > 1
    && links.some((one) => !one.closest(apart))).map(([name]) => name);
}"""
"""Links called alike that lead elsewhere, with nothing around them that says where (WCAG 2.4.4)."""
ELSEWHERE = """() => [...document.querySelectorAll("main *")].filter((one) => {
  const style = getComputedStyle(one);
  return style.order !== "0" || /reverse/.test(style.flexDirection) || Number(one.getAttribute("tabindex")) > 0;
}).map((one) => one.outerHTML.slice(0, 120))"""
"""What stands elsewhere on the screen than it is read (WCAG 1.3.2, 2.4.3)."""


@pytest.mark.parametrize("view", VIEWS)
def test_nothing_serious(demo: tuple[Page, str], view: str):
    page, base = demo
    errors: list[str] = []
    page.once("pageerror", lambda error: errors.append(str(error)))
    page.goto(f"{base}/{view}")
    expect(page.get_by_text(VIEWS[view]).first).to_be_visible(timeout=15_000)
    page.emulate_media(color_scheme="dark")
    check(page, {"options": CONTRAST})
    page.emulate_media(color_scheme="light")
    check(page)
    assert page.evaluate(ALIKE) == []
    assert page.evaluate(ELSEWHERE) == []
    assert errors == []
    for width in WIDTHS:
        page.set_viewport_size({"width": width, "height": 800})
        assert page.evaluate("document.documentElement.scrollWidth") <= width
    # WCAG 2.4.2: the window says which page it is, and of what.
    assert re.fullmatch(r"\w.* · After the winter timetable · Cohortia", page.title())


WALKED = ("gather", "people", "code", "code/codebook", "code/answers", "code/themes", "code/memos", "compare",
    "compare?form=gaps&order=difference", "compare?form=waves", "compare/together", "compare/overview?form=ring", "report", "members")  # fmt: skip
STEPS = 60
HERE = """() => {
  const one = document.activeElement;
  if (!one || one === document.body) return null;
  const box = one.getBoundingClientRect();
  const places = [0.1, 0.5, 0.9].flatMap((x) => [0.15, 0.5, 0.85].map((y) => [box.left + box.width * x, box.top + box.height * y]));
  const seen = places.map(([x, y]) => document.elementFromPoint(x, y)).some((hit) => hit && (one.contains(hit)
    || [...(one.labels ?? [])].some((label) => label.contains(hit))));
  one.dataset.walked = String(Number(one.dataset.walked ?? 0) + 1);
  return { words: one.outerHTML.slice(0, 120), times: Number(one.dataset.walked), seen };
}"""


@pytest.mark.parametrize("view", WALKED)
def test_tab_goes_on_and_what_has_the_keys_is_seen(demo: tuple[Page, str], view: str):
    """WCAG 2.1.2, 2.4.7, 2.4.11: nothing holds the keys, and nothing that has them lies behind something."""
    page, base = demo
    page.goto(f"{base}/{view}")
    expect(page.get_by_text(VIEWS[view]).first).to_be_visible(timeout=15_000)
    page.evaluate("document.activeElement?.blur()")
    walked = 0
    for _ in range(STEPS):
        page.keyboard.press("Tab")
        here = page.evaluate(HERE)
        # Past the last, to the browser's own bar; or at the first again.
        if here is None or (here["times"] == 2 and walked > 5):
            break
        assert here["times"] == 1, f"held by {here['words']}"
        assert here["seen"], here["words"]
        walked += 1
    assert walked > 8


def test_keys_go_past_the_bar_to_the_page(demo: tuple[Page, str]):
    """WCAG 2.4.1."""
    page, base = demo
    page.goto(f"{base}/compare")
    expect(page.get_by_text("Adds up:")).to_be_visible()
    page.keyboard.press("Tab")
    skip = page.get_by_role("link", name="Skip to the page")
    expect(skip).to_be_focused()
    expect(skip).to_be_in_viewport()
    page.keyboard.press("Enter")
    expect(page.locator("main")).to_be_focused()
    page.keyboard.press("Tab")
    assert page.evaluate("document.querySelector('main').contains(document.activeElement)")


@pytest.mark.parametrize(
    ("title", "shows"),
    [
        ("P10_crossing_diary", "region 4"),
        ("P26_at_the_lift", "Span begins here"),
        ("P02_at_the_board", "0 of 7 turns typed"),
    ],
)
def test_nothing_serious_on_pictures_and_recordings(page: Page, home: str, title: str, shows: str):
    open_demo(page, home)
    page.get_by_role("link", name=title).first.click()
    expect(page.get_by_text(shows)).to_be_visible()
    check(page)


OVER = {
    # What is behind a dialog is nobody's while it is open: what holds of a whole page isn't asked of it.
    "options": {"runOnly": {"type": "tag", "values": WCAG}, "rules": {NAMED: {"enabled": True}}},
    # They pass the keys on at once, to what opened or back.
    "context": {"exclude": [["[data-headlessui-focus-guard]"]]},
}
SPACED = """* { line-height: 1.5 !important; letter-spacing: 0.12em !important; word-spacing: 0.16em !important }
p { margin-bottom: 2em !important }"""
"""As far apart as WCAG 1.4.12 has it."""
SPACE_OUT = "(rules) => { const s = new CSSStyleSheet(); s.replaceSync(rules); document.adoptedStyleSheets = [s]; }"
CUT_OFF = """() => [...document.querySelectorAll("body *")].filter((element) => {
  const style = getComputedStyle(element);
  const words = [...element.childNodes].some((node) => node.nodeType === Node.TEXT_NODE && node.textContent.trim());
  // What is only read out is a point wide; what gives way says all of itself in a title.
  if (!words || element.clientWidth < 2 || element.closest("[title]") || style.visibility === "hidden") return false;
  const hides = (over) => over === "hidden" || over === "clip";
  return (hides(style.overflowX) && element.scrollWidth > element.clientWidth + 1)
    || (hides(style.overflowY) && element.scrollHeight > element.clientHeight + 1);
}).map((element) => element.textContent.trim().slice(0, 60))"""


@pytest.mark.parametrize("view", VIEWS)
def test_words_may_be_twice_as_large_and_stand_further_apart(demo: tuple[Page, str], view: str):
    """WCAG 1.4.4 and 1.4.12. Twice as large is half as much of everything: 640 points of width."""
    page, base = demo
    page.goto(f"{base}/{view}")
    expect(page.get_by_text(VIEWS[view]).first).to_be_visible(timeout=15_000)
    cut_before = set(page.evaluate(CUT_OFF))
    page.set_viewport_size({"width": 640, "height": 400})
    assert set(page.evaluate(CUT_OFF)) - cut_before == set()
    assert page.evaluate("document.documentElement.scrollWidth") <= 640
    page.set_viewport_size({"width": 1280, "height": 800})
    page.evaluate(SPACE_OUT, SPACED)
    assert set(page.evaluate(CUT_OFF)) - cut_before == set()
    assert page.evaluate("document.documentElement.scrollWidth") <= 1280


OPENED: dict[str, tuple[str, list[tuple[str, str]], str]] = {
    "account": ("gather", [("button", "Account of")], "By night"),
    "find anything": ("gather", [("button", "Find anything")], ""),
    "scope of people": ("people", [("button", "all 86 people")], "Only the 86 listed"),
    "conditions of the scope": ("people", [("button", "no further conditions")], "What is in play"),
    "saved scopes": ("compare?cases=1.2", [("button", "Saved scopes")], "Name of this scope"),
    "a variable": ("people", [("button", "Crosses for work")], "Missing values are left out"),
    "a distribution": ("people?spread=2", [], "By size"),
    "a new variable": ("people", [("button", "Make a variable")], "Make the variable"),
    "a new person": ("people", [("button", "Add a person")], "ID or pseudonym"),
    "kinds of memos": ("code/memos", [("button", "Kinds …")], "Every project has"),
    "ticked memos given a kind": ("code/memos", [("button", "Tick all shown"), ("button", "Give a kind")], "Analytic"),
    "a list of memos": ("code/memos?look=list&sort=on", [], "Kinds"),
    "memos on a person": ("people", [("button", "Memos on H01")], "Kind"),
    "merging people": ("people", [("button", "Merge H01 with")], "stays"),
    "a cohort": ("people?tab=cohorts", [("button", "Make a cohort")], "How it is made"),
    "keys": ("code", [("button", "Keys")], "Keys at the reading desk"),
    "a turn": ("code", [("button", "Turn 1: split")], "Change"),
    "a code’s card": ("code", [("button", "Missed connections")], "Covers"),
    "notes in the margin": ("code", [("button", "Notes in the margin")], "No notes"),
    "documents to choose": ("code", [("combobox", "Document")], "passage"),
    "a new code": ("code/codebook", [("button", "New code")], "What it means"),
    "merging codes": (
        "code/codebook",
        [("checkbox", "Tick Missed connections"), ("checkbox", "Tick Freight delays"), ("button", "Merge")],
        "Merge",
    ),
    "a codebook file": ("code/codebook", [("button", "Bring in")], "file"),
    "rows of a comparison": ("compare", [("button", "7 codes under")], "Top level"),
    "what is counted": ("compare", [("button", "Measure:")], "passages"),
    "groups": ("compare", [("button", "all 3")], "weekly"),
    "a word": ("compare", [("button", "counting: what it means")], "All words"),
    "keeping": ("compare", [("button", "Keep")], "A kept comparison is live"),
    "freezing": ("compare", [("button", "Freeze")], "Freeze"),
    "kept ones": ("compare", [("button", "Kept 3")], "kept by"),
    "ways out": ("compare", [("button", "Export")], "Copy as table"),
    "a new exhibit": ("report", [("button", "New exhibit")], "Name"),
    "a digest": ("report/digests?open=7~3", [], "Write"),
}
"""What opens over a view or beside it: where, by which buttons, and what is then read there."""


WITHIN = """() => {
  const over = document.querySelector("[role=dialog], [role=menu], [role=listbox]");
  const keys = document.activeElement;
  return !over || over.contains(keys) || keys.getAttribute("aria-expanded") === "true";
}"""


@pytest.mark.parametrize("name", OPENED)
def test_nothing_serious_in_what_opens(demo: tuple[Page, str], name: str):
    page, base = demo
    view, buttons, shows = OPENED[name]
    page.goto(f"{base}/{view}")
    # Not by its role: what an address opens may already stand over it, and take it from whoever listens.
    expect(page.locator("nav[aria-label=Steps]")).to_be_visible()
    found = [page.get_by_role(role, name=re.compile(f"^{re.escape(label)}")).first for role, label in buttons]
    for one in found[:-1]:
        one.click()
    for opener in found[-1:]:
        opener.focus()
        page.keyboard.press("Enter")
    if shows:
        expect(page.get_by_text(shows).or_(page.get_by_label(shows)).locator("visible=true").first).to_be_visible()
    page.emulate_media(color_scheme="dark")
    check(page, {**OVER, "options": CONTRAST})
    page.emulate_media(color_scheme="light")
    check(page, OVER)
    assert page.evaluate("document.documentElement.scrollWidth") <= 1280
    # WCAG 2.4.3: the keys are in what lies over the page, and go back to what opened it.
    assert page.evaluate(WITHIN)
    page.keyboard.press("Escape")
    for opener in found[-1:]:
        expect(page.locator("[role=dialog], [role=menu], [role=listbox]")).to_have_count(0)
        expect(opener).to_be_focused()


def check(page: Page, over: dict[str, Any] | None = None) -> None:
    found = [
        (row["id"], node["html"][:160])
        for row in Axe().run(page, **(over or {"options": RULES})).response["violations"]
        for node in row["nodes"]
        # A drawn figure's own title is no words on it, and axe reads it as such.
        if not (row["id"] == NAMED and node["html"].startswith("<g "))
    ]
    assert found == []


def test_colours_of_the_night_are_chosen_and_stay(page: Page, home: str):
    open_demo(page, home)
    ground = "getComputedStyle(document.body).backgroundColor"
    by_day = page.evaluate(ground)
    page.get_by_role("button", name="Account of").click()
    page.get_by_role("menuitem", name="By night").click()
    assert page.evaluate(ground) != by_day
    page.reload()
    expect(page.get_by_role("heading", name="Documents", level=2)).to_be_visible()
    assert page.evaluate(ground) != by_day
    # Figures go on somebody's white page whatever the screen wears.
    page.get_by_role("link", name=re.compile("^Compare")).click()
    expect(page.get_by_text("Adds up:")).to_be_visible()
    page.get_by_role("button", name="Export").click()
    with page.expect_download() as kept:
        page.get_by_role("button", name=".svg").click()
    drawn = kept.value.path().read_text(encoding="utf-8")
    assert not re.search(r"var\(|color\(|light-dark", drawn)
    assert re.search(r'<rect x="0" y="0" [^>]*fill="rgb\(255, 255, 255\)"', drawn)


def test_a_narrow_desk_has_the_card_of_the_passage_in_hand(page: Page, home: str):
    """WCAG 1.4.10, at 320 points: cards don't stand beside the text, and nothing of theirs is lost."""
    open_demo(page, home)
    page.get_by_role("link", name="P05_Maren_garden").first.click()
    expect(page.get_by_text("Shopping ahead").first).to_be_visible()
    page.set_viewport_size({"width": 320, "height": 640})
    coded = page.locator("[data-passages]").first
    coded.scroll_into_view_if_needed()
    coded.click()
    card = page.get_by_role("region", name="The passage in hand")
    expect(card).to_contain_text("Shopping ahead")
    expect(card).to_be_in_viewport()
    expect(page.get_by_role("combobox", name="Coding line")).to_be_in_viewport()
    assert page.evaluate("document.documentElement.scrollWidth") <= 320


def test_a_whole_text_and_its_codes_on_paper(page: Page, home: str):
    open_demo(page, home)
    page.get_by_role("link", name="P05_Maren_garden").first.click()
    expect(page.get_by_text("Shopping ahead").first).to_be_visible()
    words = " ".join(pages_of(page))
    assert "P05_Maren_garden" in words
    assert "A conversation in the garden room" in words
    # From the last turn, and beneath a turn what is coded in it, by whom.
    last = page.locator(".reading").last.inner_text().strip()
    assert " ".join(last.split()[-4:]) in " ".join(words.split())
    assert "Shopping ahead (RA)" in words
    assert "Select words in the text" not in words


def test_all_of_a_long_list_on_paper(page: Page, home: str):
    """On screen only what is in view of the roster is there."""
    open_demo(page, home)
    page.get_by_role("link", name=re.compile("^People")).click()
    expect(page.get_by_role("rowheader", name="H01").or_(page.get_by_text("H01").first).first).to_be_visible()
    # Where little is on a sheet, its letters are read one by one: blanks say nothing.
    pages = ["".join(words.split()) for words in pages_of(page)]
    assert [name for name in ("H01", "H31", "H60", "P01", "P26") if name not in "".join(pages)] == []
    # Over the rows of every sheet stands what they are.
    assert len(pages) > 1
    assert [words for words in pages if "Crossesforwork" not in words or "Household" not in words] == []


def test_what_colour_shows_stays_where_the_machine_sets_all_colours(page: Page, home: str):
    """Forced colours: coded words are underlined, and what is current can be told from what isn't."""
    open_demo(page, home)
    page.emulate_media(forced_colors="active")
    page.get_by_role("link", name="P05_Maren_garden").first.click()
    coded = page.locator(".coded").first
    expect(coded).to_be_visible()
    assert "underline" in coded.evaluate("one => getComputedStyle(one).textDecorationLine")
    ground = "one => getComputedStyle(one).backgroundColor"
    steps = page.get_by_role("navigation", name="Steps")
    current = steps.locator("[aria-current=page]")
    expect(current).to_contain_text("Code")
    assert current.evaluate(ground) != steps.get_by_role("link", name=re.compile("^People")).evaluate(ground)


def pages_of(page: Page) -> list[str]:
    """The words of each sheet, printed as a browser prints."""
    document = pypdfium2.PdfDocument(page.pdf(format="A4"))
    return [sheet.get_textpage().get_text_range() for sheet in document]
