"""Invited by mail, in with a new account, a passkey made and used, a password forgotten and made anew: by hand and key."""

import re

import pytest
from playwright.sync_api import Page, expect

from tests.browser.conftest import open_demo


@pytest.fixture
def elsewhere(browser, home: str) -> Page:
    """Somebody else's browser, at the name by which passkeys can be made, with a device that keeps them."""
    context = browser.new_context(
        viewport={"width": 1280, "height": 800}, base_url=home.replace("127.0.0.1", "localhost")
    )
    page = context.new_page()
    session = context.new_cdp_session(page)
    session.send("WebAuthn.enable")
    device = {"protocol": "ctap2", "transport": "internal", "hasResidentKey": True, "hasUserVerification": True,
              "isUserVerified": True, "automaticPresenceSimulation": True}  # fmt: skip
    session.send("WebAuthn.addVirtualAuthenticator", {"options": device})
    yield page
    context.close()


def sign_out(page: Page) -> None:
    page.get_by_role("button", name=re.compile("^Account of")).click()
    page.get_by_role("menuitem", name="Sign out").click()
    expect(page.get_by_role("button", name="Sign in", exact=True)).to_be_visible()


def test_invited_in_with_a_passkey_and_a_password_made_anew(page: Page, home: str, elsewhere: Page):
    open_demo(page, home)
    page.goto(f"{re.match(r'.*/projects/[0-9]+', page.url)[0]}/members")
    page.get_by_label("Mail address").fill("inga@skerrow.example")
    page.keyboard.press("Enter")
    expect(page.get_by_text("A mail is on its way to inga@skerrow.example")).to_be_visible()
    expect(page.get_by_role("list", name="Invitations that wait")).to_contain_text("inga@skerrow.example")
    page.goto(f"{home}/mailbox")
    link = page.get_by_role("link", name=re.compile("invitation")).first
    expect(link).to_be_visible(timeout=60_000)

    elsewhere.goto(link.get_attribute("href") or "")
    expect(elsewhere.get_by_role("heading", name=re.compile("Rana Aske invites you into"))).to_be_visible()
    elsewhere.get_by_label("Your name, as others see it").fill("Inga Holm")
    elsewhere.get_by_label("Name to sign in with").fill("inga")
    elsewhere.get_by_label("Password").fill("a phrase of her own")
    elsewhere.keyboard.press("Enter")
    expect(elsewhere.get_by_role("link", name="After the winter timetable")).to_be_visible()

    elsewhere.goto("/account")
    elsewhere.get_by_role("button", name="Add one").click()
    dialog = elsewhere.get_by_role("dialog", name="Add a passkey")
    dialog.get_by_label("What it is called").fill("Her laptop")
    dialog.get_by_label("Your password").fill("a phrase of her own")
    elsewhere.keyboard.press("Enter")
    codes = elsewhere.get_by_role("list", name="Codes").get_by_role("listitem")
    expect(codes).to_have_count(10)
    kept = codes.first.inner_text()
    elsewhere.get_by_role("button", name="I have kept them").click()
    expect(elsewhere.get_by_text("Her laptop")).to_be_visible()

    sign_out(elsewhere)
    elsewhere.get_by_role("button", name="Sign in with a passkey").click()
    expect(elsewhere.get_by_role("heading", name=re.compile("Your projects|Inga Holm"))).to_be_visible()
    sign_out(elsewhere)

    elsewhere.goto("/forgotten")
    elsewhere.get_by_label("Name, or mail address").fill("inga")
    elsewhere.keyboard.press("Enter")
    expect(elsewhere.get_by_role("status")).to_contain_text("a link is on its way")
    elsewhere.get_by_role("link", name="The demo’s mailbox").click()
    elsewhere.get_by_role("link", name=re.compile("new-password")).first.click(timeout=60_000)
    elsewhere.get_by_label("New password").fill("another phrase of hers")
    elsewhere.keyboard.press("Enter")
    expect(elsewhere.get_by_text("Your password is new.")).to_be_visible()

    # The password alone isn't enough any more; a kept code is, once.
    elsewhere.get_by_label("Name").fill("inga")
    elsewhere.get_by_label("Password").fill("another phrase of hers")
    elsewhere.keyboard.press("Enter")
    expect(elsewhere.get_by_role("button", name="Use a passkey")).to_be_visible()
    elsewhere.get_by_label("One of your kept codes").fill(kept)
    elsewhere.keyboard.press("Enter")
    expect(elsewhere.get_by_role("heading", name="Your projects")).to_be_visible()
