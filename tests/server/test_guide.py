"""The interview guide: set, matched, put right by hand, told by group; undone whole."""

import csv
import io

import docx
import openpyxl
import pytest
from django.core.files.uploadedfile import SimpleUploadedFile

from server.coding import actions as coding
from server.coding.models import AskedTurn, Code, GuideCode, GuideQuestion
from server.common.errors import NotAllowed, NotFound, Refusal
from server.gather import actions as gather
from server.gather.models import Document, Turn
from server.people.models import Variable
from server.projects import trail
from server.projects.models import Project
from tests.server.conftest import read_here

HOW, THEN = "How was it?", "And then?"


@pytest.fixture
def guide(world):
    """Two questions; both talks ask both."""
    world.how, world.then = coding.set_guide(world.owner, [(None, HOW), (None, THEN)])
    return world


def who(world, **more):
    crosses = Variable.objects.get(project=world.project, name="Crosses").pk
    answer = world.client(world.viewer.account).post(
        world.url("/guide/who"), {"variable": crosses, **more}, format="json"
    )
    assert answer.status_code == 200, answer.content
    return answer.data


def test_turns_are_matched_put_right_by_hand_and_all_of_it_taken_back(guide):
    client = guide.client(guide.owner.account)
    out = client.get(guide.url("/guide")).data
    assert (out["turns"], out["unmatched"]) == (4, 4)
    assert client.post(guide.url("/guide/match"), {}, format="json").data["count"] == 4
    (turn, other) = client.get(guide.url(f"/guide/turns?question={guide.how.pk}")).data
    assert (turn["title"], turn["text"], turn["by_hand"]) == ("P1_pier", HOW, False)
    assert other["title"] == "P2_garden"
    assert client.get(guide.url("/guide/turns")).data == []
    # By hand it asks something else, and matching again leaves it so.
    assert (
        client.post(guide.url("/guide/turns"), {"turns": [turn["id"]], "question": guide.then.pk}, format="json").data[
            "count"
        ]
        == 1
    )
    coding.match_guide(guide.owner)
    assert AskedTurn.objects.get(turn=turn["id"]).question_id == guide.then.pk
    coding.put_asked(guide.owner, [turn["id"], other["id"]], None)
    # That they ask nothing was said by hand, too: it stays, and they aren't offered again.
    coding.match_guide(guide.owner)
    nothing = client.get(guide.url("/guide/turns")).data
    assert {(row["id"], row["by_hand"]) for row in nothing} == {(turn["id"], True), (other["id"], True)}
    assert client.get(guide.url(f"/guide/questions/{guide.how.pk}/perhaps")).data == []
    assert client.get(guide.url("/guide")).data["unmatched"] == 2
    for _ in range(5):
        trail.undo(guide.owner)
    assert not AskedTurn.objects.exists()
    trail.undo(guide.owner)
    assert not GuideQuestion.objects.exists()


def test_turns_somewhat_like_it_are_offered_and_none_is_taken(guide):
    client = guide.client(guide.owner.account)
    path = guide.url(f"/guide/questions/{guide.how.pk}/perhaps")
    assert [row["text"] for row in client.get(path).data] == [HOW, HOW]
    assert not AskedTurn.objects.exists()
    coding.match_guide(guide.owner)
    assert client.get(path).data == []
    assert client.get(f"{path}?language=klingon").status_code == 400
    assert guide.client(guide.stranger).get(path).status_code == 404


