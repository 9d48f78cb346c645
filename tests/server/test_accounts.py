"""Signing in, second factors, forgotten passwords, sessions and invitations."""

import re
import time

import pytest
from allauth.mfa.models import Authenticator
from allauth.mfa.totp.internal import auth as totp
from allauth.usersessions.models import UserSession
from rest_framework.test import APIClient

from server.accounts import jobs, limits
from server.accounts.adapter import Adapter
from server.accounts.models import Invitation, StandInMail
from server.projects.models import Account, Membership, TrailEntry
from server.projects.trail import undo
from tests.server.conftest import World

PASSWORD = "a long enough phrase"
WRONG = {"username": "owner", "password": "not the phrase"}


@pytest.fixture(autouse=True)
def _sent_at_once(monkeypatch):
    """The queue's mails are sent here and now."""
    monkeypatch.setattr(jobs.send_mail, "defer", lambda **asked: jobs.send_mail(**asked))


@pytest.fixture
def posted(settings, mailoutbox):
    settings.MAIL = "smtp://mail.example"
    return mailoutbox


@pytest.fixture
def person(empty: World) -> Account:
    account = empty.owner.account
    account.set_password(PASSWORD)
    account.email = "owner@skerrow.example"
    account.save()
    return account


def sign_in(client: APIClient, username: str = "owner", password: str = PASSWORD, **more: str):
    return client.post("/api/session", {"username": username, "password": password}, format="json", **more)


def signed_in(client: APIClient) -> bool:
    return client.get("/api/session").json()["account"] is not None


def code_of(account: Account) -> str:
    """What an app shows now."""
    secret = Adapter().decrypt(Authenticator.objects.get(user=account, type="totp").data["secret"])
    return totp.format_hotp_value(totp.hotp_value(secret, [*totp.yield_hotp_counters_from_time()][-1]))


@pytest.fixture
def twice(person: Account) -> tuple[Account, list[str]]:
    """An account with a second factor, and its codes."""
    client = APIClient()
    sign_in(client)
    begun = client.post("/api/account/totp", {"password": PASSWORD}, format="json").json()
    assert begun["address"].startswith("otpauth://totp/owner?secret=")
    assert begun["picture"].startswith("<?xml")
    wrong = client.put("/api/account/totp", {"code": "000000"}, format="json")
    assert wrong.status_code == 400
    assert not Authenticator.objects.exists()
    now = next(iter(totp.yield_hotp_counters_from_time()))
    right = totp.format_hotp_value(totp.hotp_value(begun["secret"], now))
    codes = client.put("/api/account/totp", {"code": right}, format="json").json()["codes"]
    assert len(set(codes)) == 10
    return person, codes


def test_hotp_gives_the_published_values():
    """RFC 4226, appendix D: the secret “12345678901234567890”."""
    secret = "GEZDGNBVGY3TQOJQGEZDGNBVGY3TQOJQ"
    said = ["755224", "287082", "359152", "969429", "338314", "254676", "287922", "162583", "399871", "520489"]
    assert [totp.format_hotp_value(totp.hotp_value(secret, count)) for count in range(10)] == said


def test_a_second_factor_is_asked_for_and_a_code_is_good_once(twice):
    account, _ = twice
    client = APIClient()
    answer = sign_in(client).json()
    assert (answer["account"], answer["second"]) == (None, ["code", "recovery"])
    assert client.get("/api/projects").status_code == 403
    code = code_of(account)
    assert client.post("/api/session/second", {"code": f"{code[:3]} {code[3:]}"}, format="json").json()["account"]
    assert client.get("/api/projects").status_code == 200
    other = APIClient()
    sign_in(other)
    again = other.post("/api/session/second", {"code": code}, format="json")
    assert again.status_code == 400
    assert "used already" in again.json()["error"]


