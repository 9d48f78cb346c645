from django.urls import path

from server.people.api import cohorts, roster, variables

PROJECT = "projects/<int:project_id>"
VARIABLE = f"{PROJECT}/variables/<int:variable_id>"
urlpatterns = [
    path(f"{PROJECT}/roster", roster.RosterView.as_view()),
    path(f"{PROJECT}/cases", roster.CasesView.as_view()),
    path(f"{PROJECT}/cases/<int:case_id>", roster.CaseView.as_view()),
    path(f"{PROJECT}/cases/<int:case_id>/merge", roster.MergeCasesView.as_view()),
    path(f"{PROJECT}/cases/<int:case_id>/values/<int:variable_id>", roster.ValueView.as_view()),
    path(f"{PROJECT}/values", roster.ValuesView.as_view()),
    path(f"{PROJECT}/variables", variables.VariablesView.as_view()),
    path(f"{PROJECT}/variables/spreads", variables.SpreadsView.as_view()),
    path(VARIABLE, variables.VariableView.as_view()),
    path(f"{VARIABLE}/categories", variables.CategoriesView.as_view()),
    path(f"{VARIABLE}/histogram", variables.HistogramView.as_view()),
    path(f"{VARIABLE}/distribution", variables.DistributionView.as_view()),
    path(f"{VARIABLE}/distribution/export", variables.DistributionExportView.as_view()),
    path(f"{PROJECT}/cohorts", cohorts.CohortsView.as_view()),
    path(f"{PROJECT}/cohorts/count", cohorts.CountConditionView.as_view()),
    path(f"{PROJECT}/cohorts/<int:cohort_id>", cohorts.CohortView.as_view()),
]
