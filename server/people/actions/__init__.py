"""Every write on cases, values, variables and cohorts."""

from server.people.actions.cases import (
    Typed,
    add_case,
    delete_case,
    merge_cases,
    new_cases,
    rename_case,
    set_value,
    set_values,
)
from server.people.actions.cohorts import change_cohort, delete_cohort, make_cohort
from server.people.actions.variables import (
    category_to_missing,
    change_variable,
    delete_variable,
    make_variable,
    merge_categories,
    rename_category,
    split_category,
)

__all__ = [
    "Typed",
    "add_case",
    "category_to_missing",
    "change_cohort",
    "change_variable",
    "delete_case",
    "delete_cohort",
    "delete_variable",
    "make_cohort",
    "make_variable",
    "merge_cases",
    "merge_categories",
    "new_cases",
    "rename_case",
    "rename_category",
    "set_value",
    "set_values",
    "split_category",
]