def test_a_code_kept_for_when_the_app_is_lost_is_good_once(twice):
    _, codes = twice
    for expected in (200, 400):
        client = APIClient()
        sign_in(client)
        assert client.post("/api/session/second", {"code": codes[0]}, format="json").status_code == expected
    assert client.get("/api/account").status_code == 403
    sign_in(client)
    client.post("/api/session/second", {"code": codes[1]}, format="json")
    assert client.get("/api/account").json()["codes_left"] == 8
    made = client.post("/api/account/codes", {"password": PASSWORD}, format="json").json()["codes"]
    assert not set(made) & set(codes)


def test_wrong_codes_are_not_tried_without_end(twice):
    client = APIClient()
    sign_in(client)
    for _ in range(limits.OF_OWN):
        assert client.post("/api/session/second", {"code": "000000"}, format="json").status_code == 400
    assert client.post("/api/session/second", {"code": twice[1][0]}, format="json").status_code == 429


def test_the_second_step_ends_with_the_session_and_with_time(twice, monkeypatch):
    client = APIClient()
    nothing = client.post("/api/session/second", {"code": twice[1][0]}, format="json")
    assert "Begin again" in nothing.json()["error"]
    sign_in(client)
    later = time.time() + 601
    monkeypatch.setattr("server.accounts.actions.signing.time.time", lambda: later)
    assert client.post("/api/session/second", {"code": twice[1][0]}, format="json").status_code == 400
    assert not signed_in(client)


def test_secrets_are_not_readable_in_the_database(twice):
    codes = twice[1]
    client = APIClient()
    sign_in(client)
    client.post("/api/session/second", {"code": codes[0]}, format="json")
    held = str(list(Authenticator.objects.values_list("data", flat=True)))
    for code in codes:
        assert code not in held
    assert not re.search(r"'[A-Z2-7]{32}'", held)


def test_turning_the_app_off_takes_the_password_and_the_codes_with_it(twice):
    codes = twice[1]
    client = APIClient()
    sign_in(client)
    client.post("/api/session/second", {"code": codes[0]}, format="json")
    assert client.post("/api/account/totp/off", {"password": "wrong"}, format="json").status_code == 400
    assert client.post("/api/account/totp/off", {"password": PASSWORD}, format="json").status_code == 204
    assert not Authenticator.objects.exists()
    assert sign_in(APIClient()).json()["account"]["username"] == "owner"


def test_a_passkey_that_nobody_made_is_refused_with_a_sentence(person: Account):
    client = APIClient(SERVER_NAME="localhost")
    options = client.get("/api/session/passkey").json()
    assert options["publicKey"]["rpId"] == "localhost"
    for credential in (
        {},
        {"id": "x"},
        {"response": {"userHandle": "MQ"}},
        {"response": 5},
        {"response": {"userHandle": None}},
    ):
        answer = client.post("/api/session/passkey", {"credential": credential}, format="json")
        assert (answer.status_code, answer.json()["error"]) == (400, "This passkey isn’t known here.")
    sign_in(client)
    assert client.post("/api/account/passkeys", {"name": "x", "credential": {}}, format="json").status_code == 400
    begun = client.post("/api/account/passkeys/new", {"password": PASSWORD}, format="json").json()
    assert begun["publicKey"]["authenticatorSelection"]["userVerification"] == "required"
    assert (
        client.post("/api/account/passkeys", {"name": "x", "credential": {"id": 1}}, format="json").status_code == 400
    )


def test_whoever_tries_passwords_over_many_accounts_is_stopped_and_nobody_else(person: Account, settings):
    """From one network, over many names. A browser that has signed in from there before goes on, and so does every other network."""
    known, sprayer = APIClient(), APIClient()
    sign_in(known)
    known.delete("/api/session")
    for number in range(limits.OF_NETWORK):
        assert sign_in(sprayer, f"somebody{number}", "a guess").status_code == 400
    stopped = sign_in(sprayer)
    assert stopped.status_code == 429
    assert "others aren’t held up by it" in stopped.json()["error"]
    assert sign_in(known).status_code == 200
    assert sign_in(APIClient(REMOTE_ADDR="198.51.100.4")).status_code == 200


