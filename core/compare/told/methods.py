"""A plain paragraph of methods: what was counted and how it was tested, with sources, ready to be cited."""

from collections.abc import Callable

import numpy as np

from core.compare.measures.rate import PER_WORDS
from core.compare.result import Result
from core.compare.sure import Family
from core.compare.told.left_out import left_out_parts
from core.compare.told.sentence import Names
from core.statistics import intervals
from core.text.missing import REASONS

SOURCES = {
    "wilson": "Wilson, E. B. (1927). Probable inference, the law of succession, and statistical inference. JASA 22, 209–212.",
    "newcombe": "Newcombe, R. G. (1998). Interval estimation for the difference between independent proportions. "
    "Statistics in Medicine 17, 873–890.",
    "cochran": "Cochran, W. G. (1954). Some methods for strengthening the common χ² tests. Biometrics 10, 417–451.",
    "exact": "Freeman, G. H. & Halton, J. H. (1951). Note on an exact treatment of contingency. Biometrika 38, 141–149.",
    "bergsma": "Bergsma, W. (2013). A bias-correction for Cramér’s V and Tschuprow’s T. "
    "Journal of the Korean Statistical Society 42, 323–328.",
    "haberman": "Haberman, S. J. (1973). The analysis of residuals in cross-classified tables. Biometrics 29, 205–220.",
    "holm": "Holm, S. (1979). A simple sequentially rejective multiple test procedure. "
    "Scandinavian Journal of Statistics 6, 65–70.",
    "pitman": "Pitman, E. J. G. (1937). Significance tests which may be applied to samples from any populations. "
    "Supplement to the JRSS 4, 119–130.",
    "ratio": "Cochran, W. G. (1977). Sampling Techniques, 3rd ed., 6.3. Wiley.",
    "trend": "Armitage, P. (1955). Tests for linear trends in proportions and frequencies. Biometrics 11, 375–386.",
    "breslow": "Tarone, R. E. (1985). On heterogeneity tests based on efficient scores. Biometrika 72, 91–95.",
    "stepdown": "Westfall, P. H. & Young, S. S. (1993). Resampling-Based Multiple Testing. Wiley.",
    "selection": "Benjamini, Y. & Yekutieli, D. (2005). False discovery rate–adjusted multiple confidence intervals for "
    "selected parameters. JASA 100, 71–81.",
    "blocks": "Winkler, A. M. et al. (2015). Multi-level block permutation. NeuroImage 123, 253–268.",
    "mantel": "Mantel, N. & Haenszel, W. (1959). Statistical aspects of the analysis of data from retrospective studies "
    "of disease. JNCI 22, 719–748.",
    "mcnemar": "McNemar, Q. (1947). Note on the sampling error of the difference between correlated proportions. "
    "Psychometrika 12, 153–157.",
    "q": "Cochran, W. G. (1950). The comparison of percentages in matched samples. Biometrika 37, 256–266.",
}


def methods_paragraph(result: Result, names: Names) -> tuple[str, list[str]]:
    """The paragraph, and its sources in the order they are named."""
    cited: list[str] = []

    def cite(*keys: str) -> str:
        cited.extend(key for key in keys if key not in cited)
        return "; ".join(_short(SOURCES[key]) for key in keys)

    said = [_counted(result, names), _who(result, names), *_tests(result, names, cite)]
    return " ".join(said), [SOURCES[key] for key in cited]


def _short(source: str) -> str:
    """``Wilson 1927`` from a full source."""
    authors, _, rest = source.partition(" (")
    first = authors.split(",")[0]
    second = authors.split("& ")[1].split(",")[0] if "& " in authors else ""
    return f"{first} & {second} {rest[:4]}" if second else f"{first} {rest[:4]}"


def _counted(result: Result, names: Names) -> str:
    asked = result.asked
    rolled = "together with all codes beneath it" if asked.roll_up else "by itself"
    what = {
        "people": f"For each row we counted the {names.many} of each group with at least one coded passage, as a share of "
        + (
            f"all {names.many} of the group."
            if asked.base == "everyone"
            else f"the group’s {names.many} with material in scope."
        ),
        "passages": "For each row we counted distinct passages of each group.",
        "words": "For each row we counted the words of its passages, each word once, inside the groups’ own turns.",
        "per_person": f"For each row we took the mean number of passages over the {names.many} of each group.",
        "rate": f"For each row we took passages per {PER_WORDS:,} words of each group’s own turns.",
        "rating": "For each row we took the mean of the ratings on its codings in each group.",
    }[asked.measure]
    return f"{what} A code counts {rolled}, a passage once in a row whatever codes or coders it carries."


def _who(result: Result, names: Names) -> str:
    second = f" or {names.second}" if names.second else ""
    said = f"A passage belongs to the {names.many} whose turns it overlaps; interviewers’ turns are never counted as a participant’s."
    missing = [part for part in left_out_parts(result, names) if part.reason in REASONS]
    if not missing:
        return said
    whose = "Passages in documents" if names.about == "document" else f"{names.many.capitalize()}"
    return f"{said} {whose} without a value of {names.variable}{second} are left out and listed."


