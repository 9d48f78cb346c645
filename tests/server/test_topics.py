"""Topics that words propose: proposed as a job, weeded, kept as codes that say so; nothing is coded before, all of it is undone."""

import pytest

from server.coding import actions, jobs
from server.coding.actions.texts import edit_turn
from server.coding.models import Code, Coding, Passage, Topic, TopicHits, TopicPhrase, TopicUnticked
from server.common.errors import Conflict, NotAllowed, NotFound, Refusal
from server.gather.actions import change_speaker, delete_documents
from server.gather.models import Document, Speaker
from server.people.models import Case, Variable
from server.projects import trail
from server.projects.models import Job, JobState
from server.shell.forgetting.actions import forget
from tests.server.conftest import bring_in
from tests.talks import MORE, TALK


@pytest.fixture
def talked(world):
    """Three more talks about a bus driver and a clinic's letter, linked to P1, P2 and P3."""
    files = [
        (f"P{at}_bus.txt", TALK.format(who=f"P{at}", more=more, when=when))
        for at, more, when in zip((1, 2, 3), MORE, ("May", "June", "autumn"), strict=True)
    ]
    bring_in(world.owner, *files)
    return world


def propose(world, member=None, **asked):
    member = member or world.owner
    job = Job.objects.create(project=member.project, account=member.account, title="test", language="en")
    jobs.propose_task.func(job.pk, {"language": "english", "many": 6, **asked})
    job.refresh_from_db()
    return job


def look(world, member=None, **said):
    answer = world.client((member or world.owner).account).post(world.url("/topics"), said, format="json")
    assert answer.status_code == 200, answer.content
    return answer.data


def hits(world, topic, **said):
    answer = world.client(world.owner.account).post(world.url(f"/topics/{topic}/hits"), said, format="json")
    assert answer.status_code == 200, answer.content
    return answer.data


def topic_about(world, word):
    return next(one for one in look(world)["topics"] if any(word in phrase["said"] for phrase in one["phrases"]))


def test_topics_are_proposed_from_participants_words_and_nothing_is_coded(talked):
    before = Coding.objects.count(), Code.objects.count()
    answer = talked.client(talked.coder.account).post(
        talked.url("/topics/propose"), {"language": "english", "many": 6}, format="json"
    )
    assert answer.status_code == 202, answer.content
    Job.objects.filter(pk=answer.data["id"]).update(state=JobState.DONE)
    job = propose(talked)
    assert (job.state, job.message.split(":")[0]) == (
        JobState.DONE,
        f"{Topic.objects.count()} topics are proposed. Nothing is coded",
    )
    assert (Coding.objects.count(), Code.objects.count()) == before
    crosses = Variable.objects.get(project=talked.project, name="Crosses").pk
    out = look(talked, talked.viewer, variable=crosses)
    bus = next(one for one in out["topics"] if any("bus" in phrase["said"] for phrase in one["phrases"]))
    assert (bus["people"], bus["documents"], bus["unticked"], bus["code"], bus["dropped"]) == (3, 3, 0, None, False)
    assert out["groups"] == ["never", "daily"]
    # Of whom it could be: those of each group who say anything in play.
    assert sum(group["size"] for group in bus["groups"]) == 3
    narrowed = look(talked, variable=crosses, scope={"documents": [Document.objects.get(title="P1_bus").pk]})
    assert [group["size"] for group in narrowed["topics"][0]["groups"]] == [0, 1]
    assert sum(group["people"] for group in bus["groups"]) <= 3
    # What the interviewer asks is no hit; what follows one another is one.
    found = hits(talked, bus["id"])
    assert found["total"] == bus["hits"]
    assert {one["speaker"] for one in found["hits"]} == {"P1", "P2", "P3"}
    first = next(one for one in found["hits"] if one["speaker"] == "P1")
    assert first["text"].startswith("The bus driver never waits. I missed the bus again")
    assert {first["text"][start:end] for start, end in first["marks"]} >= {"bus", "driver"}
    # Proposing anew puts others in their place; taken back, those are there again.
    ids = set(Topic.objects.values_list("id", flat=True))
    propose(talked, many=2)
    assert Topic.objects.count() <= 2
    assert not ids & set(Topic.objects.values_list("id", flat=True))
    held = TopicHits.objects.count()
    trail.undo(talked.owner)
    assert set(Topic.objects.values_list("id", flat=True)) == ids
    assert bus["hits"] == topic_about(talked, "bus")["hits"]
    trail.redo(talked.owner)
    assert TopicHits.objects.count() == held