def test_an_account_is_locked_only_for_where_it_was_tried(person: Account):
    thief = APIClient(REMOTE_ADDR="203.0.113.7")
    statuses = [thief.post("/api/session", WRONG, format="json").status_code for _ in range(9)]
    assert statuses[0] == 400
    assert statuses[-1] == 429
    assert sign_in(thief).status_code == 429
    assert sign_in(APIClient(REMOTE_ADDR="198.51.100.4")).status_code == 200


def test_one_household_of_the_newer_addresses_is_one_network(rf):
    same = {limits.network_of(rf.get("/", REMOTE_ADDR=f"2001:db8:1:2::{end}")) for end in ("1", "2", "ffff")}
    assert same == {"2001:db8:1:2::"}
    assert limits.network_of(rf.get("/", REMOTE_ADDR="not an address")) == "unknown"


def test_a_wrong_current_password_is_not_tried_without_end_and_doesnt_stop_signing_in(person: Account):
    client = APIClient()
    sign_in(client)
    for _ in range(limits.OF_OWN):
        answer = client.put("/api/password", {"current": "wrong", "new": "another long phrase"}, format="json")
        assert "isn’t right" in answer.json()["error"]
    assert (
        client.put("/api/password", {"current": PASSWORD, "new": "another long phrase"}, format="json").status_code
        == 429
    )
    assert sign_in(APIClient()).status_code == 200


def test_a_changed_password_ends_every_other_session(person: Account):
    here, elsewhere = APIClient(), APIClient(HTTP_USER_AGENT="Elsewhere")
    sign_in(here)
    sign_in(elsewhere)
    seen = here.get("/api/account").json()["sessions"]
    assert sorted((one["agent"], one["here"]) for one in seen) == [("", True), ("Elsewhere", False)]
    short = here.put("/api/password", {"current": PASSWORD, "new": "short"}, format="json")
    assert "at least 10" in short.json()["error"]
    assert (
        here.put("/api/password", {"current": PASSWORD, "new": "another long phrase"}, format="json").status_code == 204
    )
    assert signed_in(here)
    assert not signed_in(elsewhere)
    assert len(here.get("/api/account").json()["sessions"]) == 1


def test_one_session_is_ended_from_another_and_nobody_elses(person: Account, empty: World):
    here, elsewhere = APIClient(), APIClient()
    sign_in(here)
    sign_in(elsewhere)
    other = next(one["id"] for one in here.get("/api/account").json()["sessions"] if not one["here"])
    stranger = empty.client(empty.stranger)
    assert stranger.delete(f"/api/account/sessions/{other}").status_code == 404
    assert here.delete(f"/api/account/sessions/{other}").status_code == 204
    assert signed_in(here)
    assert not signed_in(elsewhere)


def test_who_does_nothing_for_long_signs_in_anew(person: Account, settings, monkeypatch):
    client = APIClient()
    sign_in(client)
    assert client.get("/api/projects").status_code == 200
    start = time.time()
    later = start + settings.IDLE_SECONDS - 5
    monkeypatch.setattr("server.accounts.watching.time.time", lambda: later)
    # An open page that asks by itself is nobody's being there.
    told = client.get("/api/session")
    assert told.json()["account"]
    # But it is told in time, and whoever asks for anything stays.
    assert told.headers["X-Session-Ends"] == "5"
    assert "X-Session-Ends" not in client.get("/api/projects").headers
    assert "X-Session-Ends" not in client.get("/api/session").headers
    start = later
    later = start + settings.IDLE_SECONDS + 5
    assert client.get("/api/projects").status_code == 403
    assert not signed_in(client)


def test_nobodys_mailbox_is_filled_and_links_dont_follow_a_name_that_was_asked(person: Account, posted, settings):
    settings.ADDRESS = "https://cohortia.example"
    for _ in range(6):
        assert APIClient().post("/api/password/forgotten", {"name": "owner"}, format="json").status_code == 204
    assert len(posted) == 4
    assert all("https://cohortia.example/new-password/" in one.body for one in posted)
    # Who asks for links isn't stopped from signing in.
    assert sign_in(APIClient()).status_code == 200


