"""What others change is carried on before anybody asks; and where the database says nothing, it is read all the same."""

import threading
from queue import Empty, Queue

import pytest
from django.db import OperationalError, connections

from server.coding import actions as coding
from server.projects.models import Project
from server.snapshots import following, queries


class Enough(Exception):
    pass


@pytest.mark.django_db(transaction=True)
def test_a_project_that_is_held_is_carried_on_before_anybody_asks(world):
    project, carried = world.project.pk, Queue()
    before = queries.snapshot(project).revision

    def rest(seconds):
        carried.put(queries._kept[project].snapshot.revision)
        raise Enough

    def follow():
        try:
            following.follow(following._told(), rest)
        except Enough:
            pass
        finally:
            connections.close_all()

    beside = threading.Thread(target=follow)
    beside.start()
    # Until it listens nothing is told: so something is changed until it is.
    for number in range(60):
        coding.create_code(world.owner, f"Wind {number}", None)
        try:
            seen = carried.get(timeout=1)
            break
        except Empty:
            continue
    beside.join(timeout=30)
    assert before < seen <= Project.objects.get(pk=project).revision


def test_only_what_somebody_has_open_is_carried_on(world, monkeypatch):
    queries.forget()
    rested = []
    following.follow(iter([{world.project.pk}]), rested.append)
    assert not queries.is_held(world.project.pk)
    assert rested == []
    queries.snapshot(world.project.pk)
    coding.create_code(world.owner, "Wind", None)
    following.follow(iter([{world.project.pk, 0}]), rested.append)
    assert queries._kept[world.project.pk].snapshot.revision == Project.objects.get(pk=world.project.pk).revision
    (seconds,) = rested
    assert seconds > 0


def test_a_project_that_is_deleted_meanwhile_stops_nobody(world):
    project = world.project.pk
    queries.snapshot(project)
    Project.objects.filter(pk=project).delete()
    following.follow(iter([{project}]), lambda seconds: None)


def test_a_database_that_went_away_is_asked_again(monkeypatch):
    tries = []

    def gone():
        tries.append(1)
        raise OperationalError("the connection is closed")

    def sleep(seconds):
        assert seconds == following.AGAIN
        if len(tries) == 3:
            raise Enough

    monkeypatch.setattr(following, "_told", gone)
    monkeypatch.setattr(following.time, "sleep", sleep)
    monkeypatch.setattr(following.connections, "close_all", lambda: None)
    with pytest.raises(Enough):
        following._for_ever()
    assert len(tries) == 3
