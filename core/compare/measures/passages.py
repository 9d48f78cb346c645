"""Distinct passages, as a share of the row's, of the group's, or of the table's."""

import numpy as np

from core.compare.measures.measure import Counts, Inputs, Measure, Measured, made


class Passages(Measure):
    id = "passages"
    counted = "passages"
    hint = "each passage once a row, whatever codes or coders it carries"
    bases = {
        "column": "each group’s passages",
        "row": "each row’s passages",
        "table": "all passages in the table",
    }
    noun = ("passage", "passages")

    def measured(self, inputs: Inputs) -> Measured:
        counted, of_row = inputs.counted, inputs.lost.by_row[:, 0]
        base, total_base = self._bases(inputs, of_row)
        return made(counted.passages, base, of_row, total_base, counted.counts, counted.in_base.astype(float))

    def _bases(self, inputs: Inputs, of_row: Counts) -> tuple[Counts, Counts]:
        shape, table = inputs.counted.passages.shape, int(inputs.lost.overall[0])
        if inputs.base == "row":
            return np.broadcast_to(of_row[:, None], shape), of_row
        whole = np.full(shape[0], table)
        if inputs.base == "column":
            return np.broadcast_to(inputs.counted.group_passages, shape), whole
        return np.full(shape, table), whole


PASSAGES = Passages()
