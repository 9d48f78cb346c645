"""A plain paragraph of methods: what was counted and how it was tested, with sources, ready to be cited."""

from collections.abc import Callable

import numpy as np

from core.compare.measures.rate import PER_WORDS
from core.compare.result import Result
from core.compare.sure import Family
from core.compare.told.left_out import left_out_parts
from core.compare.told.sentence import Names
from core.language import say
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
    rolled = say("together with all codes beneath it") if asked.roll_up else say("by itself")
    what = {
        "people": say(
            "For each row we counted the {many} of each group with at least one coded passage, as a share of ",
            many=names.many,
        )
        + _base(asked.base, names),
        "passages": say("For each row we counted distinct passages of each group."),
        "words": say(
            "For each row we counted the words of its passages, each word once, inside the groups’ own turns."
        ),
        "per_person": say(
            "For each row we took the mean number of passages over the {many} of each group.", many=names.many
        ),
        "rate": say(
            "For each row we took passages per {per_words, number} words of each group’s own turns.",
            per_words=PER_WORDS,
        ),
        "rating": say("For each row we took the mean of the ratings on its codings in each group."),
    }[asked.measure]
    return say(
        "{what} A code counts {rolled}, a passage once in a row whatever codes or coders it carries.",
        what=what,
        rolled=rolled,
    ) + _asked(result, names)


def _base(base: str, names: Names) -> str:
    if base == "everyone":
        return say("all {many} of the group.", many=names.many)
    if base == "asked":
        return say("the group’s {many} to whom a question on it was put.", many=names.many)
    return say("the group’s {many} with material in scope.", many=names.many)


def _asked(result: Result, names: Names) -> str:
    """How it is known who was asked, where that decides anything."""
    asked = result.asked
    if asked.guide is None or (asked.base != "asked" and asked.accord == "either"):
        return ""
    said = [
        say(
            "Interviewers’ turns were matched to the questions of the interview guide, and questions to codes; {many} were asked about a row where a question on its code, on one above it or (rolled up) beneath it was put in a document in which they speak.",
            many=names.many,
        )
    ]
    if asked.accord != "either":
        soon = say("within {within, number} turns after such a question", within=asked.guide.within)
        said.append(
            say("Only passages that begin {soon} are counted.", soon=soon)
            if asked.accord == "when_asked"
            else say("Passages that begin {soon} aren’t counted.", soon=soon)
        )
        said.append(say("Documents in which no interviewer says anything are left out."))
    return " " + " ".join(said)


def _who(result: Result, names: Names) -> str:
    second = say(" or {second}", second=names.second) if names.second else ""
    said = say(
        "A passage belongs to the {many} whose turns it overlaps; interviewers’ turns are never counted as a participant’s.",
        many=names.many,
    )
    missing = [part for part in left_out_parts(result, names) if part.reason in REASONS]
    if not missing:
        return said
    whose = say("Passages in documents") if names.about.startswith("document") else f"{names.many.capitalize()}"
    return say(
        "{said} {whose} without a value of {variable}{second} are left out and listed.",
        said=said,
        whose=whose,
        variable=names.variable,
        second=second,
    )


def _intervals(result: Result, cite: Callable[..., str]) -> list[str]:
    """Those that are given."""
    said = []
    if result.of_people and result.everyone:
        said.append(say("Shares have 95 % intervals after {cite}.", cite=cite("wilson")))
    elif result.made.compared == "ratios" and np.isfinite(result.low).any():
        fewest = say(
            "{fewest_people} people, {fewest_mentions} of whom add to it",
            fewest_people=intervals.FEWEST_PEOPLE,
            fewest_mentions=intervals.FEWEST_MENTIONS,
        )
        said.append(
            say(
                "Means and rates have 95 % intervals by Student’s t on the logarithm of the ratio ({cite}), from {fewest}, on; with fewer there is none.",
                cite=cite("ratio"),
                fewest=fewest,
            )
        )
    if result.difference is not None:
        said.append(say("Differences of two shares have hybrid score intervals ({cite}).", cite=cite("newcombe")))
    return said


