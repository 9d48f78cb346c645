"""Documents one by one and what lists show of a scope, against counting with sets."""

import numpy as np
import pytest

from core.compare.documents import by_document
from core.compare.groups import Groups
from core.snapshot.masks import attribution_mask, cases_in_play, coded_in_play, documents_in_play, has_material
from core.snapshot.scope import Scope
from tests.core.test_shared_groups import any_groups
from tests.core.worlds import random_scope, random_snapshot

SEEDS = range(20)


def in_group(groups, talk: int, case: int, group: int) -> bool:
    if isinstance(groups, Groups):
        return bool(groups.labels[case] == group)
    return bool(groups.member[talk, group])


@pytest.mark.parametrize("seed", SEEDS)
def test_documents_one_by_one_are_counted_as_sets_are(seed):
    snapshot, talks = random_snapshot(seed), random_snapshot(seed).talks
    scope = random_scope(seed, snapshot)
    rows, chosen = snapshot.branch_rows, np.arange(len(snapshot.code_ids))[::-1]
    kept, said = attribution_mask(snapshot, scope), snapshot.attributions
    codings = scope.coding_mask(snapshot)
    if codings is not None:
        scope = Scope(scope.documents, scope.cases, None, None, scope.passages)
    for groups in any_groups(seed, snapshot):
        found = by_document(snapshot, rows, chosen, groups, scope)
        for place, code in enumerate(chosen):
            among = set(rows.passages_of(int(code)).tolist())
            wanted: dict[tuple[int, int], set[int]] = {}
            for at in np.flatnonzero(kept):
                passage, talk = int(said.passage[at]), int(talks.of_attribution[at])
                for group in range(groups.count):
                    if passage in among and in_group(groups, talk, int(said.case[at]), group):
                        wanted.setdefault((group, int(snapshot.passage_document[passage])), set()).add(passage)
            for group in range(groups.count):
                for document in range(len(snapshot.document_ids)):
                    assert found.counts[place, group, document] == len(wanted.get((group, document), ()))
        real = talks.real & talks.mask(scope)
        base = {
            (int(talks.document[talk]), group)
            for talk in np.flatnonzero(real)
            for group in range(groups.count)
            if in_group(groups, talk, int(talks.case[talk]), group)
        }
        assert {(int(one), int(other)) for one, other in np.argwhere(found.base)} == base
        linked = set(talks.document[talks.real].tolist())
        shown = range(len(snapshot.document_ids)) if scope.documents is None else np.flatnonzero(scope.documents)
        assert set(np.flatnonzero(found.nobody).tolist()) == {one for one in map(int, shown) if one not in linked}


@pytest.mark.parametrize("seed", SEEDS)
def test_lists_show_what_is_in_scope(seed):
    snapshot, talks = random_snapshot(seed), random_snapshot(seed).talks
    scope = random_scope(seed, snapshot)
    every = range(len(snapshot.document_ids))
    in_scope = {one for one in every if scope.documents is None or scope.documents[one]}
    wanted = {one for one in range(len(snapshot.case_ids)) if scope.cases is None or scope.cases[one]}
    speak: dict[int, set[int]] = {one: set() for one in every}
    for talk in np.flatnonzero(talks.real):
        speak[int(talks.document[talk])].add(int(talks.case[talk]))
    cases, documents = cases_in_play(snapshot, scope), documents_in_play(snapshot, scope)
    if scope.documents is not None:
        assert cases is not None
        assert set(np.flatnonzero(cases).tolist()) == {
            one for one in wanted if any(one in speak[at] for at in in_scope)
        }
        assert np.array_equal(cases, has_material(snapshot, scope))
    elif scope.cases is None:
        assert cases is None
    if scope.cases is not None:
        assert documents is not None
        assert set(np.flatnonzero(documents).tolist()) == {
            one for one in in_scope if not speak[one] or speak[one] & wanted
        }
    coded = set(np.flatnonzero(coded_in_play(snapshot, scope)).tolist())
    codings = scope.coding_mask(snapshot)
    said = snapshot.attributions
    for passage in range(len(snapshot.passage_ids)):
        carried = [at for at in np.flatnonzero(snapshot.coding_passage == passage) if codings is None or codings[at]]
        people = set(said.case[said.first[passage] : said.first[passage + 1]].tolist())
        there = int(snapshot.passage_document[passage]) in in_scope and (not people or bool(people & wanted))
        there &= scope.passages is None or bool(scope.passages[passage])
        assert (passage in coded) == (bool(carried) and there)
