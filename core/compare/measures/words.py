"""Words of the union of a row's passages inside the groups' own turns, as a share of all words, or of the row's or group's."""

import numpy as np

from core.compare.measures.adding import words_of
from core.compare.measures.measure import Inputs, Measure, Measured, made
from core.language import message


class Words(Measure):
    id = "words"
    counted = message("words about it")
    hint = message("words of the passages, each once, inside a group’s own turns")
    bases = {
        "talk": message("all words of each group"),
        "column": message("each group’s words about any row"),
        "row": message("each row’s words"),
    }
    noun = (message("word"), message("words"))
    shuffled = message("Words")
    needs_texture = True

    def measured(self, inputs: Inputs) -> Measured:
        counted, base = inputs.counted, inputs.base
        assert inputs.texture is not None
        words = words_of(inputs.snapshot, inputs.texture, inputs.rows, inputs.groups, inputs.scope, base == "column")
        shape = words.by_group.shape
        if base == "row":
            over = np.broadcast_to(words.total[:, None], shape)
            people = counted.in_base.astype(float)
            return made(words.by_group, over, words.total, words.total, words.by_case, people, "parts")
        if base == "column":
            over, total, exposure = words.of_group, words.of_all, words.of_case
        else:
            over, total, exposure = counted.group_words, int(counted.case_words.sum()), counted.case_words
        total_base = np.full(shape[0], total)
        over = np.broadcast_to(over, shape)
        return made(words.by_group, over, words.total, total_base, words.by_case, exposure.astype(float))


WORDS = Words()
