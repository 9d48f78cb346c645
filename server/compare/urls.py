from django.urls import path

from server.compare.api import comparing, forms, frozen, kept, searches, together

PROJECT = "projects/<int:project_id>"
urlpatterns = [
    path(f"{PROJECT}/compare", comparing.CompareView.as_view()),
    path(f"{PROJECT}/compare/stands-out", comparing.StandsOutView.as_view()),
    path(f"{PROJECT}/compare/evidence", comparing.EvidenceView.as_view()),
    path(f"{PROJECT}/compare/evidence/around", comparing.AroundView.as_view()),
    path(f"{PROJECT}/compare/export", comparing.ExportView.as_view()),
    path(f"{PROJECT}/compare/map", forms.MapView.as_view()),
    path(f"{PROJECT}/compare/persons", forms.PersonsView.as_view()),
    path(f"{PROJECT}/compare/spread", forms.SpreadView.as_view()),
    path(f"{PROJECT}/compare/holdings", forms.HoldingsView.as_view()),
    path(f"{PROJECT}/compare/holdings/export", forms.HoldingsExportView.as_view()),
    path(f"{PROJECT}/compare/progress", forms.ProgressView.as_view()),
    path(f"{PROJECT}/compare/progress/export", forms.ProgressExportView.as_view()),
    path(f"{PROJECT}/compare/together", together.TogetherView.as_view()),
    path(f"{PROJECT}/compare/together/export", together.TogetherExportView.as_view()),
    path(f"{PROJECT}/compare/together/meetings", together.MeetingsView.as_view()),
    path(f"{PROJECT}/compare/kept", kept.KeptView.as_view()),
    path(f"{PROJECT}/compare/kept/<int:kept_id>", kept.OneKeptView.as_view()),
    path(f"{PROJECT}/compare/kept/<int:kept_id>/notes", kept.NotesView.as_view()),
    path(f"{PROJECT}/compare/kept/<int:kept_id>/notes/<int:note_id>", kept.OneNoteView.as_view()),
    path(f"{PROJECT}/compare/frozen", frozen.FrozenView.as_view()),
    path(f"{PROJECT}/compare/frozen/<int:frozen_id>", frozen.OneFrozenView.as_view()),
    path(f"{PROJECT}/compare/frozen/<int:frozen_id>/cell", frozen.FrozenCellView.as_view()),
    path(f"{PROJECT}/compare/frozen/<int:frozen_id>/found", frozen.OneFrozenPassagesView.as_view()),
    path(f"{PROJECT}/compare/frozen/<int:frozen_id>/file/<str:ending>", frozen.FrozenExportView.as_view()),
    path(f"{PROJECT}/compare/frozen/passages", frozen.FrozenPassagesView.as_view()),
    path(f"{PROJECT}/compare/search/export", searches.SearchExportView.as_view()),
    path(f"{PROJECT}/compare/search", searches.SearchView.as_view()),
    path(f"{PROJECT}/compare/queries", searches.QueriesView.as_view()),
    path(f"{PROJECT}/compare/queries/<int:query_id>", searches.OneQueryView.as_view()),
    path(f"{PROJECT}/compare/scopes", searches.ScopesView.as_view()),
    path(f"{PROJECT}/compare/scopes/count", searches.ScopeCountsView.as_view()),
    path(f"{PROJECT}/compare/scopes/<int:scope_id>", searches.OneScopeView.as_view()),
]
