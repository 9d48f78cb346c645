"""Distinct passages, as a share of the row's, of the group's, or of the table's."""

import numpy as np

from core.compare.groups import by_talk
from core.compare.measures.measure import Counts, Inputs, Measure, Measured, made
from core.language import message
from core.snapshot.masks import attribution_mask


class Passages(Measure):
    id = "passages"
    counted = message("passages")
    hint = message("each passage once a row, whatever codes or coders it carries")
    bases = {
        "column": message("each group’s passages"),
        "row": message("each row’s passages"),
        "table": message("all passages in the table"),
    }
    noun = (message("passage"), message("passages"))

    def measured(self, inputs: Inputs) -> Measured:
        counted, of_row = inputs.counted, inputs.lost.by_row[:, 0]
        shape, table = counted.passages.shape, np.full(len(of_row), int(inputs.lost.overall[0]))
        if inputs.base == "column":
            base, exposure = np.broadcast_to(counted.group_passages, shape), _by_case(inputs).astype(float)
            return made(counted.passages, base, of_row, table, counted.counts, exposure)
        whole = of_row if inputs.base == "row" else table
        base, people = np.broadcast_to(whole[:, None], shape), counted.in_base.astype(float)
        return made(counted.passages, base, of_row, whole, counted.counts, people, "parts")


def _by_case(inputs: Inputs) -> Counts:
    """Distinct passages of each case under any row, in the groups shown, (cases,)."""
    snapshot, said = inputs.snapshot, inputs.snapshot.attributions
    shown = np.zeros(len(snapshot.passage_ids), bool)
    shown[inputs.rows.incidence.pairs_of(inputs.rows.chosen)[1]] = True
    grouped = np.diff(by_talk(inputs.groups, snapshot.talks).pairs[0]) > 0
    kept = shown[said.passage] & grouped[snapshot.talks.of_attribution] & attribution_mask(snapshot, inputs.scope)
    return np.bincount(said.case[kept], minlength=len(snapshot.case_ids))


PASSAGES = Passages()
