from django.urls import path

from server.report.api import documents, exhibits, lists, memos

PROJECT = "projects/<int:project_id>"
urlpatterns = [
    path(f"{PROJECT}/exhibits", exhibits.ExhibitsView.as_view()),
    path(f"{PROJECT}/exhibits/<int:exhibit_id>", exhibits.ExhibitView.as_view()),
    path(f"{PROJECT}/exhibits/<int:exhibit_id>/pieces", exhibits.PiecesView.as_view()),
    path(f"{PROJECT}/exhibits/<int:exhibit_id>/pieces/<int:piece_id>", exhibits.PieceView.as_view()),
    path(f"{PROJECT}/exhibits/<int:exhibit_id>/file/<str:ending>", exhibits.ExhibitFileView.as_view()),
    path(f"{PROJECT}/documents/files/<str:ending>", documents.DocumentFilesView.as_view()),
    path(f"{PROJECT}/documents/<int:document_id>/file/<str:ending>", documents.DocumentFileView.as_view()),
    path(f"{PROJECT}/lists/<str:what>/<str:ending>", lists.ListFileView.as_view()),
    path(f"{PROJECT}/digests", exhibits.DigestsView.as_view()),
    path(f"{PROJECT}/memos", memos.MemosView.as_view()),
    path(f"{PROJECT}/memos/file/<str:ending>", memos.MemosFileView.as_view()),
    path(f"{PROJECT}/memos/kinds", memos.MemoKindsView.as_view()),
    path(f"{PROJECT}/memos/kinds/<int:kind_id>", memos.MemoKindView.as_view()),
    path(f"{PROJECT}/memos/<int:memo_id>", memos.MemoView.as_view()),
    path(f"{PROJECT}/memos/<int:memo_id>/document", memos.MemoDocumentView.as_view()),
]