def _tests(result: Result, names: Names, cite: Callable[..., str]) -> list[str]:
    asked, kinds = result.asked, set(result.tests.kind)
    said = _intervals(result, cite)
    if "chi_square" in kinds:
        said.append(
            say(
                "Rows were tested by Pearson’s chi-square where expected counts allow it ({cite}).",
                cite=cite("cochran"),
            )
        )
    if kinds & {"exact", "exact_simulated"}:
        simulated = (
            say(", from tables drawn at random where there are too many to count") if "exact_simulated" in kinds else ""
        )
        said.append(
            say(
                "Where expected counts are small the Fisher–Freeman–Halton exact test was used ({cite}){simulated}.",
                cite=cite("exact"),
                simulated=simulated,
            )
        )
    if kinds & {"chi_square", "exact", "exact_simulated"}:
        said.append(
            say(
                "Sizes are Cramér’s V, corrected for bias ({cite}); cells are marked by adjusted residuals ({cite2}).",
                cite=cite("bergsma"),
                cite2=cite("haberman"),
            )
        )
    said += _within(result, names, cite)
    if "changes" in kinds:
        said.append(
            say(
                "The groups share {many}: those in both were tested by McNemar’s exact test ({cite}).",
                many=names.many,
                cite=cite("mcnemar"),
            )
        )
    if kinds & {"occasions", "occasions_permuted"}:
        shuffled = say(", by dealing answers out anew where few of them vary") if "occasions_permuted" in kinds else ""
        said.append(
            say(
                "The groups share {many}: those in all were tested by Cochran’s Q ({cite}){shuffled}.",
                many=names.many,
                cite=cite("q"),
                shuffled=shuffled,
            )
        )
    if result.trend is not None and np.isfinite(result.trend.p).any():
        shuffled = say(", permuted where expected counts are small") if (result.trend.error > 0).any() else ""
        said.append(
            say(
                "The trend over {variable} in its own order is Cochran’s and Armitage’s ({cite}){shuffled}.",
                variable=names.variable,
                cite=cite("trend"),
                shuffled=shuffled,
            )
        )
    if "permutation" in kinds:
        inside = say(" inside the groups of {second}", second=names.second) if asked.layers > 1 else ""
        together = say(", those who spoke in one conversation together") if result.heard_each_other else ""
        said.append(
            say(
                "{shuffled} aren’t independent, so groups were dealt out to {many} anew{inside}{together} {permutations, number} times ({cite}, seed {seed}).",
                shuffled=say(result.measure.shuffled),
                many=names.many,
                inside=inside,
                together=together,
                permutations=asked.permutations,
                cite=cite("pitman"),
                seed=asked.seed,
            )
        )
    if result.whole is not None:
        said.append(_whole(result, cite))
    if result.tests.made > 1:
        said.append(say("p-values are corrected over {rows} rows ({cite}).", rows=result.tests.made, cite=cite("holm")))
    return said


def _within(result: Result, names: Names, cite: Callable[..., str]) -> list[str]:
    """Tests of people that hold layers apart."""
    kinds, found = set(result.tests.kind), result.within_layers
    if not kinds & {"layered", "layered_permuted"}:
        return []
    shuffled = (
        say(", by dealing groups out anew inside them where expected counts are small")
        if "layered_permuted" in kinds
        else ""
    )
    said = [
        say(
            "Tests hold {second} apart (Cochran–Mantel–Haenszel; {cite}){shuffled}.",
            second=names.second,
            cite=cite("mantel"),
            shuffled=shuffled,
        )
    ]
    if found is not None and np.isfinite(found.differ_p).any():
        said.append(
            say(
                "Whether odds ratios differ among the groups of {second} was tested after Breslow and Day with Tarone’s correction ({cite}).",
                second=names.second,
                cite=cite("breslow"),
            )
        )
    return said


def _whole(result: Result, cite: Callable[..., str]) -> str:
    assert result.whole is not None
    how = (
        say("an exact test on tables drawn at random ({cite})", cite=cite("exact"))
        if result.whole.exact
        else say("Pearson’s chi-square")
    )
    return say("Since each person mentions exactly one row, the whole table was tested as one, by {how}.", how=how)


def of_the_rule(family: Family, names: Names) -> tuple[str, list[str]]:
    """What was done to call differences sure, with its sources: for the paragraph where findings are told."""
    if family.why_not:
        return "", []
    result = family.result
    statistic = say("exact p-values") if result.of_people else say("studentised differences")
    inside = say(", inside the groups of {second}", second=names.second) if result.asked.layers > 1 else ""
    together = (
        say("; {many} who spoke in one conversation were kept together", many=names.many) if family.together else ""
    )
    what = say("the order of each {one}’s groups", one=names.one) if family.paired else say("group labels")
    text = say(
        "Differences are called sure by one rule: all {looked_at, number} pairs of groups in all rows were tested together on {statistic} by step-down, dealing out {what} anew {made, number} times{inside}{together}; sure is an adjusted p of at most .05. Intervals of the differences told are widened for having been picked.",
        looked_at=family.looked_at,
        statistic=statistic,
        what=what,
        made=family.made,
        inside=inside,
        together=together,
    )
    if family.sets > 1:
        text += say(
            " Rows about which the same {many} were asked were tested together, and adjusted p-values multiplied by the number of such sets of rows, {sets, number}.",
            many=names.many,
            sets=family.sets,
        )
    keys = ["stepdown", "selection", *(["blocks"] if family.together else [])]
    return text, [SOURCES[key] for key in keys]
