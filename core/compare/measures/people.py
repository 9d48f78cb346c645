"""People who mention a row, as a share of people."""

import numpy as np

from core.compare.measures.measure import Inputs, Measure, Measured, made, totals
from core.language import message


class People(Measure):
    id = "people"
    counted = message("{many} who mention it")
    hint = message("each {one} once, however often they say it")
    bases = {
        "with_material": message("each group’s {many} with material"),
        "everyone": message("all of each group’s {many}"),
        "asked": message("each group’s {many} who were asked about it"),
    }
    noun = (message("{one}"), message("{many}"))
    amount = False
    shuffled = ""

    def measured(self, inputs: Inputs) -> Measured:
        counted = inputs.counted
        base = np.broadcast_to(counted.group_people, counted.people.shape)
        everyone = np.full(len(counted.people), counted.in_base.sum())
        total, _ = totals(counted, inputs.lost)
        return made(counted.people, base, total, everyone, counted.counts, counted.in_base.astype(float), "shares")


PEOPLE = People()
