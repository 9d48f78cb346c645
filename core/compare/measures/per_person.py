"""Passages a person: the mean over a group's people, with the median beside it."""

from dataclasses import replace

import numpy as np

from core.compare.measures.measure import Counts, Floats, Inputs, Measure, Measured, made
from core.compare.tally import Tally
from core.language import message


class PerPerson(Measure):
    id = "per_person"
    counted = message("passages a {one}")
    hint = message("the mean over the {many} of a group; median and most beside it")
    taken = message(", over ")
    bases = {
        "with_material": message("each group’s {many} with material"),
        "everyone": message("all of each group’s {many}"),
        "asked": message("each group’s {many} who were asked about it"),
    }
    share = False
    unit = message("passages a {one}")
    head = message("mean")
    cell = message("{count} over {base}")
    noun = (message("passage"), message("passages"))

    def measured(self, inputs: Inputs) -> Measured:
        counted = inputs.counted
        base = np.broadcast_to(counted.group_people, counted.people.shape)
        everyone = np.full(len(counted.people), counted.in_base.sum())
        total = counted.counts[:, counted.in_base].sum(axis=1)
        found = made(_summed(counted), base, total, everyone, counted.counts, counted.in_base.astype(float))
        return replace(found, median=_medians(counted))


def _summed(counted: Tally) -> Counts:
    """Passages of each person of the base, added up by group: one that two people said counts for each."""
    if counted.said is None:
        return np.rint(counted.counts.astype(float) @ counted.base.astype(float)).astype(np.int64)
    return np.einsum("rgc,cg->rg", counted.said, counted.base.astype(np.int64))


def _medians(counted: Tally) -> Floats:
    """Median passages of a person of the base, (rows, groups)."""
    found = np.full(counted.people.shape, np.nan)
    for group in range(counted.base.shape[-1]):
        members = counted.base[:, group]
        said = counted.counts if counted.said is None else counted.said[:, group]
        if members.any():
            found[:, group] = np.median(said[:, members], axis=1)
    return found


PER_PERSON = PerPerson()
