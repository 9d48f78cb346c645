"""Every route of the API, walked as a stranger and as each role."""

import sys

import pytest
from django.urls import get_resolver

from server.accounts.actions import invite
from server.coding import actions as themes
from server.coding.models import Code, Coding, Passage, Topic, TopicPhrase
from server.compare.actions import freeze
from server.compare.models import CellNote, KeptComparison, SavedQuery, SavedScope
from server.gather.models import Document, Speaker, StagedFile
from server.people import actions as people
from server.people.models import Case
from server.projects.models import Job, Membership
from server.report.actions import make_exhibit
from server.report.models import Memo
from tests.server.conftest import shared, upload

OPEN = {
    "api/session",
    "api/session/second",
    "api/session/passkey",
    "api/password",
    "api/password/forgotten",
    "api/password/new",
    "api/invitations/<str:secret>",
    "api/mailbox",
    "api/account",
    "api/account/language",
    "api/account/totp",
    "api/account/totp/off",
    "api/account/codes",
    "api/account/passkeys",
    "api/account/passkeys/new",
    "api/account/sessions/others",
    "api/projects",
    "api/backups",
    "api/schema",
    "api/docs",
}
# Whoever asks here is asked who they are, or sees their own only: held to that in test_accounts.
ONES_OWN = {
    "api/account/passkeys/<int:passkey_id>/remove",
    "api/account/sessions/<int:session_id>",
    "api/account/close",
    "api/jobs/<int:job_id>",
    "api/project-files",
    "api/project-files/<int:arrived_id>",
    "api/project-files/<int:arrived_id>/bring-in",
}
# Changing something needs a coder, except: reading by POST, and what only an owner may do.
READ_BY_POST = {
    "compare",
    "compare/evidence",
    "compare/evidence/around",
    "compare/stands-out",
    "compare/stands-out/steady",
    "compare/adjusted",
    "compare/leaving",
    "compare/export",
    "compare/map",
    "compare/one-by-one",
    "compare/spread",
    "compare/holdings",
    "compare/progress",
    "compare/holdings/export",
    "compare/progress/export",
    "compare/search/export",
    "compare/together/export",
    "compare/together",
    "compare/together/meetings",
    "compare/frozen/<int:frozen_id>/cell",
    "compare/search",
    "compare/scopes/count",
    "compare/scopes/passages/<int:document_id>",
    "codes/<int:code_id>/passages",
    "themes/<int:theme_id>/passages",
    "themes/counts",
    "variables/spreads",
    "variables/<int:variable_id>/distribution",
    "variables/<int:variable_id>/distribution/export",
    "cohorts/count",
    "find",
    "topics",
    "topics/<int:topic_id>/hits",
    "memos/file/<str:ending>",
    "guide/who",
    "guide/who/file",
    "answers",
    "words",
    "codebook/counts",
    "codes/<int:code_id>/merge",
}
OWNERS = {("invitations", "GET"), ("invitations", "POST"), ("invitations/<int:invitation_id>", "DELETE"), ("members", "POST"), ("members/<int:membership_id>", "PATCH"), ("members/<int:membership_id>", "DELETE"),
          ("", "PATCH"), ("delete", "POST"), ("file", "GET"), ("forget", "GET"), ("forget", "POST"), ("held/<int:case_id>", "GET")}  # fmt: skip
CODERS_READ = {"staged", "names"}


def routes():
    """(path beneath the project, method) for every view inside a project."""
    found = []

    def walk(patterns, prefix):
        for pattern in patterns:
            path = prefix + str(pattern.pattern)
            if hasattr(pattern, "url_patterns"):
                walk(pattern.url_patterns, path)
            elif hasattr(pattern.callback, "view_class") and path not in OPEN | ONES_OWN:
                assert path.startswith("api/projects/<int:project_id>"), f"{path} isn't inside a project"
                beneath = path.removeprefix("api/projects/<int:project_id>").removeprefix("/")
                for method in ("get", "post", "put", "patch", "delete"):
                    if hasattr(pattern.callback.view_class, method):
                        found.append((beneath, method.upper()))

    walk(get_resolver().url_patterns, "")
    return found


def needed(beneath: str, method: str) -> str:
    if (beneath, method) in OWNERS:
        return "owner"
    if method == "GET":
        return "coder" if beneath in CODERS_READ else "viewer"
    return "viewer" if method == "POST" and beneath in READ_BY_POST else "coder"


IDS: dict[str, int] = {}
"""What is in the world that all tests here share."""


