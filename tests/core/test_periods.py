"""Groups of dates by month, quarter and year."""

from datetime import date

import numpy as np
import pandas as pd

from core.compare.groups import PERIODS, missing_label, period_of, periods, proposed_period


def test_periods_are_those_of_a_general_library():
    """pandas' own periods (its documentation, *Period*), over two thousand days."""
    formats = {"month": ("M", "%Y-%m"), "quarter": ("Q", "%Y Q%q"), "year": ("Y", "%Y")}
    for day in pd.date_range("1998-12-01", periods=2000):
        for by in PERIODS:
            frequency, form = formats[by]
            assert period_of(day.date(), by) == day.to_period(frequency).strftime(form)


def test_each_day_is_in_its_period_and_who_has_none_in_no_group():
    days = [date(2026, 11, 6), None, date(2026, 1, 5), date(2026, 1, 31), None]
    missing = np.array([0, missing_label("not_asked"), 0, 0, missing_label("unknown")], np.int32)
    found = periods(days, missing, "month")
    assert (found.names, found.ordered) == (("2026-01", "2026-11"), True)
    assert found.labels.tolist() == [1, missing[1], 0, 0, missing[4]]
    assert periods([], np.zeros(0, np.int32), "year").names == ()


def test_the_shortest_period_that_makes_few_groups_is_proposed():
    assert proposed_period([date(2026, month, 1) for month in range(1, 9)]) == "month"
    assert proposed_period([date(2026, month, 1) for month in range(1, 10)]) == "quarter"
    assert proposed_period([date(year, 1, 1) for year in range(1990, 2026)]) == "year"
    assert proposed_period([]) == "month"
