from django.urls import path

from server.gather.api import documents, speakers

PROJECT = "projects/<int:project_id>"
DOCUMENT = f"{PROJECT}/documents/<int:document_id>"
TURN = f"{DOCUMENT}/turns/<int:number>"
urlpatterns = [
    path(f"{PROJECT}/documents", documents.DocumentsView.as_view()),
    path(f"{PROJECT}/documents/delete", documents.DeleteDocumentsView.as_view()),
    path(f"{DOCUMENT}/media/<str:role>/<int:number>", documents.MediumView.as_view()),
    path(f"{DOCUMENT}/pages/<int:number>", documents.PageView.as_view()),
    path(f"{DOCUMENT}/sound", documents.SoundView.as_view()),
    path(f"{DOCUMENT}/sound/peaks", documents.PeaksView.as_view()),
    path(f"{TURN}/split", documents.SplitTurnView.as_view()),
    path(f"{TURN}/join", documents.JoinTurnView.as_view()),
    path(f"{TURN}/give", documents.GiveTurnView.as_view()),
    path(f"{PROJECT}/unlinked", speakers.UnlinkedView.as_view()),
    path(f"{PROJECT}/links", speakers.LinksView.as_view()),
    path(f"{PROJECT}/speakers/settle", speakers.SettledView.as_view()),
    path(f"{PROJECT}/check", speakers.CheckView.as_view()),
    path(f"{PROJECT}/speakers/<int:speaker_id>", speakers.SpeakerView.as_view()),
]