def test_a_scope_and_the_answers_to_one_question_are_all_that_is_read(talked):
    pier = Document.objects.get(title="P1_bus").pk
    other = Document.objects.get(title="P2_bus").pk
    own = [pier, other, Document.objects.get(title="P3_bus").pk]
    propose(talked, scope={"documents": own})
    assert set(TopicHits.objects.values_list("document_id", flat=True)) == set(own)
    topic = topic_about(talked, "bus")
    assert look(talked, scope={"documents": [pier]})["people"] == 1
    assert {one["document"] for one in hits(talked, topic["id"], scope={"documents": [other]})["hits"]} == {other}
    assert propose(talked, question="Why?").message.startswith("No document answers this question any more.")
    why = (
        "the garden keeps me here, and the old apple trees in it",
        "I sleep by the sea, and wake by the sea too",
        "my work is here",
    )
    rows = "ID,Why do you stay?\n" + "\n".join(f'P{at},"{why[at % 3]} since {1990 + at}"' for at in range(1, 25))
    bring_in(talked.owner, ("why.csv", rows))
    job = propose(talked, question="Why do you stay?")
    assert job.state == JobState.DONE, job.message
    assert {"garden", "sea"} & {phrase.said for phrase in TopicPhrase.objects.all()}
    assert not TopicPhrase.objects.filter(said__contains="bus").exists()


def test_too_little_is_a_sentence_and_the_topics_before_stay(talked):
    propose(talked)
    held = Topic.objects.count()
    pier = Document.objects.get(title="P1_bus").pk
    job = propose(talked, scope={"documents": [pier]})
    assert (job.state, job.message) == (
        JobState.FAILED,
        "Participants say 44 words here; topics are gathered from 100 words on. Nothing was written.",
    )
    assert Topic.objects.count() == held
    answer = talked.client(talked.owner.account).post(
        talked.url("/topics/propose"), {"language": "klingon", "many": 6}, format="json"
    )
    assert answer.status_code == 400
    assert talked.client(talked.viewer.account).post(
        talked.url("/topics/propose"), {"language": "english", "many": 6}, format="json"
    ).status_code == 403  # fmt: skip


def test_renamed_merged_dropped_and_weeded_phrase_by_phrase_and_back(talked):
    propose(talked)
    client = talked.client(talked.owner.account)
    bus, letter = topic_about(talked, "bus"), topic_about(talked, "letter")
    assert bus["id"] != letter["id"]
    assert client.patch(talked.url(f"/topics/{bus['id']}"), {"name": " The  driver "}, format="json").status_code == 204
    with pytest.raises(Refusal, match="Give the topic a name"):
        actions.rename_topic(talked.owner, bus["id"], "  ")
    merged = client.post(talked.url("/topics/merge"), {"topics": [letter["id"], bus["id"]]}, format="json")
    assert merged.data["count"] == letter["id"]
    both = next(one for one in look(talked)["topics"] if one["id"] == letter["id"])
    assert {one["said"] for one in both["phrases"]} == {one["said"] for one in [*bus["phrases"], *letter["phrases"]]}
    assert both["hits"] >= max(bus["hits"], letter["hits"])
    with pytest.raises(NotFound, match="isn’t in the project any more"):
        actions.drop_topics(talked.owner, [bus["id"]], True)
    with pytest.raises(Refusal, match="at least two"):
        actions.merge_topics(talked.owner, [letter["id"], letter["id"]])
    for phrase in both["phrases"]:
        if "letter" not in phrase["said"]:
            assert (
                client.patch(
                    talked.url(f"/topics/phrases/{phrase['id']}"), {"left_out": True}, format="json"
                ).status_code
                == 204
            )
    left = next(one for one in look(talked)["topics"] if one["id"] == letter["id"])
    texts = [one["text"] for one in hits(talked, letter["id"])["hits"]]
    assert left["hits"] == len(texts)
    assert all("letter" in text.lower() for text in texts)
    assert (
        client.post(talked.url("/topics/drop"), {"topics": [letter["id"]], "dropped": True}, format="json").status_code
        == 204
    )
    assert next(one for one in look(talked)["topics"] if one["id"] == letter["id"])["dropped"]
    while (
        trail.undo(talked.owner)
        and Topic.objects.filter(name="The driver").exists() is False
        and Topic.objects.exists()
    ):
        pass
    assert topic_about(talked, "bus")["hits"] == bus["hits"]
    assert topic_about(talked, "letter")["hits"] == letter["hits"]


