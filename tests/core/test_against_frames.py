"""People and their variables beside pandas and numpy (general reference libraries): cohorts, bands,
crossings, distributions and answers, on invented people drawn at random."""

from datetime import date

import numpy as np
import pandas as pd
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from core.gather.pages import page_lines
from core.people.conditions import Group, Held, kept, matches
from core.people.conditions import Test as Asked
from core.people.derived import banded, crossed, equal_width, quantiles
from core.people.distribution import distribution, histogram
from core.text.missing import IN_WORDS

ISLANDS = ["Holm", "Ytter", "Skarv"]
ISLAND, AGE = 1, 2
PEOPLE = st.lists(
    st.tuples(st.sampled_from([*ISLANDS, None]), st.one_of(st.none(), st.integers(15, 95))), min_size=1, max_size=40
)
NUMBERS = st.lists(st.integers(-400, 4_000).map(lambda one: one / 4), min_size=2, max_size=80)


def facts_of(people):
    return {
        ISLAND: [Held(island) if island else Held(missing="not_asked") for island, _ in people],
        AGE: [Held(float(age)) if age is not None else Held(missing="unknown") for _, age in people],
    }


def frame_of(people):
    frame = pd.DataFrame(people, columns=["island", "age"])
    return frame.assign(age=frame["age"].astype(float))


@given(PEOPLE, st.integers(10, 100))
def test_cohorts_are_those_that_a_query_finds(people, edge):
    facts, frame = facts_of(people), frame_of(people)
    young = Asked(AGE, "below", (float(edge),))
    holm = Asked(ISLAND, "is", ("Holm", "Skarv"))
    found = matches(Group("any", (young, holm)), facts, len(people))
    assert found.tolist() == ((frame["age"] < edge) | frame["island"].isin(["Holm", "Skarv"])).tolist()
    found = matches(Group("all", (young, holm)), facts, len(people))
    assert found.tolist() == ((frame["age"] < edge) & frame["island"].isin(["Holm", "Skarv"])).tolist()
    apart = matches(Asked(ISLAND, "is_not", ("Holm",)), facts, len(people))
    assert apart.tolist() == (frame["island"].notna() & (frame["island"] != "Holm")).tolist()


@given(PEOPLE, st.integers(10, 100))
def test_not_one_or_the_other_is_neither(people, edge):
    """De Morgan's law, and the live counts of the parts."""
    facts, cases = facts_of(people), len(people)
    parts = (Asked(AGE, "at_least", (float(edge),)), Asked(ISLAND, "is", ("Ytter",)))
    neither = Group("any", parts, negated=True)
    each = Group("all", tuple(Group("all", (part,), negated=True) for part in parts))
    assert matches(neither, facts, cases).tolist() == matches(each, facts, cases).tolist()
    counts = kept(neither, facts, cases)
    assert counts.count == int(matches(neither, facts, cases).sum())
    assert [part.count for part in counts.parts] == [int(matches(part, facts, cases).sum()) for part in parts]


@given(NUMBERS, st.lists(st.integers(-100, 1_000), min_size=1, max_size=6, unique=True))
def test_bands_are_cut_as_pandas_cuts_them_with_the_edge_in_the_band_above(numbers, cuts):
    held = banded([Held(one) for one in numbers], [float(cut) for cut in cuts])
    names = {name: place for place, name in enumerate(dict.fromkeys(one.value for one in held))}
    codes = pd.cut(pd.Series(numbers), [-np.inf, *sorted(cuts), np.inf], right=False).cat.codes
    pairs = {(names[one.value], int(code)) for one, code in zip(held, codes, strict=True)}
    # Each name stands for one of the bands, and each band has one name.
    assert len(pairs) == len({name for name, _ in pairs}) == len({code for _, code in pairs})