def _intervals(result: Result, cite: Callable[..., str]) -> list[str]:
    """Those that are given."""
    said = []
    if result.of_people and result.everyone:
        said.append(f"Shares have 95 % intervals after {cite('wilson')}.")
    elif result.made.compared == "ratios" and np.isfinite(result.low).any():
        fewest = f"{intervals.FEWEST_PEOPLE} people, {intervals.FEWEST_MENTIONS} of whom add to it"
        said.append(
            f"Means and rates have 95 % intervals by Student’s t on the logarithm of the ratio ({cite('ratio')}), from {fewest}, on; "
            "with fewer there is none."
        )
    if result.difference is not None:
        said.append(f"Differences of two shares have hybrid score intervals ({cite('newcombe')}).")
    return said


def _tests(result: Result, names: Names, cite: Callable[..., str]) -> list[str]:
    asked, kinds = result.asked, set(result.tests.kind)
    said = _intervals(result, cite)
    if "chi_square" in kinds:
        said.append(f"Rows were tested by Pearson’s chi-square where expected counts allow it ({cite('cochran')}).")
    if kinds & {"exact", "exact_simulated"}:
        simulated = (
            ", from tables drawn at random where there are too many to count" if "exact_simulated" in kinds else ""
        )
        said.append(
            f"Where expected counts are small the Fisher–Freeman–Halton exact test was used ({cite('exact')}){simulated}."
        )
    if kinds & {"chi_square", "exact", "exact_simulated"}:
        said.append(
            f"Sizes are Cramér’s V, corrected for bias ({cite('bergsma')}); cells are marked by adjusted residuals ({cite('haberman')})."
        )
    said += _within(result, names, cite)
    if "changes" in kinds:
        said.append(
            f"The groups share {names.many}: those in both were tested by McNemar’s exact test ({cite('mcnemar')})."
        )
    if kinds & {"occasions", "occasions_permuted"}:
        shuffled = ", by dealing answers out anew where few of them vary" if "occasions_permuted" in kinds else ""
        said.append(f"The groups share {names.many}: those in all were tested by Cochran’s Q ({cite('q')}){shuffled}.")
    if result.trend is not None and np.isfinite(result.trend.p).any():
        shuffled = ", permuted where expected counts are small" if (result.trend.error > 0).any() else ""
        said.append(
            f"The trend over {names.variable} in its own order is Cochran’s and Armitage’s ({cite('trend')}){shuffled}."
        )
    if "permutation" in kinds:
        inside = f" inside the groups of {names.second}" if asked.layers > 1 else ""
        together = ", those who spoke in one conversation together" if result.heard_each_other else ""
        said.append(
            f"{result.measure.shuffled} aren’t independent, so groups were dealt out to {names.many} anew{inside}{together} "
            f"{asked.permutations:,} times ({cite('pitman')}, seed {asked.seed})."
        )
    if result.whole is not None:
        said.append(_whole(result, cite))
    if result.tests.made > 1:
        said.append(f"p-values are corrected over {result.tests.made} rows ({cite('holm')}).")
    return said


def _within(result: Result, names: Names, cite: Callable[..., str]) -> list[str]:
    """Tests of people that hold layers apart."""
    kinds, found = set(result.tests.kind), result.within_layers
    if not kinds & {"layered", "layered_permuted"}:
        return []
    shuffled = (
        ", by dealing groups out anew inside them where expected counts are small"
        if "layered_permuted" in kinds
        else ""
    )
    said = [f"Tests hold {names.second} apart (Cochran–Mantel–Haenszel; {cite('mantel')}){shuffled}."]
    if found is not None and np.isfinite(found.differ_p).any():
        said.append(
            f"Whether odds ratios differ among the groups of {names.second} was tested after Breslow and Day with Tarone’s "
            f"correction ({cite('breslow')})."
        )
    return said


def _whole(result: Result, cite: Callable[..., str]) -> str:
    assert result.whole is not None
    how = f"an exact test on tables drawn at random ({cite('exact')})" if result.whole.exact else "Pearson’s chi-square"
    return f"Since each person mentions exactly one row, the whole table was tested as one, by {how}."


def of_the_rule(family: Family, names: Names) -> tuple[str, list[str]]:
    """What was done to call differences sure, with its sources: for the paragraph where findings are told."""
    if family.why_not:
        return "", []
    result = family.result
    statistic = "exact p-values" if result.of_people else "studentised differences"
    inside = f", inside the groups of {names.second}" if result.asked.layers > 1 else ""
    together = f"; {names.many} who spoke in one conversation were kept together" if family.together else ""
    what = f"the order of each {names.one}’s groups" if family.paired else "group labels"
    text = (
        f"Differences are called sure by one rule: all {family.looked_at:,} pairs of groups in all rows were tested together on "
        f"{statistic} by step-down, dealing out {what} anew {family.made:,} times{inside}{together}; sure is an adjusted p "
        "of at most .05. Intervals of the differences told are widened for having been picked."
    )
    keys = ["stepdown", "selection", *(["blocks"] if family.together else [])]
    return text, [SOURCES[key] for key in keys]
