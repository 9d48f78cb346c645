from django.urls import path

from server.compare import api, kept

PROJECT = "projects/<int:project_id>"
urlpatterns = [
    path(f"{PROJECT}/compare", api.CompareView.as_view()),
    path(f"{PROJECT}/compare/stands-out", api.StandsOutView.as_view()),
    path(f"{PROJECT}/compare/kept", kept.KeptView.as_view()),
    path(f"{PROJECT}/compare/kept/<int:kept_id>", kept.OneKeptView.as_view()),
    path(f"{PROJECT}/compare/evidence", api.EvidenceView.as_view()),
    path(f"{PROJECT}/compare/export", api.ExportView.as_view()),
]