def also_there(world):
    IDS.update(one_of_each(world))


@pytest.fixture
def filled(world):
    """A world with one of each thing that an address can name, and their numbers."""
    return world, IDS if shared.of is sys.modules[__name__] else one_of_each(world)


def one_of_each(world):
    p = world.project
    staged = StagedFile.objects.create(
        project=p,
        account=world.owner.account,
        name="a.txt",
        digest="",
        size=1,
        content={"lines": [["a", 0]]},
        kind="transcript",
    )
    job = Job.objects.create(project=p, account=world.owner.account, title="job")
    cohort = people.make_cohort(world.owner, "Everybody", None, [])
    passage = Passage.objects.filter(document__project=p).first()
    memo = Memo.objects.create(project=p, author=world.owner.account, text="Look again", passage=passage)
    kept = KeptComparison.objects.create(project=p, name="Who waits", asked={"codes": []}, author=world.owner.account)
    exhibit = make_exhibit(world.owner, "Voices", passages=[passage.pk])
    of_owner = {"project": p, "author": world.owner.account}
    topic = Topic.objects.create(project=p, name="Waiting", language="english")
    return {
        "document_id": Document.objects.filter(project=p).first().pk, "speaker_id": Speaker.objects.filter(document__project=p).first().pk,
        "staged_id": staged.pk, "job_id": job.pk, "case_id": Case.objects.filter(project=p).first().pk,
        "variable_id": p.variables.first().pk, "code_id": Code.objects.filter(project=p).first().pk,
        "coding_id": Coding.objects.first().pk, "membership_id": Membership.objects.get(project=p, role="viewer").pk, "key": 3,
        "number": 1, "by": p.variables.first().pk, "cohort_id": cohort.pk, "memo_id": memo.pk, "passage_id": passage.pk,
        "kept_id": kept.pk, "invitation_id": invite(world.owner, "", "coder", "")[0].pk,
        "note_id": CellNote.objects.create(
            comparison=kept, kind="code", row=1, group="", text="Look", author=world.owner.account).pk,
        "exhibit_id": exhibit.pk, "piece_id": exhibit.pieces.get().pk,
        "frozen_id": freeze(world.owner, "March", {"codes": [], "variable": p.variables.first().pk}, {}).pk,
        "query_id": SavedQuery.objects.create(**of_owner, name="Late at home", blocks={"parts": []}).pk,
        "scope_id": SavedScope.objects.create(**of_owner, name="Holm", scope={}).pk,
        "theme_id": themes.create_theme(world.owner, "Tied to the clock").pk, "kind_id": p.memo_kinds.create(name="Hunch").pk,
        "topic_id": topic.pk, "phrase_id": TopicPhrase.objects.create(topic=topic, said="wait").pk,
        "question_id": themes.create_question(world.owner, "Who carries the cost?").pk,
    }  # fmt: skip


def call(client, world, ids, beneath, method):
    for name, value in ids.items():
        beneath = beneath.replace(f"<int:{name}>", str(value))
    beneath = beneath.replace("<str:role>", "picture").replace("<str:ending>", "csv")
    return getattr(client, method.lower())(world.url(f"/{beneath}" if beneath else ""), {}, format="json")


@pytest.mark.django_db
@pytest.mark.parametrize("path", sorted(ONES_OWN))
def test_what_is_ones_own_is_nobody_elses(world, path):
    address = "/" + path.replace("<int:job_id>", "1").replace("<int:arrived_id>", "1")
    address = address.replace("<int:passkey_id>", "1").replace("<int:session_id>", "1")
    for method in ("get", "post", "delete"):
        assert getattr(world.client(None), method)(address).status_code == 403
        assert getattr(world.client(world.stranger), method)(address, {}, format="json").status_code in (400, 404, 405)


def test_there_are_routes_to_walk():
    assert len(routes()) > 35


@pytest.mark.parametrize(("beneath", "method"), routes())
def test_nobody_without_a_place_in_the_project_gets_in(filled, beneath, method):
    world, ids = filled
    assert call(world.client(None), world, ids, beneath, method).status_code == 403
    answer = call(world.client(world.stranger), world, ids, beneath, method)
    assert answer.status_code == 404
    assert "no such project" in answer.json()["error"]


@pytest.mark.parametrize(("beneath", "method"), routes())
@pytest.mark.parametrize("role", ["viewer", "coder", "owner"])
def test_each_role_reaches_as_far_as_it_should(filled, beneath, method, role):
    world, ids = filled
    member = getattr(world, role)
    answer = call(world.client(member.account), world, ids, beneath, method)
    if member.may(needed(beneath, method)):
        assert answer.status_code not in (403, 405, 500), answer.content
    else:
        assert answer.status_code == 403
        assert f"Your role in this project is {role}" in answer.json()["error"]


