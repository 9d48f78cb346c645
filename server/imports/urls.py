from django.urls import path

from server.imports.api import staged

PROJECT = "projects/<int:project_id>"
urlpatterns = [
    path(f"{PROJECT}/staged", staged.StagedView.as_view()),
    path(f"{PROJECT}/staged/speakers", staged.StagedSpeakersView.as_view()),
    path(f"{PROJECT}/staged/<int:staged_id>", staged.OneStagedView.as_view()),
    path(f"{PROJECT}/bring-in", staged.BringInView.as_view()),
]
