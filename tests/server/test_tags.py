"""What only a new revision changes is said again only then."""

import pytest

from server.coding import actions as coding
from server.projects import views
from server.projects.models import Membership, Touched
from server.projects.trail import undo

ADDRESSES = [
    "/codebook",
    "/codebook/look",
    "/documents",
    "/roster",
    "/variables",
    "/cohorts",
    "/themes",
    "/memos",
    "/compare/kept",
]


def asked(world, address, tag="", who=None):
    client = world.client((who or world.owner).account)
    return client.get(world.url(address), headers={"if-none-match": tag} if tag else {})


@pytest.mark.parametrize("address", ADDRESSES)
def test_an_answer_is_not_said_twice_while_nothing_moves(world, address):
    first = asked(world, address)
    tag = first["ETag"]
    assert first.status_code == 200
    again = asked(world, address, tag)
    assert (again.status_code, again.content, again["ETag"]) == (304, b"", tag)
    # As it comes back where it was pressed small on the way.
    assert asked(world, address, f"W/{tag}").status_code == 304
    coding.create_code(world.owner, "Wind")
    moved = asked(world, address, tag)
    assert (moved.status_code, moved["ETag"] == tag) == (200, False)
    # Taken back it is another revision, not the one before.
    undo(world.owner)
    assert asked(world, address, tag).status_code == 200


@pytest.mark.parametrize("address", ADDRESSES)
def test_an_answer_is_made_once_while_nothing_moves(world, address, django_assert_max_num_queries):
    client = world.client(world.owner.account)
    first = client.get(world.url(address))
    # Who asks, whether a member, and the state: nothing of what the answer is made of.
    with django_assert_max_num_queries(8):
        again = client.get(world.url(address))
    assert (again.status_code, again.content, again["ETag"]) == (200, first.content, first["ETag"])
    assert again["Content-Type"] == first["Content-Type"]


def test_what_moves_while_an_answer_is_made_is_in_the_next(world, monkeypatch):
    made = views._made

    def and_meanwhile(*given):
        coding.create_code(world.owner, "Tide")
        monkeypatch.setattr(views, "_made", made)
        return made(*given)

    tag = asked(world, "/codebook")["ETag"]
    coding.create_code(world.owner, "Wind")
    monkeypatch.setattr(views, "_made", and_meanwhile)
    old = asked(world, "/codebook")
    assert old["ETag"] != tag
    assert "Tide" not in str(old.json())
    assert "Tide" in str(asked(world, "/codebook").json())
    # Nor is it said again should the state come back that it was asked in.
    assert [kept for _, kept in views._said.items() if kept[0] == old["ETag"]] == []


def test_an_answer_is_said_again_only_to_whom_it_was_said(world):
    said = asked(world, "/codebook").content
    views._said.clear()
    asked(world, "/codebook", who=world.coder)
    assert asked(world, "/codebook", who=world.coder).status_code == 200
    assert [whose[0] for whose, _ in views._said.items()] == [world.coder.account_id]
    client = world.client(world.stranger)
    assert client.get(world.url("/codebook")).status_code == 404
    assert asked(world, "/codebook").content == said


def test_a_tag_is_its_askers_own_and_goes_with_roles_and_names(world):
    tag = asked(world, "/codebook")["ETag"]
    assert asked(world, "/codebook", tag, world.viewer).status_code == 200
    world.coder.account.display_name = "Mona"
    world.coder.account.save()
    named = asked(world, "/codebook", tag)
    assert named.status_code == 200
    assert "Mona" in str(named.data["coders"])
    Membership.objects.filter(pk=world.coder.pk).update(role="viewer")
    assert asked(world, "/codebook", named["ETag"]).status_code == 200


def test_a_state_that_a_backup_took_back_is_another_though_its_number_is_the_same(world):
    tag = asked(world, "/codebook")["ETag"]
    revision = world.project.__class__.objects.get(pk=world.project.pk).revision
    row = Touched.objects.get(project=world.project, revision=revision)
    row.delete()
    Touched.objects.create(project=world.project, revision=revision, rows={})
    assert asked(world, "/codebook", tag).status_code == 200


def test_whoever_may_not_look_is_told_so_whatever_tag_they_bring(world):
    tag = asked(world, "/codebook")["ETag"]
    client = world.client(world.stranger)
    assert client.get(world.url("/codebook"), headers={"if-none-match": tag}).status_code == 404
