"""The sentence and the left-out line, as they are shown and exported."""

import re

from core.compare.by_part import compare
from core.compare.question import Comparison
from core.compare.told.cautions import cautions
from core.compare.told.left_out import left_out_line
from core.compare.told.sentence import Names, sentence
from tests.core.worlds import random_groups, random_snapshot

NAMES = Names("household", "households", "Island", "6 codes")


def test_the_sentence_says_what_is_counted_in_whom_as_a_share_of_what():
    result = compare(random_snapshot(1), Comparison((0, 1), random_groups(1)))
    assert sentence(result, NAMES) == (
        "Compare 6 codes across Island, counting households who mention it, "
        "as a share of each group’s households with material. Branches rolled up."
    )


def test_the_left_out_line_adds_up_in_words():
    result = compare(random_snapshot(2), Comparison(tuple(range(6)), random_groups(2)))
    line = left_out_line(result, NAMES)
    total, rest = re.fullmatch(r"Adds up: (\d+) passages? in scope = (.*)\.", line).groups()
    assert int(total) == sum(int(number) for number in re.findall(r"(?:^|\+ )(\d+) ", rest))


def test_passages_are_never_said_to_be_tested_as_people():
    result = compare(random_snapshot(2), Comparison((0, 1), random_groups(2), measure="passages", base="column"))
    assert any("never tested as if each were a household" in one.text for one in cautions(result, NAMES))
