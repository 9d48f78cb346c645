"""Correspondence, likeness, agreement and saturation: published figures first, then reference libraries."""

import itertools
from dataclasses import replace

import krippendorff
import numpy as np
import pytest
from scipy import stats
from statsmodels.stats.inter_rater import cohens_kappa

from core.coding.agreement import agreement, line_of
from core.statistics.agreement import cohen_kappa, krippendorff_alpha
from core.statistics.correspondence import by_likeness, correspondence
from core.statistics.saturation import saturation
from core.statistics.whole import of_table
from tests.core.test_measures import woven
from tests.core.worlds import random_snapshot

# Greenacre 1984, table 3.1: smoking (none, light, medium, heavy) by staff group of 193 employees.
SMOKING = [[4, 2, 3, 2], [4, 3, 7, 4], [25, 10, 12, 4], [18, 24, 33, 13], [10, 6, 7, 2]]
# Snee 1974, The American Statistician 28: hair (black, brown, red, blond) by eye (brown, blue, hazel, green), 592 students.
HAIR_EYE = [[68, 20, 15, 5], [119, 84, 54, 29], [26, 17, 14, 14], [7, 94, 10, 16]]
NAN = float("nan")
# Krippendorff 2011, Computing Krippendorff's Alpha-Reliability, C: four observers, twelve units.
OBSERVERS = [
    [1, 2, 3, 3, 2, 1, 4, 1, 2, NAN, NAN, NAN],
    [1, 2, 3, 3, 2, 2, 4, 1, 2, 5, NAN, 3],
    [NAN, 3, 3, 3, 2, 3, 4, 2, 2, 5, 1, NAN],
    [1, 2, 3, 3, 2, 4, 4, 1, 2, 5, 1, NAN],
]


def test_smoking_by_staff_group():
    found = correspondence(SMOKING)
    assert found is not None
    # Greenacre 1984, section 3.1: principal inertias and total.
    assert found.inertia == pytest.approx([0.0748, 0.0100, 0.0004], abs=5e-5)
    assert found.total == pytest.approx(0.0852, abs=5e-5)
    # The same book's display: first axis of the groups, −.393 for none to .294 for heavy (as recalled), up to sign.
    assert sorted(np.abs(found.groups[[0, 3], 0]).tolist()) == pytest.approx([0.294, 0.393], abs=5e-4)


def test_hair_by_eye_as_one_table():
    found = of_table(np.array(HAIR_EYE))
    # Snee 1974, recomputed with an independent package: X² 138.29 on 9, V .279.
    assert (found.statistic, found.degrees) == (pytest.approx(138.29, abs=5e-3), 9)
    assert found.v == pytest.approx(0.279, abs=5e-4)
    assert not found.exact


@pytest.mark.parametrize("seed", range(20))
def test_a_map_adds_up_to_chi_square_over_n(seed):
    table = np.random.default_rng(seed).poisson(4, (7, 4))
    found = correspondence(table)
    assert found is not None
    filled = table[table.sum(axis=1) > 0]
    assert found.total == pytest.approx(stats.chi2_contingency(filled).statistic / table.sum(), rel=1e-9)
    assert np.nansum(found.row_contributions, axis=0) == pytest.approx(1)
    assert np.nansum(found.group_contributions, axis=0) == pytest.approx(1)
    # Points are weighted around the origin, and their weighted squares make the inertia of each axis.
    assert np.nansum(found.row_mass[:, None] * found.rows, axis=0) == pytest.approx(0, abs=1e-12)
    assert np.nansum(found.row_mass[:, None] * found.rows**2, axis=0) == pytest.approx(found.inertia)


def test_empty_rows_have_no_place_on_a_map():
    found = correspondence([[3, 1], [0, 0], [1, 5]])
    assert found is not None
    assert np.isnan(found.rows[1]).all()
    assert correspondence([[3, 1], [0, 0]]) is None
    assert correspondence(np.zeros((3, 0))) is None


def test_like_rows_stand_together():
    figures = np.array([[0.9, 0.1], [0.1, 0.8], [0.85, 0.15], [0.12, 0.9], [0.5, 0.5]])
    order = by_likeness(figures)
    assert sorted(order) == [0, 1, 2, 3, 4]

    def walk(places) -> float:
        return sum(float(np.linalg.norm(figures[a] - figures[b])) for a, b in itertools.pairwise(places))

    # No order of all is shorter here, since the tree keeps the like ones together anyway.
    assert walk(order) == pytest.approx(min(walk(one) for one in itertools.permutations(range(5))))
    assert by_likeness(figures[:2]) == [0, 1]


def test_alpha_of_four_observers():
    # Krippendorff 2011: nominal .743, ordinal .815, interval .849; ratio .797 in the same paper.
    found = {level: krippendorff_alpha(OBSERVERS, level) for level in ("nominal", "ordinal", "interval", "ratio")}
    expected = {"nominal": 0.743, "ordinal": 0.815, "interval": 0.849, "ratio": 0.797}
    assert found == pytest.approx(expected, abs=5e-4)


@pytest.mark.parametrize("level", ["nominal", "ordinal", "interval", "ratio"])
@pytest.mark.parametrize("seed", range(10))
def test_alpha_agrees_with_the_reference_library(seed, level):
    generator = np.random.default_rng(seed)
    values = generator.integers(1, 6, (4, 30)).astype(float)
    values[generator.random(values.shape) < 0.2] = np.nan
    theirs = krippendorff.alpha(reliability_data=values, level_of_measurement=level)
    assert krippendorff_alpha(values, level) == pytest.approx(theirs, abs=1e-9)


