from django.urls import path

from server.people import api

PROJECT = "projects/<int:project_id>"
urlpatterns = [
    path(f"{PROJECT}/roster", api.RosterView.as_view()),
    path(f"{PROJECT}/cases", api.CasesView.as_view()),
    path(f"{PROJECT}/cases/<int:case_id>", api.CaseView.as_view()),
    path(f"{PROJECT}/cases/<int:case_id>/values/<int:variable_id>", api.ValueView.as_view()),
    path(f"{PROJECT}/variables/<int:variable_id>", api.VariableView.as_view()),
]
