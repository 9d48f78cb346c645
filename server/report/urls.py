from django.urls import path

from server.report import api

PROJECT = "projects/<int:project_id>"
urlpatterns = [
    path(f"{PROJECT}/exhibits", api.ExhibitsView.as_view()),
    path(f"{PROJECT}/exhibits/<int:exhibit_id>", api.ExhibitView.as_view()),
    path(f"{PROJECT}/exhibits/<int:exhibit_id>/pieces", api.PiecesView.as_view()),
    path(f"{PROJECT}/exhibits/<int:exhibit_id>/pieces/<int:piece_id>", api.PieceView.as_view()),
    path(f"{PROJECT}/exhibits/<int:exhibit_id>/file/<str:ending>", api.ExhibitFileView.as_view()),
    path(f"{PROJECT}/digests", api.DigestsView.as_view()),
]