@pytest.mark.parametrize("seed", range(10))
def test_kappa_agrees_with_statsmodels(seed):
    table = np.random.default_rng(seed).poisson(6, (3, 3))
    assert cohen_kappa(table) == pytest.approx(cohens_kappa(table).kappa, abs=1e-9)


def test_agreement_on_one_value_only_says_nothing():
    assert np.isnan(krippendorff_alpha([[1, 1], [1, 1]]))
    assert np.isnan(cohen_kappa([[5, 0], [0, 0]]))
    assert np.isnan(cohen_kappa(np.zeros((2, 2))))


def test_saturation_by_hand():
    """Base 4, run 2, 5 %: by hand after Guest, Namey & Chen 2020, figure 1 (invented figures)."""
    says = np.zeros((8, 42), bool)
    at = 0
    for interview, fresh in enumerate([20, 10, 6, 4, 1, 1, 0, 0]):
        says[interview, : at + fresh] = True
        at += fresh
    found = saturation(says)
    assert found.base_codes == 40
    assert found.fresh.tolist() == [20, 10, 6, 4, 1, 1, 0, 0]
    assert found.heard.tolist() == [20, 30, 36, 40, 41, 42, 42, 42]
    assert found.ratio[5:] == pytest.approx([0.05, 0.025, 0.0])
    assert np.isnan(found.ratio[:5]).all()
    assert found.reached == 5
    assert saturation(says[:3]).reached is None
    assert saturation(np.zeros((0, 5), bool)).reached is None


def coded_twice(seed: int, coders: int = 2):
    """Random projects in which several coders read everything."""
    snapshot = random_snapshot(seed, documents=6, codings=90)
    generator = np.random.default_rng(seed)
    return replace(
        snapshot,
        coding_coder=generator.integers(0, coders, len(snapshot.coding_code)).astype(np.int32),
        coder_ids=np.arange(coders),
    )


def slow_units(snapshot, unit, texture, code, coders):
    """Each unit of each turn by coder, 0 or 1, document by document: loops."""
    units = []
    for turn in range(len(snapshot.turn_document)):
        document, start, end = (
            int(part[turn]) for part in (snapshot.turn_document, snapshot.turn_start, snapshot.turn_end)
        )
        if end <= start:
            continue
        if unit == "characters":
            spans = [(at, at + 1) for at in range(start, end)]
        elif unit == "words":
            words = range(texture.turn_first[turn], texture.turn_first[turn + 1])
            spans = [(int(texture.word_start[w]), int(texture.word_end[w])) for w in words]
        else:
            spans = [(start, end)]
        for low, high in spans:
            marks = [0] * coders
            for coding in np.flatnonzero(snapshot.coding_code == code):
                p = snapshot.coding_passage[coding]
                if snapshot.passage_document[p] == document and max(low, snapshot.passage_start[p]) < min(
                    high, snapshot.passage_end[p]
                ):
                    marks[snapshot.coding_coder[coding]] = 1
            units.append(marks)
    return np.array(units)


@pytest.mark.parametrize("unit", ["characters", "words", "turns"])
@pytest.mark.parametrize("seed", range(6))
def test_agreement_over_text_is_that_of_every_unit_one_by_one(seed, unit):
    coders = 2 + seed % 2
    snapshot, texture = woven(seed, coded_twice(seed, coders))
    line = line_of(snapshot, unit, texture)
    read = np.ones((len(snapshot.document_ids), coders), bool)
    found = agreement(snapshot, line, np.arange(len(snapshot.code_ids)), read, resamples=50)
    for code in range(len(snapshot.code_ids)):
        units = slow_units(snapshot, unit, texture, code, coders)
        assert found.units == len(units)
        if 0 < units.sum() < units.size:
            assert found.alpha[code] == pytest.approx(
                krippendorff.alpha(units.T, level_of_measurement="nominal"), abs=1e-9
            )
        if coders == 2 and 0 < units.sum() < units.size:
            table = np.bincount(units[:, 0] * 2 + units[:, 1], minlength=4).reshape(2, 2)
            assert found.kappa[code] == pytest.approx(cohen_kappa(table), abs=1e-9, nan_ok=True)
        if np.isfinite(found.alpha_low[code]):
            assert found.alpha_low[code] <= found.alpha_high[code]


def test_agreement_of_one_group_counts_their_turns_only():
    snapshot, texture = woven(3, coded_twice(3))
    kept = np.arange(len(snapshot.turn_document)) % 2 == 0
    line = line_of(snapshot, "characters", texture, kept)
    inked = np.maximum(snapshot.turn_end - snapshot.turn_start, 0)
    assert line.first[-1] == inked[kept].sum()
    assert (line.high - line.low <= snapshot.passage_end - snapshot.passage_start).all()


def test_kappa_of_a_table_of_diagnoses():
    """Fleiss, Levin & Paik 2003, table 18.1: two raters, 100 patients, psychotic, neurotic, organic; kappa 0.68 (figures
    from memory)."""
    assert cohen_kappa([[75, 1, 4], [5, 4, 1], [0, 0, 10]]) == pytest.approx(0.676, abs=0.0005)


def test_yes_and_no_by_two_observers():
    """Krippendorff 2011, A: two observers, ten units, binary; alpha 0.095."""
    one = [0, 1, 0, 0, 0, 0, 0, 0, 1, 0]
    other = [1, 1, 1, 0, 0, 1, 0, 0, 0, 0]
    assert krippendorff_alpha([one, other]) == pytest.approx(0.095, abs=0.0005)