def test_who_was_asked_who_mentions_it_and_who_of_their_own_accord(guide):
    coding.match_guide(guide.owner)
    late, home = Code.objects.get(name="Late"), Code.objects.get(name="Home")
    coding.tie_codes(guide.owner, guide.how.pk, [late.parent_id])
    coding.tie_codes(guide.owner, guide.then.pk, [home.pk])
    out = who(guide, within=1)
    by_name = {group["name"]: place for place, group in enumerate(out["groups"])}
    cell = lambda row, group: out["rows"][row]["cells"][by_name[group]]  # noqa: E731
    # P1 crosses daily, and says of both what was asked; a code beneath the one that is tied counts.
    assert cell(0, "daily") == {"asked": 1, "asked_mention": 1, "when_asked": 1, "own_accord": 0}
    assert cell(1, "daily") == {"asked": 1, "asked_mention": 1, "when_asked": 1, "own_accord": 0}
    assert cell(0, "never") == {"asked": 1, "asked_mention": 0, "when_asked": 0, "own_accord": 0}
    # P3 is in no talk, and isn't among those who could have been asked.
    assert [group["people"] for group in out["groups"]] == [1, 1] if len(out["groups"]) == 2 else out["people"] == 2
    # Not asked at all: of their own accord.
    turn = Turn.objects.get(document__title="P2_garden", number=3)
    coding.put_asked(guide.owner, [turn.pk], None)
    assert who(guide, within=1)["rows"][1]["cells"][by_name["never"]] == {
        "asked": 0,
        "asked_mention": 0,
        "when_asked": 0,
        "own_accord": 1,
    }
    # A scope is obeyed.
    pier = Document.objects.get(title="P1_pier").pk
    assert who(guide, scope={"documents": [pier]})["people"] == 1


def test_who_was_asked_leaves_as_a_table_but_not_where_small_groups_are_hidden(guide):
    coding.match_guide(guide.owner)
    late = Code.objects.get(name="Late")
    coding.tie_codes(guide.owner, guide.how.pk, [late.pk])
    crosses = Variable.objects.get(project=guide.project, name="Crosses").pk
    client = guide.client(guide.viewer.account)

    def taken(ending):
        return client.post(guide.url("/guide/who/file"), {"variable": crosses, "format": ending}, format="json")

    (first, second) = csv.DictReader(io.StringIO(taken("csv").content.decode("utf-8-sig")))
    assert (first["Question"], first["Asks about"]) == (HOW, "Late")
    assert [
        first[f"daily: {what}"] for what in ("asked", "of these mention it", "of their own accord", "all people")
    ] == ["1", "1", "0", "1"]
    # Nothing could be mentioned that no code stands for.
    assert (second["Asks about"], second["daily: asked"], second["daily: of these mention it"]) == ("", "1", "")
    sheet = openpyxl.load_workbook(io.BytesIO(taken("xlsx").content)).active
    lines = [[cell.value for cell in row] for row in sheet.iter_rows()]
    assert lines[0][0] == "Who was asked what, of 2 people who talk with an interviewer"
    assert lines[3][:2] == [HOW, "Late"]
    Project.objects.filter(pk=guide.project.pk).update(hide_below=3)
    refused = taken("csv")
    assert refused.status_code == 400
    assert "small groups could be worked out" in refused.content.decode()


def test_who_isn_t_an_interviewer_any_more_asks_nothing(guide):
    coding.match_guide(guide.owner)
    speaker = Turn.objects.get(document__title="P1_pier", number=1).speaker
    gather.change_speaker(guide.owner, speaker.pk, role="other")
    out = guide.client(guide.owner.account).get(guide.url("/guide")).data
    assert [(one["turns"], one["documents"]) for one in out["questions"]] == [(1, 1), (1, 1)]
    assert (out["turns"], out["unmatched"]) == (2, 0)


def test_questions_that_stay_keep_their_turns_and_codes(guide):
    coding.match_guide(guide.owner)
    coding.tie_codes(guide.owner, guide.how.pk, [Code.objects.get(name="Late").pk])
    coding.set_guide(
        guide.owner, [(guide.then.pk, THEN), (guide.how.pk, "How was the boat?"), (None, "  "), (None, "Why?")]
    )
    assert [row.text for row in GuideQuestion.objects.filter(project=guide.project)] == [
        THEN,
        "How was the boat?",
        "Why?",
    ]
    assert AskedTurn.objects.filter(question=guide.how.pk).count() == 2
    assert GuideCode.objects.filter(question=guide.how.pk).count() == 1
    with pytest.raises(NotFound):
        coding.set_guide(guide.owner, [(99_999, "Whose?")])
    with pytest.raises(Refusal, match="400 questions at most"):
        coding.set_guide(guide.owner, [(None, f"Question {n}?") for n in range(401)])


