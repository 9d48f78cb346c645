"""Exhibits and digests: kept with their passages, carried along, taken back, and closed to other projects."""

import io

import docx
import pytest
from django.db import IntegrityError, connection, transaction

from core.coding.places import Stretch
from server.coding import actions as coding
from server.coding.models import Code, Coding, Passage
from server.compare import actions as compare
from server.people import actions as people
from server.people.models import Case
from server.projects import trail
from server.projects.models import Membership
from server.report import actions as report
from server.report.models import Digest, Exhibit, ExhibitPiece, Memo
from tests.server.conftest import put

LATE, WALKED, STAYED = "The boat was late 🚢 again.", "I walked home", "I stayed at home"


@pytest.fixture
def client(world):
    return world.client(world.owner.account)


def passage(words: str) -> Passage:
    return next(row for row in Passage.objects.select_related("document") if row.said == words)


def make(world, client, *words: str, name="Voices of the pier") -> int:
    body = {"name": name, "audience": "the council", "passages": [passage(one).pk for one in words]}
    answer = client.post(world.url("/exhibits"), body, format="json")
    assert answer.status_code == 200, answer.content
    return answer.json()["count"]


def shown(world, client, pk: int):
    return client.get(world.url(f"/exhibits/{pk}")).json()


def test_an_order_and_a_name_that_is_taken_leave_all_as_it_was(world, client):
    make(world, client, name="Taken")
    pk = make(world, client, STAYED, LATE)
    second = shown(world, client, pk)["pieces"][1]["id"]
    url = world.url(f"/exhibits/{pk}")
    refused = client.patch(url, {"pieces": [second], "name": " taken "}, format="json")
    assert (refused.status_code, refused.json()["error"]) == (
        409,
        "There is an exhibit “taken” already; choose another name.",
    )
    assert [one["shown"] for one in shown(world, client, pk)["pieces"]] == [STAYED, LATE]
    assert client.patch(world.url("/exhibits/0"), {}, format="json").status_code == 404


def test_an_exhibit_shows_passages_in_order_trimmed_and_captioned(world, client, crosses):
    pk = make(world, client, STAYED, LATE)
    first, second = shown(world, client, pk)["pieces"]
    assert [first["shown"], second["shown"]] == [STAYED, LATE]
    assert second["people"][0]["identifier"] == "P1"
    assert {"variable": "Crosses", "text": "daily", "missing": None} in second["people"][0]["facts"]
    url = world.url(f"/exhibits/{pk}")
    cut = {"caption": "On being late", "cut_start": 4, "cut_end": 9}
    assert client.patch(f"{url}/pieces/{second['id']}", cut, format="json").status_code == 204
    assert client.patch(url, {"pieces": [second["id"]]}, format="json").status_code == 204
    changed = shown(world, client, pk)["pieces"]
    assert [(one["shown"], one["caption"]) for one in changed] == [("… boat was late …", "On being late"), (STAYED, "")]
    too_much = client.patch(f"{url}/pieces/{second['id']}", {"cut_start": 15, "cut_end": 12}, format="json")
    assert "Nothing would be left" in too_much.json()["error"]
    written = docx.Document(io.BytesIO(client.get(f"{url}/file/docx").content))
    texts = [paragraph.text for paragraph in written.paragraphs]
    assert texts[:4] == ["Voices of the pier", "For the council", "On being late", "“… boat was late …”"]
    assert texts[4] == "— P1, Holm, daily, 34 (P1_pier)"
    plain = client.get(f"{url}/file/md").content.decode()
    assert "> … boat was late …" in plain
    assert client.get(f"{url}/file/pdf").status_code == 404
    for _ in range(2):
        trail.undo(world.owner)
    assert [one["shown"] for one in shown(world, client, pk)["pieces"]] == [STAYED, LATE]


def test_a_query_fills_an_exhibit_once(world, client):
    pk = make(world, client, WALKED)
    home = Code.objects.get(name="Home").pk
    saved = compare.save_query(world.owner, "At home", {"join": "all", "parts": [{"what": "coded", "codes": [home]}]})
    url = world.url(f"/exhibits/{pk}/pieces")
    assert client.post(url, {"query": saved.pk}, format="json").json() == {"count": 1}
    assert client.post(url, {"query": saved.pk}, format="json").json() == {"count": 0}
    assert [one["shown"] for one in shown(world, client, pk)["pieces"]] == [WALKED, STAYED]


def test_a_passage_in_an_exhibit_stays_when_its_codes_go(world, client):
    pk = make(world, client, WALKED)
    kept = passage(WALKED)
    coding.remove_coding(world.owner, Coding.objects.get(passage=kept).pk)
    assert Passage.objects.filter(pk=kept.pk).exists()
    piece = ExhibitPiece.objects.get()
    assert client.delete(world.url(f"/exhibits/{pk}/pieces/{piece.pk}")).status_code == 204
    assert not Passage.objects.filter(pk=kept.pk).exists()
    trail.undo(world.owner)
    assert shown(world, client, pk)["pieces"][0]["shown"] == WALKED