def test_only_what_is_ticked_becomes_a_code_and_says_who_accepted_it(talked):
    propose(talked)
    client = talked.client(talked.coder.account)
    bus = topic_about(talked, "bus")
    first, *others = hits(talked, bus["id"])["hits"]
    place = {name: first[name] for name in ("document", "start", "end")}
    told = client.put(talked.url(f"/topics/{bus['id']}/hits"), {"hits": [place], "ticked": False}, format="json")
    assert told.status_code == 200
    assert told.data["count"] >= 1
    again = topic_about(talked, "bus")
    assert (again["hits"], again["unticked"]) == (bus["hits"] - 1, 1)
    assert [one["ticked"] for one in hits(talked, bus["id"])["hits"]] == [False] + [True] * len(others)
    kept = client.post(
        talked.url(f"/topics/{bus['id']}/keep"), {"name": "The driver", "parent": Code.objects.get(name="Getting across").pk}, format="json"
    )  # fmt: skip
    assert kept.status_code == 200, kept.content
    code = Code.objects.get(pk=kept.data["code"])
    assert (code.name, code.parent.name) == ("The driver", "Getting across")
    assert "bus" in code.definition
    rows = Coding.objects.filter(code=code).select_related("passage__document")
    assert {(row.by_words, row.coder_id) for row in rows} == {(True, talked.coder.account_id)}
    assert sorted(row.passage.said for row in rows) == sorted(one["text"] for one in others)
    assert not Coding.objects.exclude(code=code).filter(by_words=True).exists()
    # It is a code now: what is changed is changed there.
    with pytest.raises(Conflict, match="is the code “The driver” already"):
        actions.drop_topics(talked.owner, [bus["id"]], True)
    with pytest.raises(Conflict):
        actions.tick_hits(talked.owner, bus["id"], [(place["document"], place["start"], place["end"])], True)
    # Proposed anew, what was kept stays; taken back, nothing is coded.
    propose(talked)
    assert Topic.objects.filter(code=code).count() == 1
    trail.undo(talked.coder)
    assert not Code.objects.filter(name="The driver").exists()
    assert not Coding.objects.filter(by_words=True).exists()
    assert not Passage.objects.filter(document__title="P2_bus").exists()
    trail.redo(talked.coder)
    assert Coding.objects.filter(code__name="The driver", by_words=True).count() == len(others)


def test_all_are_unticked_at_once_and_nothing_ticked_is_no_code(talked):
    propose(talked)
    bus = topic_about(talked, "bus")
    client = talked.client(talked.owner.account)
    assert (
        client.put(talked.url(f"/topics/{bus['id']}/hits"), {"every": True, "ticked": False}, format="json").data[
            "count"
        ]
        > 1
    )
    assert topic_about(talked, "bus")["hits"] == 0
    assert client.post(talked.url(f"/topics/{bus['id']}/keep"), {}, format="json").status_code == 400
    assert not Code.objects.filter(name=bus["name"]).exists()
    client.put(talked.url(f"/topics/{bus['id']}/hits"), {"every": True, "ticked": True}, format="json")
    assert topic_about(talked, "bus")["hits"] == bus["hits"]
    assert not TopicUnticked.objects.exists()
    late = Code.objects.get(name="Late")
    kept = client.post(talked.url(f"/topics/{bus['id']}/keep"), {"into": late.pk}, format="json")
    assert kept.data["code"] == late.pk
    assert Coding.objects.filter(code=late, by_words=True).count() == bus["hits"]
    # Merged into another code, the topic knows what it is.
    home = Code.objects.get(name="Home")
    actions.merge_codes(talked.owner, home.pk, [late.pk])
    assert Topic.objects.get(pk=bus["id"]).code_id == home.pk
    assert Coding.objects.filter(code=home, by_words=True).count() == bus["hits"]


