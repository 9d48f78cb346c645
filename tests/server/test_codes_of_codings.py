"""That codings name codes that are there: the database's own rule, judged a statement at a time in place of a foreign key; and
rows changed or deleted at once."""

import random

import psycopg
import pytest
from django.db import IntegrityError, connection, transaction
from django.db.models import Q

from server.coding.models import Code, Coding, Passage
from server.people.models import Case, Value
from server.projects import at_once
from server.projects.revisions import _joined
from server.projects.steps import spans_of
from tests.server.conftest import World

REFUSED = [
    "UPDATE coding_coding SET code_id = 987654 WHERE id = (SELECT min(id) FROM coding_coding)",
    "INSERT INTO coding_coding (passage_id, code_id, coder_id, made_at) "
    "SELECT passage_id, 987654, coder_id, now() FROM coding_coding LIMIT 1",
    "UPDATE coding_code SET id = id + 10000 WHERE id IN (SELECT code_id FROM coding_coding)",
    "TRUNCATE coding_code CASCADE",
]


@pytest.mark.parametrize("statement", REFUSED)
def test_a_coding_names_a_code_that_is_there(world: World, statement: str):
    with pytest.raises(IntegrityError), transaction.atomic(), connection.cursor() as cursor:
        cursor.execute("SET CONSTRAINTS ALL IMMEDIATE")
        cursor.execute(statement)


def test_a_code_that_codings_name_stays(world: World):
    named = Coding.objects.values_list("code_id", flat=True)
    used = Code.objects.filter(pk__in=named)
    with pytest.raises(IntegrityError), transaction.atomic():
        used._raw_delete("default")
    free = Code.objects.create(project=world.project, name="Named by none", colour=1)
    assert Code.objects.filter(pk=free.pk)._raw_delete("default") == 1


def reached() -> psycopg.Connection:
    at = connection.settings_dict
    return psycopg.connect(
        host=at["HOST"], port=at["PORT"], user=at["USER"], password=at["PASSWORD"], dbname=at["NAME"],
        options="-c lock_timeout=200ms",
    )  # fmt: skip


@pytest.mark.django_db(transaction=True)
def test_nobody_deletes_a_code_that_somebody_puts_on_in_the_same_moment(world: World):
    free = Code.objects.create(project=world.project, name="Just made", colour=1)
    some = Coding.objects.first()
    put = "INSERT INTO coding_coding (passage_id, code_id, coder_id, made_at) VALUES (%s, %s, %s, now())"
    with reached() as one, reached() as other:
        one.execute(put, [some.passage_id, free.pk, some.coder_id])
        with pytest.raises(psycopg.errors.LockNotAvailable):
            other.execute("DELETE FROM coding_code WHERE id = %s", [free.pk])
        other.rollback()
        one.commit()
        with pytest.raises(psycopg.errors.ForeignKeyViolation):
            other.execute("DELETE FROM coding_code WHERE id = %s", [free.pk])
        other.rollback()
        # The other way round: who comes second waits, and is refused once it is gone.
        one.execute("DELETE FROM coding_coding WHERE code_id = %s", [free.pk])
        one.execute("DELETE FROM coding_code WHERE id = %s", [free.pk])
        with pytest.raises(psycopg.errors.LockNotAvailable):
            other.execute(put, [some.passage_id, free.pk, some.coder_id])
        other.rollback()
        one.commit()
        with pytest.raises(psycopg.errors.ForeignKeyViolation):
            other.execute(put, [some.passage_id, free.pk, some.coder_id])


def test_rows_are_changed_and_deleted_at_once_by_whatever_tells_them(world: World):
    """By their own table, by another, by one that is asked about each, and by none."""
    late = Coding.objects.first().code
    of_code = Coding.objects.filter(code=late)
    keys = sorted(of_code.values_list("pk", flat=True))
    ways = [
        of_code,
        Coding.objects.filter(code__name=late.name),
        Coding.objects.filter(passage__codings__in=keys, code=late),
    ]
    for number, rows in enumerate(ways):
        assert at_once.changed(rows, {"rating": number + 1}) == keys
        assert set(Coding.objects.filter(rating=number + 1).values_list("pk", flat=True)) == set(keys)
    assert at_once.changed(Coding.objects.filter(pk__in=[]), {"rating": 5}) == []
    assert at_once.removed(Coding.objects.none()) == (None, [])
    for rows in ways:
        with transaction.atomic():
            written, gone = at_once.removed(rows)
            assert gone == keys
            assert f'"code_id":{late.pk}' in written
            assert not Coding.objects.filter(pk__in=keys).exists()
            transaction.set_rollback(True)
    for listed in (of_code[:1], of_code.distinct(), of_code.union(ways[1])):
        with pytest.raises(TypeError, match=r"slice|by the list"):
            at_once.removed(listed)
    values = Value.objects.filter(Q(case__in=Case.objects.filter(project=world.project)))
    assert at_once.removed(values)[1] != []
    assert Passage.objects.count() > 0


def test_runs_are_joined_as_one_by_one():
    dice = random.Random(5)
    for _ in range(200):
        runs = [[start, start + dice.randint(0, 4)] for start in dice.choices(range(60), k=dice.randint(0, 12))]
        every = sorted({key for first, last in runs for key in range(first, last + 1)})
        assert _joined(runs) == spans_of(every)
