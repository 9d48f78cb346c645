"""The mean of the ratings on a row's codings."""

from dataclasses import replace

import numpy as np

from core.compare.measures.adding import rated, ratings_of
from core.compare.measures.measure import Inputs, Measure, Measured
from core.language import message
from core.snapshot.scope import Scope
from core.snapshot.snapshot import Snapshot


class Rating(Measure):
    id = "rating"
    counted = message("mean rating")
    hint = message("of codings that are rated on their code’s scale")
    taken = message(", over ")
    bases = {"ratings": message("each group’s rated codings")}
    share = False
    unit = message("mean rating")
    head = message("mean rating")
    cell = message("of {count}")
    noun = (message("rating"), message("ratings"))
    amount = False
    shuffled = message("Ratings")

    def counted_in(self, snapshot: Snapshot, scope: Scope) -> Scope:
        return replace(scope, coders=None, codings=rated(snapshot, scope))

    def measured(self, inputs: Inputs) -> Measured:
        found = ratings_of(inputs.snapshot, inputs.asked, inputs.groups, inputs.scope, inputs.roll_up)
        none = np.full(found.mean.shape, np.nan)
        return Measured(
            found.mean, found.count, found.count, none, found.deviation, found.total_mean, found.total_count,
            found.total_count, found.sums, found.times.astype(float), "ratios",
        )  # fmt: skip


RATING = Rating()