def test_a_merged_code_is_asked_about_as_the_one_it_became(guide):
    late, home = Code.objects.get(name="Late"), Code.objects.get(name="Home")
    coding.tie_codes(guide.owner, guide.how.pk, [late.pk, home.pk])
    coding.tie_codes(guide.owner, guide.then.pk, [home.pk])
    coding.merge_codes(guide.owner, late.pk, [home.pk])
    assert set(GuideCode.objects.values_list("question", "code")) == {(guide.how.pk, late.pk), (guide.then.pk, late.pk)}
    trail.undo(guide.owner)
    assert GuideCode.objects.count() == 3


def test_a_guide_in_a_file_is_its_questions_and_nothing_is_guessed(world, monkeypatch):
    monkeypatch.setattr("server.coding.api.guide.read_files", read_here)
    made = docx.Document()
    for line in (
        "Guide",
        "Begin with consent.",
        "1. How often do you cross?",
        "b) Who decided?",
        "- Who decided?",
        "Q3: Why?",
    ):
        made.add_paragraph(line)
    out = io.BytesIO()
    made.save(out)

    def sent(name, data, who=world.owner):
        file = SimpleUploadedFile(name, data)
        return world.client(who.account).post(world.url("/guide/file"), {"file": file})

    assert sent("guide.docx", out.getvalue()).data["questions"] == ["How often do you cross?", "Who decided?", "Why?"]
    assert "none of its lines" in sent("guide.txt", b"Talk about boats.\n").json()["error"]
    assert "no text" in sent("guide.csv", b"a;b\n1;2").json()["error"]
    assert sent("guide.docx", out.getvalue(), world.viewer).status_code == 403
    assert not GuideQuestion.objects.exists()


def test_what_can_not_be_is_refused_in_a_sentence(guide):
    with pytest.raises(Refusal, match="Two questions of the guide are the same"):
        coding.set_guide(guide.owner, [(guide.how.pk, HOW), (None, f"  {HOW} ")])
    pier = Document.objects.get(title="P1_pier")
    said = Turn.objects.get(document=pier, number=2)
    with pytest.raises(NotFound, match="isn’t an interviewer’s"):
        coding.put_asked(guide.owner, [said.pk], guide.how.pk)
    with pytest.raises(NotAllowed):
        coding.set_guide(guide.viewer, [])
    with pytest.raises(Refusal, match="Likeness is known"):
        coding.match_guide(guide.owner, "klingon")
    coding.set_guide(guide.owner, [])
    with pytest.raises(Refusal, match="Write the questions"):
        coding.match_guide(guide.owner)
    client = guide.client(guide.viewer.account)
    assert client.get(guide.url("/guide/turns?question=x")).status_code == 400
    assert guide.client(guide.stranger).get(guide.url("/guide")).status_code == 404
    answer = client.post(guide.url("/guide/who"), {"variable": 999_999}, format="json")
    assert answer.status_code in (400, 404)


def test_a_guide_goes_into_the_projects_file_and_out_again(guide, tmp_path):
    from tests.server.test_project_file import brought_in, taken_out

    coding.match_guide(guide.owner)
    coding.tie_codes(guide.owner, guide.how.pk, [Code.objects.get(name="Late").pk])
    made = brought_in(taken_out(guide.owner, tmp_path), guide.owner.account).project
    rows = GuideQuestion.objects.filter(project=made)
    assert [row.text for row in rows] == [HOW, THEN]
    assert AskedTurn.objects.filter(question__in=rows).count() == 4
    assert GuideCode.objects.get(question__in=rows).code.project == made