def test_a_piece_follows_its_passage(world, client):
    pk = make(world, client, WALKED)
    moved = passage(WALKED)
    put(world.owner, moved.document, "walked home", Code.objects.get(name="Late"))
    coding.move_passage(world.owner, moved.pk, Stretch(moved.start + 2, moved.end))
    assert [one["shown"] for one in shown(world, client, pk)["pieces"]] == ["walked home"]


def test_exhibits_have_names_of_their_own_and_come_back(world, client):
    pk = make(world, client, LATE)
    again = client.post(world.url("/exhibits"), {"name": " voices of the  pier "}, format="json")
    assert (again.status_code, "already" in again.json()["error"]) == (409, True)
    question = coding.create_question(world.owner, "Who carries the cost?").pk
    body = {"name": "For the council", "question": question}
    assert client.patch(world.url(f"/exhibits/{pk}"), body, format="json").status_code == 204
    assert client.get(world.url("/exhibits")).json()[0]["question"] == question
    assert client.delete(world.url(f"/exhibits/{pk}")).status_code == 204
    trail.undo(world.owner)
    assert [(one["name"], one["size"]) for one in client.get(world.url("/exhibits")).json()] == [("For the council", 1)]


def digest(world, client, text: str, **of):
    case = Case.objects.get(project=world.project, identifier="P1").pk
    return client.put(world.url("/digests"), {"case": case, "text": text, **of}, format="json")


def test_a_digest_is_written_changed_and_taken_away(world, client):
    late = Code.objects.get(name="Late").pk
    assert digest(world, client, " Late again ", code=late).status_code == 204
    assert digest(world, client, "Late, and resigned to it", code=late).status_code == 204
    (only,) = client.get(world.url("/digests")).json()
    assert (only["identifier"], only["text"], only["code"], only["theme"]) == (
        "P1",
        "Late, and resigned to it",
        late,
        None,
    )
    assert digest(world, client, "  ", code=late).status_code == 204
    assert client.get(world.url("/digests")).json() == []
    trail.undo(world.owner)
    assert Digest.objects.get().text == "Late, and resigned to it"
    theme = coding.create_theme(world.owner, "Tied to the clock").pk
    assert digest(world, client, "x", code=late, theme=theme).status_code == 400
    assert digest(world, client, "x").status_code == 400
    assert digest(world, client, "Of a theme", theme=theme).status_code == 204


def test_merging_codes_carries_digests_along(world, client):
    late, home = Code.objects.get(name="Late").pk, Code.objects.get(name="Home").pk
    digest(world, client, "Late again", code=late)
    digest(world, client, "Walks home", code=home)
    coding.merge_codes(world.owner, home, [late])
    assert Digest.objects.get().text == "Walks home\n\nLate again"
    trail.undo(world.owner)
    assert sorted(Digest.objects.values_list("text", flat=True)) == ["Late again", "Walks home"]


def test_merging_people_carries_memos_and_digests_along(world, client):
    late, home = Code.objects.get(name="Late").pk, Code.objects.get(name="Home").pk
    first, second = (Case.objects.get(project=world.project, identifier=one) for one in ("P1", "P2"))
    for case, code, text in ((first, home, "Walks"), (second, home, "Stays"), (second, late, "Never late")):
        report.write_digest(world.owner, case.pk, text, code=code)
    report.write_memo(world.owner, "Ask again", case=second.pk)
    people.merge_cases(world.owner, first.pk, second.pk)
    assert dict(Digest.objects.filter(case=first).values_list("code__name", "text")) == {
        "Home": "Walks\n\nStays",
        "Late": "Never late",
    }
    assert Memo.objects.get().case == first
    trail.undo(world.owner)
    assert Memo.objects.get().case == second
    assert Digest.objects.filter(case=second).count() == 2


@pytest.fixture
def elsewhere(world):
    """The stranger's own project."""
    return Membership.objects.get(account=world.stranger)


def judged() -> None:
    with connection.cursor() as cursor:
        cursor.execute("SET CONSTRAINTS ALL IMMEDIATE")


def test_the_database_keeps_projects_apart(world, elsewhere):
    exhibit = Exhibit.objects.create(project=elsewhere.project, name="Elsewhere", author=world.stranger)
    with pytest.raises(IntegrityError), transaction.atomic():
        ExhibitPiece.objects.create(exhibit=exhibit, passage=passage(LATE), position=0)
        judged()
    case, code = (model.objects.filter(project=world.project).first() for model in (Case, Code))
    with pytest.raises(IntegrityError), transaction.atomic():
        Digest.objects.create(project=elsewhere.project, case=case, code=code, text="x", author=world.stranger)
        judged()
    with pytest.raises(IntegrityError), transaction.atomic():
        Digest.objects.create(project=world.project, case=case, text="of nothing", author=world.stranger)


def test_nothing_of_another_project_gets_into_an_exhibit(world, client, elsewhere):
    pk = make(world, client, LATE)
    stranger, home = world.client(world.stranger), f"/api/projects/{elsewhere.project_id}"
    assert stranger.get(f"{home}/exhibits/{pk}").status_code == 404
    body = {"name": "Mine", "passages": [passage(LATE).pk]}
    assert stranger.post(f"{home}/exhibits", body, format="json").status_code == 404
    assert stranger.get(f"{home}/exhibits").json() == []