@pytest.mark.parametrize(
    ("beneath", "method"), [route for route in routes() if "<int:" in route[0] and "key" not in route[0]]
)
def test_things_of_another_project_are_not_found(filled, beneath, method):
    """A member of another project can't reach these things through their own project's address."""
    world, ids = filled
    own = world.stranger.memberships.get().project
    path = beneath
    for name, value in ids.items():
        path = path.replace(f"<int:{name}>", str(value))
    path = path.replace("<str:role>", "picture")
    bodies = {
        "topics/phrases": {"left_out": True},
        "hits": {"hits": [{"document": ids["document_id"], "start": 0, "end": 1}], "ticked": True},
        "topics": {"name": "x"},
        "memos/kinds": {"name": "x"},
        "notes": {"kind": "code", "row": 1, "group": "", "text": "x"},
        "cell": {"kind": "code", "id": 1, "group": "x"},
        "codings": {"rating": None},
        "split-at": {"at": 0, "time": 1.0},
        "guide/questions": {"codes": [ids["code_id"]]},
        "split": {"at": 5, "names": ["x"], "moves": []},
        "codes": {"codes": [ids["code_id"]]},
        "themes": {"name": "x"},
        "questions": {"text": "x"},
        "give": {"speaker": ids["speaker_id"]},
        "text": {"text": "x"},
        "categories": {"do": "rename", "labels": ["x"], "name": "y"},
        "cohorts": {"name": "x"},
        "merge": {"other": ids["case_id"]},
        "passages": {"start": 0, "end": 3, "codes": [ids["code_id"]]},
        "values": {"text": "x"},
        "cases": {"identifier": "x"},
        "proposed": {"speaker": None, "codes": [ids["code_id"]]},
        "turns": {"begin": 1.0, "finish": 2.0},
    }
    body = next(
        (found for part, found in bodies.items() if part in path),
        {"role": "viewer"} if "members" in path else {"title": "x"},
    )
    answer = getattr(world.client(world.stranger), method.lower())(
        f"/api/projects/{own.pk}/{path}", body, format="json"
    )
    if method == "DELETE" and "staged" in path:
        assert answer.json() == {"count": 0}
    else:
        assert answer.status_code == 404, answer.content


def test_another_projects_codes_cant_be_compared_or_applied(world, crosses):
    own = world.stranger.memberships.get().project
    client = world.client(world.stranger)
    code = Code.objects.filter(project=world.project).first()
    asked = {"codes": [code.pk], "variable": crosses.pk}
    assert client.post(f"/api/projects/{own.pk}/compare", asked, format="json").status_code == 404
    assert Document.objects.filter(project=own).count() == 0


def test_projects_are_listed_for_members_only(world):
    names = [row["name"] for row in world.client(world.stranger).get("/api/projects").json()]
    assert names == ["Elsewhere"]


def test_signing_in(world, client):
    world.owner.account.set_password("a long enough phrase")
    world.owner.account.save()
    wrong = client.post("/api/session", {"username": "owner", "password": "no"}, content_type="application/json")
    assert wrong.status_code == 400
    assert "don’t go together" in wrong.json()["error"]
    right = client.post(
        "/api/session", {"username": "owner", "password": "a long enough phrase"}, content_type="application/json"
    )
    assert right.json()["account"]["display_name"] == "Owner"
    assert client.get("/api/session").json()["account"]["username"] == "owner"
    client.delete("/api/session")
    assert client.get("/api/session").json()["account"] is None


def test_an_upload_through_the_api_is_staged_for_its_account_only(world):
    answer = world.client(world.coder.account).post(
        world.url("/staged"), {"files": [upload("x.txt", "P9: Hi.\nI: Oh.\nP9: Yes.")]}, format="multipart"
    )
    assert answer.json()[0]["transcript"]["turns"] == 3
    others = world.client(world.owner.account).get(world.url("/staged")).json()
    assert "x.txt" not in [row["name"] for row in others]


def test_a_project_keeps_an_owner(world):
    client = world.client(world.owner.account)
    answer = client.patch(world.url(f"/members/{world.owner.pk}"), {"role": "viewer"}, format="json")
    assert answer.status_code == 400
    world.owner.refresh_from_db()
    assert world.owner.role == "owner"
