"""Passages per 1,000 words of a group's own turns."""

import numpy as np

from core.compare.measures.measure import Inputs, Measure, Measured, made
from core.snapshot.masks import case_words

PER_WORDS = 1000


class Rate(Measure):
    id = "rate"
    counted = "passages per 1,000 words"
    hint = "allows for how much each group said"
    taken = ", out of "
    bases = {"words": "each group’s own words"}
    share = False
    unit = "passages per 1,000 words"
    head = "per 1,000 words"
    cell = "{counted}"
    noun = ("passage", "passages")

    def measured(self, inputs: Inputs) -> Measured:
        counted = inputs.counted
        base = np.broadcast_to(counted.group_words, counted.passages.shape)
        total_base = np.full(len(counted.passages), counted.group_words.sum())
        exposure = case_words(inputs.snapshot, inputs.scope).astype(float)
        total = inputs.lost.by_row[:, 0]
        return made(counted.passages, base, total, total_base, counted.counts, exposure, PER_WORDS)


RATE = Rate()
