"""A plain paragraph of methods: what was counted and how it was tested, with sources, ready to be cited."""

from collections.abc import Callable

from core.compare.measures.rate import PER_WORDS
from core.compare.result import RESAMPLES, Result
from core.compare.told.sentence import Names

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
    "bootstrap": "Efron, B. & Tibshirani, R. J. (1993). An Introduction to the Bootstrap. Chapman & Hall.",
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

    said = [_counted(result, names), _who(names), *_tests(result, names, cite)]
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


def _who(names: Names) -> str:
    return (
        f"A passage belongs to the {names.many} whose turns it overlaps; interviewers’ turns are never counted as a "
        f"participant’s. {names.many.capitalize()} without a value of {names.variable} are left out and listed."
    )


def _tests(result: Result, names: Names, cite: Callable[..., str]) -> list[str]:
    asked, kinds = result.asked, set(result.tests.kind)
    said = []
    if asked.measure == "people":
        said.append(f"Shares have 95 % intervals after {cite('wilson')}.")
        if result.difference is not None:
            said.append(f"Differences of two shares have hybrid score intervals ({cite('newcombe')}).")
    if "chi_square" in kinds:
        said.append(f"Rows were tested by Pearson’s chi-square where expected counts allow it ({cite('cochran')}).")
    if kinds & {"exact", "exact_simulated"}:
        said.append(f"Where expected counts are small the Fisher–Freeman–Halton exact test was used ({cite('exact')}).")
    if kinds & {"chi_square", "exact", "exact_simulated"}:
        said.append(
            f"Sizes are Cramér’s V, corrected for bias ({cite('bergsma')}); cells are marked by adjusted residuals ({cite('haberman')})."
        )
    if "layered" in kinds:
        said.append(f"Tests hold {names.second} apart (Cochran–Mantel–Haenszel; {cite('mantel')}).")
    if "changes" in kinds:
        said.append(
            f"The groups share {names.many}: those in both were tested by McNemar’s exact test ({cite('mcnemar')})."
        )
    if "occasions" in kinds:
        said.append(f"The groups share {names.many}: those in all were tested by Cochran’s Q ({cite('q')}).")
    if "permutation" in kinds:
        said.append(
            f"Passages aren’t independent, so groups were dealt out to {names.many} anew {asked.permutations:,} times "
            f"({cite('pitman')}, seed {asked.seed}); intervals come from {RESAMPLES:,} bootstrap samples of {names.many} "
            f"({cite('bootstrap')})."
        )
    if result.tests.made > 1:
        said.append(f"p-values are corrected over {result.tests.made} rows ({cite('holm')}).")
    return said
