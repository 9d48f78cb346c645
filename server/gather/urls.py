from django.urls import path

from server.gather import api

PROJECT = "projects/<int:project_id>"
urlpatterns = [
    path(f"{PROJECT}/documents", api.DocumentsView.as_view()),
    path(f"{PROJECT}/documents/delete", api.DeleteDocumentsView.as_view()),
    path(f"{PROJECT}/documents/<int:document_id>", api.DocumentView.as_view()),
    path(f"{PROJECT}/unlinked", api.UnlinkedView.as_view()),
    path(f"{PROJECT}/speakers/<int:speaker_id>", api.SpeakerView.as_view()),
    path(f"{PROJECT}/staged", api.StagedView.as_view()),
    path(f"{PROJECT}/staged/<int:staged_id>", api.OneStagedView.as_view()),
    path(f"{PROJECT}/bring-in", api.BringInView.as_view()),
]