@given(NUMBERS, st.integers(2, 8))
def test_no_band_proposed_is_empty(numbers, bands):
    cuts = quantiles(np.array(numbers), bands)
    codes = pd.cut(pd.Series(numbers), [-np.inf, *cuts, np.inf], right=False).cat.codes
    assert set(codes) == set(range(len(cuts) + 1))
    assert len(equal_width(np.array(numbers), bands)) <= bands - 1


@given(NUMBERS)
def test_a_histogram_holds_every_value_once(numbers):
    drawn = histogram(numbers)
    assert sum(drawn.counts) == len(numbers)
    assert drawn.edges[0] <= min(numbers)
    assert max(numbers) < drawn.edges[-1] + 1e-9
    assert drawn.values == sorted(numbers)
    # numpy counts alike, edge by edge; its last bin alone holds its upper edge too.
    assert drawn.counts == np.histogram(numbers, bins=[*drawn.edges[:-1], np.inf])[0].tolist()


@given(PEOPLE)
def test_a_distribution_by_group_is_a_cross_table(people):
    facts, frame = facts_of(people), frame_of(people)
    groups = [
        ("under 50", (frame["age"] < 50).tolist()),
        ("50 and over", (frame["age"] >= 50).tolist()),
    ]
    table = distribution(facts[ISLAND], ISLANDS, groups)
    for place, (_, inside) in enumerate(groups):
        counts = frame["island"][inside].value_counts()
        assert [row[place].count for row in table.shares] == [int(counts.get(one, 0)) for one in ISLANDS]
        assert table.bases[place] == int(frame["island"][inside].notna().sum())
        shares = [row[place].share for row in table.shares]
        assert shares == [None] * 3 if not table.bases[place] else sum(shares) == pytest.approx(1)
        missing = sum(row[place] for _, row in table.missing)
        assert missing == int(frame["island"][inside].isna().sum())


@given(PEOPLE)
def test_a_number_is_summed_up_as_pandas_does(people):
    facts, frame = facts_of(people), frame_of(people)
    groups = [(one, (frame["island"] == one).tolist()) for one in ISLANDS]
    table = distribution(facts[AGE], [], groups, numbers=True)
    for (island, _), said in zip(groups, table.summaries, strict=True):
        ages = frame["age"][frame["island"] == island].dropna()
        if not len(ages):
            assert said is None
            continue
        assert said.count == len(ages)
        assert (said.mean, said.median) == (pytest.approx(ages.mean()), pytest.approx(ages.median()))
        assert (said.least, said.greatest) == (ages.min(), ages.max())
        assert said.deviation == (pytest.approx(ages.std()) if len(ages) > 1 else None)


@given(PEOPLE)
def test_a_crossing_has_the_cells_of_a_cross_table(people):
    facts, frame = facts_of(people), frame_of(people)
    bands = banded(facts[AGE], [50.0])
    found = crossed(facts[ISLAND], bands)
    counts = pd.Series([one.value for one in found], dtype=object).value_counts()
    known = frame.dropna()
    wanted = pd.crosstab(known["island"], np.where(known["age"] < 50, "under 50", "50 and over"))
    assert counts.to_dict() == {
        f"{island} · {band}": int(wanted.loc[island, band])
        for island in wanted.index
        for band in wanted.columns
        if wanted.loc[island, band]
    }
    assert all(one.missing in IN_WORDS for one in found if one.value is None)


def test_dates_are_banded_by_the_day():
    held = banded([Held(date(2024, 12, 31)), Held(date(2025, 1, 1))], [date(2025, 1, 1)])
    assert [one.value for one in held] == ["before 2025-01-01", "2025-01-01 and after"]


@settings(max_examples=60)
@given(st.lists(st.lists(st.text("abcdefg ,.", min_size=0, max_size=60), max_size=12), max_size=4))
def test_putting_printed_lines_together_loses_no_letter(pages):
    lines = page_lines(["\n".join(page) for page in pages])
    for number, page in enumerate(pages, start=1):
        written = "".join(" ".join(page).split())
        assert "".join("".join(line.text for line in lines if line.page == number).split()) == written
