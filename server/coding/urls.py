from django.urls import path

from server.coding import api

PROJECT = "projects/<int:project_id>"
urlpatterns = [
    path(f"{PROJECT}/codebook", api.CodebookView.as_view()),
    path(f"{PROJECT}/codes/<int:code_id>", api.CodeView.as_view()),
    path(f"{PROJECT}/pins/<int:key>", api.PinView.as_view()),
    path(f"{PROJECT}/documents/<int:document_id>/passages", api.PassagesView.as_view()),
    path(f"{PROJECT}/codings/<int:coding_id>", api.CodingView.as_view()),
    path(f"{PROJECT}/memos/<int:memo_id>", api.MemoView.as_view()),
]