def test_a_forgotten_password_is_made_anew_by_mail_once(person: Account, posted):
    client = APIClient()
    sign_in(client)
    for name in ("owner", "OWNER@skerrow.example", "nobody"):
        assert APIClient().post("/api/password/forgotten", {"name": name}, format="json").status_code == 204
    assert [one.to for one in posted] == [["owner@skerrow.example"]] * 2
    key, token = re.search(r"/new-password/([^/]+)/(\S+)", posted[0].body).groups()
    renewed = {"key": key, "token": token, "password": "yet another phrase"}
    weak = client.post("/api/password/new", {**renewed, "password": "short"}, format="json")
    assert "at least 10" in weak.json()["error"]
    assert APIClient().post("/api/password/new", renewed, format="json").status_code == 204
    assert not signed_in(client)
    assert sign_in(APIClient(), password="yet another phrase").status_code == 200
    for one in (key, "nonsense", "OTk5OTk5OTk5OTk5OTk5OTk5OTk5OTk5"):
        again = APIClient().post("/api/password/new", {**renewed, "key": one}, format="json")
        assert again.status_code == 400
        assert "Ask for another one" in again.json()["error"]


def test_without_mail_nobody_is_left_waiting_for_one(person: Account, settings):
    settings.MAIL = ""
    answer = APIClient().post("/api/password/forgotten", {"name": "owner"}, format="json")
    assert answer.status_code == 400
    assert "Ask an owner" in answer.json()["error"]
    assert APIClient().get("/api/mailbox").status_code == 404


def test_the_demos_mails_lie_in_its_mailbox(person: Account, settings):
    settings.MAIL, settings.EMAIL_BACKEND = "stand-in", "server.accounts.mail.StandIn"
    APIClient().post("/api/password/forgotten", {"name": "owner"}, format="json")
    (mail,) = APIClient().get("/api/mailbox").json()
    assert mail["to"] == "owner@skerrow.example"
    assert "/new-password/" in mail["text"]
    for number in range(60):
        jobs.send_mail(to="a@example.org", subject=str(number), text="")
    assert StandInMail.objects.count() == 50


def invite(world: World, email: str = "new@skerrow.example", role: str = "coder") -> str:
    client = world.client(world.owner.account)
    made = client.post(world.url("/invitations"), {"email": email, "role": role}, format="json").json()
    return made["link"].rsplit("/", 1)[1]


def test_whoever_is_invited_comes_in_with_a_new_account(person: Account, empty: World, posted):
    secret = invite(empty)
    (mail,) = posted
    assert mail.to == ["new@skerrow.example"]
    assert secret in mail.body
    assert Invitation.objects.get().digest != secret
    client = APIClient()
    shown = client.get(f"/api/invitations/{secret}").json()
    assert (shown["project"], shown["invited_by"], shown["role"]) == ("Crossings", "Owner", "coder")
    said = {"username": "newcomer", "display_name": "New Comer", "password": "short"}
    refused = client.post(f"/api/invitations/{secret}", said, format="json")
    assert "at least 10" in refused.json()["error"]
    assert not Account.objects.filter(username="newcomer").exists()
    came = client.post(f"/api/invitations/{secret}", {**said, "password": PASSWORD}, format="json").json()
    assert (came["account"]["display_name"], came["may_begin"]) == ("New Comer", True)
    assert client.get(empty.url("/status")).status_code == 200
    assert [one["here"] for one in client.get("/api/account").json()["sessions"]] == [True]
    summaries = list(TrailEntry.objects.values_list("summary", flat=True))
    assert summaries == ["New Comer came in as coder, invited", "Invited new@skerrow.example as coder"]
    # The link is used up.
    assert APIClient().get(f"/api/invitations/{secret}").status_code == 404
    assert empty.client(empty.stranger).post(f"/api/invitations/{secret}", {}, format="json").status_code == 404


