"""Passages per 1,000 words of a group's own turns."""

import numpy as np

from core.compare.measures.measure import Inputs, Measure, Measured, made
from core.language import message

PER_WORDS = 1000


class Rate(Measure):
    id = "rate"
    counted = message("passages per 1,000 words")
    hint = message("allows for how much each group said")
    taken = message(", out of ")
    bases = {"words": message("each group’s own words")}
    share = False
    unit = message("passages per 1,000 words")
    head = message("per 1,000 words")
    cell = message("{counted}")
    noun = (message("passage"), message("passages"))

    def measured(self, inputs: Inputs) -> Measured:
        counted = inputs.counted
        base = np.broadcast_to(counted.group_words, counted.passages.shape)
        # Words count once, whatever number of the groups shown they are in, and not at all outside these.
        total_base = np.full(len(counted.passages), counted.case_words.sum())
        total = inputs.lost.by_row[:, 0]
        exposure = counted.case_words.astype(float)
        return made(counted.passages, base, total, total_base, counted.counts, exposure, scale=PER_WORDS)


RATE = Rate()