def test_hits_stay_with_their_words_and_go_with_what_is_no_participants_any_more(talked):
    propose(talked)
    bus = topic_about(talked, "bus")
    document = Document.objects.get(title="P1_bus")
    own = [one for one in hits(talked, bus["id"])["hits"] if one["document"] == document.pk]
    actions.tick_hits(talked.owner, bus["id"], [(document.pk, own[0]["start"], own[0]["end"])], False)
    said = own[0]["text"]
    edit_turn(talked.owner, document.pk, 1, "Now, please, tell me all about the bus driver and the letter?", {})
    moved = [one for one in hits(talked, bus["id"])["hits"] if one["document"] == document.pk]
    assert moved[0]["start"] > own[0]["start"]
    assert moved[0]["text"] == said
    assert not moved[0]["ticked"]
    trail.undo(talked.owner)
    assert hits(talked, bus["id"])["hits"][0]["start"] == own[0]["start"]
    # An interviewer's words aren't a topic's.
    speaker = Speaker.objects.get(document=document, label="P1")
    change_speaker(talked.owner, speaker.pk, role="interviewer")
    assert not [one for one in hits(talked, bus["id"])["hits"] if one["document"] == document.pk]
    trail.undo(talked.owner)
    delete_documents(talked.owner, [document.pk])
    assert not TopicHits.objects.filter(document=document.pk).exists()
    assert not TopicUnticked.objects.exists()
    trail.undo(talked.owner)
    again = [one for one in hits(talked, bus["id"])["hits"] if one["document"] == document.pk]
    assert [(one["start"], one["ticked"]) for one in again] == [(one["start"], one is not own[0]) for one in own]


def test_what_is_unticked_moves_left_without_landing_on_what_stands_there(talked):
    propose(talked)
    topic = Topic.objects.first()
    document = Document.objects.get(title="P1_bus")
    first = document.text.index("Tell me about")
    bus = document.text.index("bus driver never")
    # Fourteen letters go before them: the second comes to stand where the first was.
    for start in (bus, bus + 14):
        TopicUnticked.objects.create(topic=topic, document=document, start=start, end=start + 2)
    said = document.text[first : document.text.index("?") + 1]
    edit_turn(talked.owner, document.pk, 1, said[13:], {})
    assert list(topic.unticked.order_by("start").values_list("start", flat=True)) == [bus - 14, bus]


def test_a_person_who_is_forgotten_is_in_no_topic(talked):
    propose(talked)
    bus = topic_about(talked, "bus")
    case = Case.objects.get(project=talked.project, identifier="P3")
    forget(talked.owner, "P3", False, case=case.pk)
    after = next(one for one in look(talked)["topics"] if one["id"] == bus["id"])
    assert (after["people"], after["documents"]) == (2, 2)
    assert "P3" not in {one["speaker"] for one in hits(talked, bus["id"])["hits"]}


def test_nobody_but_members_sees_them_and_viewers_change_nothing(talked):
    propose(talked)
    bus = topic_about(talked, "bus")
    stranger, viewer = talked.client(talked.stranger), talked.client(talked.viewer.account)
    assert stranger.post(talked.url("/topics"), {}, format="json").status_code == 404
    assert stranger.post(talked.url(f"/topics/{bus['id']}/hits"), {}, format="json").status_code == 404
    assert viewer.post(talked.url(f"/topics/{bus['id']}/hits"), {}, format="json").status_code == 200
    for path, said in (("/topics/merge", {"topics": [bus["id"]]}), (f"/topics/{bus['id']}/keep", {})):
        assert viewer.post(talked.url(path), said, format="json").status_code == 403
    with pytest.raises(NotAllowed):
        actions.leave_out_phrase(talked.viewer, bus["phrases"][0]["id"], True)
