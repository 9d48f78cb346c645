"""Words of the union of a row's passages inside the groups' own turns, as a share of all words, or of the row's or group's."""

import numpy as np

from core.compare.measures.adding import words_of
from core.compare.measures.measure import Inputs, Measure, Measured, made
from core.snapshot.masks import case_words


class Words(Measure):
    id = "words"
    counted = "words about it"
    hint = "words of the passages, each once, inside a group’s own turns"
    bases = {
        "talk": "all words of each group",
        "column": "each group’s words about any row",
        "row": "each row’s words",
    }
    noun = ("word", "words")
    shuffled = "Words"
    needs_texture = True

    def measured(self, inputs: Inputs) -> Measured:
        counted, base = inputs.counted, inputs.base
        assert inputs.texture is not None
        words = words_of(inputs.snapshot, inputs.texture, inputs.rows, inputs.groups, inputs.scope, base == "column")
        shape, exposure = words.by_group.shape, counted.in_base.astype(float)
        if base == "row":
            over, total_base = np.broadcast_to(words.total[:, None], shape), words.total
        elif base == "column":
            over, total_base = np.broadcast_to(words.of_group, shape), np.full(shape[0], words.of_all)
        else:
            over = np.broadcast_to(counted.group_words, shape)
            exposure = case_words(inputs.snapshot, inputs.scope).astype(float)
            total_base = np.full(shape[0], int(exposure[counted.in_base].sum()))
        return made(words.by_group, over, words.total, total_base, words.by_case, exposure)

    def figure_comparable(self, base: str) -> bool:
        return base == "talk"


WORDS = Words()
