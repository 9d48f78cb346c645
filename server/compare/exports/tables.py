"""A comparison as rows of cells: its figures, how it was tested, and what stands beneath."""

from datetime import date
from typing import Any, Literal

from core.language import message, say, worded
from server.common.exports import Cell, Head

TEST_NAMES = {
    "chi_square": message("Pearson chi-square"),
    "exact": message("Fisher–Freeman–Halton, exact"),
    "exact_simulated": message("Fisher–Freeman–Halton, simulated"),
    "permutation": message("permutation of group labels over cases"),
    "layered": message("Cochran–Mantel–Haenszel, layers held apart"),
    "layered_permuted": message("Cochran–Mantel–Haenszel, layers held apart, permuted"),
    "changes": message("McNemar, exact, on those in both"),
    "occasions": message("Cochran’s Q, on those in all"),
    "occasions_permuted": message("Cochran’s Q, on those in all, permuted"),
    "none": message("no test"),
}


def sentence_of(result: dict[str, Any]) -> str:
    return "".join(part["text"] for part in result["sentence"])


HIDDEN = "hidden"


def table_of(result: dict[str, Any], many: str) -> list[list[Cell]]:
    """Header and rows, numbers as numbers; a share is a number from 0 to 1."""
    figure, counted = result["figures"]["head"], result["figures"]["noun"][1]
    look: Literal["share", "number"] = "share" if result["figures"]["share"] else "number"
    header: list[Cell] = [say("Row")]
    for group in result["groups"]:
        parts = (Head(figure, look), counted, say("base"), Head(say("low"), look), Head(say("high"), look))
        header += [
            Head(f"{group['name']}: {part}", part.look if isinstance(part, Head) else "number") for part in parts
        ]
        if result["measure"] == "rating":
            header.append(say("{group}: standard deviation", group=group["name"]))
    header += [
        Head(say("Everyone: {figure}", figure=figure), look),
        say("Everyone: {many}", many=many),
        say("Everyone: passages"),
        say("Everyone: base"),
    ]
    header += [say("Most passages by one"), say("Who")]
    rows: list[list[Cell]] = [header]
    for row in result["rows"]:
        line: list[Cell] = [row["name"]]
        for cell in row["cells"]:
            figures = ["figure", "count", "base", "low", "high"] + (
                ["deviation"] if result["measure"] == "rating" else []
            )
            line += [HIDDEN] * len(figures) if cell.get("hidden") else [cell[part] for part in figures]
        total = row["total"]
        if total.get("hidden"):
            line += [HIDDEN] * 4 + [None, None]
        else:
            line += [total[part] for part in ("figure", "people", "passages", "base", "most", "most_by")]
        rows.append(line)
    return rows


def tests_of(result: dict[str, Any]) -> list[list[Cell]]:
    """One row a test: the size of the difference first, p last."""
    sizes = _sizes_of(result)
    trend = any(row["trend"] for row in result["rows"])
    header: list[Cell] = [say("Row"), *sizes, say("Cramér’s V, corrected"), say("Test"), say("Statistic")]
    header += [Head(words, "p") for words in ("p", say("p, Holm"), say("p, Benjamini–Hochberg"))]
    header += (
        [say("Trend, z"), Head(say("p of the trend"), "p"), Head(say("p of the trend, Holm"), "p")] if trend else []
    )
    ruled = any("standing" in row for row in result["rows"])
    header += [say("Among all differences shown")] if ruled else []
    rows: list[list[Cell]] = [header]
    for row in result["rows"]:
        test = row["test"]
        line: list[Cell] = [row["name"], *(_sizes_in(row) or [None] * len(sizes)), test["effect"]]
        line += [
            worded(TEST_NAMES[test["kind"]]),
            test["statistic"],
            test["p"],
            test["holm"],
            test["benjamini_hochberg"],
        ]
        if trend:
            line += [row["trend"][name] for name in ("z", "p", "holm")] if row["trend"] else [None] * 3
        line += [row.get("standing")] if ruled else []
        rows.append(line)
    return rows


def adjusted_of(result: dict[str, Any]) -> list[list[Cell]]:
    """A line a row: shares as they are and as they would be, odds over the first group, and p."""
    parts = {
        "plain": Head(say("share"), "share"),
        "standardised": Head(say("share if alike"), "share"),
        "odds_ratio": Head(say("odds over first"), "number"),
        "low": Head(say("low"), "number"),
        "high": Head(say("high"), "number"),
    }
    header: list[Cell] = [say("Row")]
    header += [Head(f"{group['name']}: {part}", part.look) for group in result["groups"] for part in parts.values()]
    rows: list[list[Cell]] = [[*header, Head(say("p of the groups"), "p"), say("Not computed since")]]
    why = {
        "": None,
        "few": say("too few mention it, or don’t"),
        "all": say("everybody mentions it"),
        "nobody": say("nobody mentions it"),
    }
    for row in result["adjusted"]["rows"]:
        figures = [cell[name] for cell in row["cells"] for name in parts]
        rows.append([row["name"], *figures, row["p"], why[row["why_not"]]])
    return rows


def _sizes_of(result: dict[str, Any]) -> list[Cell]:
    """Heads of what tells the size of a difference: of two groups, over layers, or of who changed."""
    groups = result["groups"]
    if result["difference"]:
        first, second = (groups[place]["name"] for place in result["difference"])
        head = say("Difference {first} − {second}", first=first, second=second)
        ends = [say("Difference: low"), say("Difference: high")]
        seen = Head(say("Smallest difference that would show"), "share")
        return [*(Head(one, "share") for one in (head, *ends)), say("Odds ratio"), say("Relative risk"), seen]
    if result["layer_pair"]:
        first, second = (groups[place]["label"] for place in result["layer_pair"])
        head = say("Common odds ratio {first} over {second}", first=first, second=second)
        ends = [say("Odds ratio: lower end"), say("Odds ratio: upper end")]
        return [
            head,
            *ends,
            Head(say("p, layers differ (Breslow–Day)"), "p"),
            Head(say("p, layers differ, Holm"), "p"),
            say("V within layers, corrected"),
        ]
    if any(row["changes"] for row in result["rows"]):
        first, second = (group["name"] for group in groups)
        return [
            say("In both"),
            say("Only in {first}", first=first),
            say("Only in {second}", second=second),
            say("In neither"),
        ]
    return []


def _sizes_in(row: dict[str, Any]) -> list[Cell]:
    if gap := row["difference"]:
        return [gap[name] for name in ("difference", "low", "high", "odds_ratio", "relative_risk", "seen")]
    if held := row["layers"]:
        ratio = say("infinite") if held["infinite"] else held["odds_ratio"]
        return [ratio, *(held[name] for name in ("low", "high", "differ_p", "differ_holm", "effect"))]
    if changes := row["changes"]:
        return [changes[name] for name in ("both", "only_first", "only_second", "neither")]
    return []


def notes_of(result: dict[str, Any], project: str) -> list[str]:
    intervals = any(cell["low"] is not None for row in result["rows"] for cell in row["cells"])
    made = say(
        "{project}, {today}, revision {result}. Made with Cohortia.",
        project=project,
        today=date.today().isoformat(),
        result=result["revision"],
    )
    shares = say("Shares run from 0 to 1.") if result["figures"]["share"] else ""
    ends = say("Low and high are the ends of 95 % intervals.") if intervals else ""
    said = " ".join(part for part in (shares, ends) if part)
    return [result["left_out_line"], *(one["text"] for one in result["cautions"]), *([said] if said else []), made]