def test_whoever_has_an_account_comes_in_with_it(empty: World):
    secret = invite(empty, email="", role="viewer")
    client = empty.client(empty.stranger)
    assert client.post(f"/api/invitations/{secret}", {}, format="json").json()["account"]["username"] == "stranger"
    assert Membership.objects.get(project=empty.project, account=empty.stranger).role == "viewer"
    # Their own projects stay theirs to make.
    assert client.post("/api/projects", {"name": "Mine"}, format="json").status_code == 200
    twice = empty.client(empty.stranger).post(f"/api/invitations/{invite(empty)}", {}, format="json")
    assert twice.status_code == 409


def test_an_invitation_is_over_when_withdrawn_late_or_its_owner_isnt_one_any_more(empty: World):
    client = empty.client(empty.owner.account)
    for how in ("withdrawn", "late", "demoted", "undone"):
        Membership.objects.filter(pk=empty.owner.pk).update(role="owner")
        empty.owner.refresh_from_db()
        secret = invite(empty)
        if how == "withdrawn":
            (one,) = client.get(empty.url("/invitations")).json()
            # The link is shown once, in the answer to its making.
            assert one["link"] == ""
            assert client.delete(empty.url(f"/invitations/{one['id']}")).status_code == 204
        elif how == "late":
            Invitation.objects.update(made_at="2020-01-01T00:00Z", until="2020-01-15T00:00Z")
        elif how == "undone":
            undo(empty.owner)
        else:
            Membership.objects.filter(pk=empty.coder.pk).update(role="owner")
            Membership.objects.filter(pk=empty.owner.pk).update(role="coder")
        answer = APIClient().post(f"/api/invitations/{secret}", {"username": "x", "password": PASSWORD}, format="json")
        assert answer.status_code == 404, how
        assert not Account.objects.filter(username="x").exists()
    assert APIClient().get("/api/invitations/nonsense").status_code == 404


def test_a_viewer_begins_no_projects_unless_an_owner_allows_it(empty: World):
    secret = invite(empty, role="viewer")
    client = APIClient()
    client.post(f"/api/invitations/{secret}", {"username": "reader", "password": PASSWORD}, format="json")
    assert not client.get("/api/session").json()["may_begin"]
    refused = client.post("/api/projects", {"name": "Mine"}, format="json")
    assert refused.status_code == 403
    assert "can allow you" in refused.json()["error"]
    reader = Membership.objects.get(account__username="reader")
    address = empty.url(f"/members/{reader.pk}")
    assert empty.client(empty.coder.account).patch(address, {"may_begin": True}, format="json").status_code == 403
    owner = empty.client(empty.owner.account)
    assert owner.patch(address, {"may_begin": True}, format="json").json()["may_begin"]
    assert client.post("/api/projects", {"name": "Mine"}, format="json").status_code == 200
    assert owner.patch(empty.url(f"/members/{empty.owner.pk}"), {"may_begin": False}, format="json").status_code == 400


def test_a_closed_account_leaves_no_factor_no_session_and_no_invitation(twice, empty: World):
    account, codes = twice
    Membership.objects.filter(pk=empty.coder.pk).update(role="owner")
    invite(empty)
    client = APIClient()
    sign_in(client)
    client.post("/api/session/second", {"code": codes[0]}, format="json")
    assert client.post("/api/account/close", {"password": PASSWORD}, format="json").status_code == 204
    assert not Authenticator.objects.exists()
    assert not UserSession.objects.filter(user=account).exists()
    assert not Invitation.objects.exists()


def test_an_address_is_changed_with_the_password(person: Account):
    client = APIClient()
    sign_in(client)
    for said, status in (
        ({"email": "new@skerrow.example", "password": "wrong"}, 400),
        ({"email": "not an address", "password": PASSWORD}, 400),
        ({"email": "new@skerrow.example", "password": PASSWORD}, 204),
    ):
        assert client.patch("/api/account", said, format="json").status_code == status
    assert client.get("/api/account").json()["email"] == "new@skerrow.example"
