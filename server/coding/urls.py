from django.urls import path

from server.coding.api import answers, codes, desk, finding, passages, texts, themes, typing

PROJECT = "projects/<int:project_id>"
DOCUMENT = f"{PROJECT}/documents/<int:document_id>"
TURN = f"{DOCUMENT}/turns/<int:number>"
urlpatterns = [
    path(DOCUMENT, desk.DocumentView.as_view()),
    path(f"{TURN}/text", texts.TurnTextView.as_view()),
    path(f"{DOCUMENT}/turns", typing.TurnsView.as_view()),
    path(f"{DOCUMENT}/turns/laid", typing.LaidTurnsView.as_view()),
    path(TURN, typing.TurnView.as_view()),
    path(f"{TURN}/split-at", typing.SplitAtView.as_view()),
    path(f"{DOCUMENT}/text", typing.TextView.as_view()),
    path(f"{DOCUMENT}/text/preview", typing.TextPreviewView.as_view()),
    path(f"{DOCUMENT}/transcribe", typing.TranscribeView.as_view()),
    path(f"{PROJECT}/transcriber", typing.TranscriberView.as_view()),
    path(f"{PROJECT}/replace", texts.ReplaceView.as_view()),
    path(f"{PROJECT}/replace/preview", texts.ReplacePreviewView.as_view()),
    path(f"{PROJECT}/names", texts.NamesView.as_view()),
    path(f"{PROJECT}/names/anonymise", texts.AnonymiseView.as_view()),
    path(f"{PROJECT}/names/preview", texts.AnonymisePreviewView.as_view()),
    path(f"{PROJECT}/codebook", codes.CodebookView.as_view()),
    path(f"{PROJECT}/codebook/file", codes.CodebookInView.as_view()),
    path(f"{PROJECT}/codebook/file/<str:ending>", codes.CodebookFileView.as_view()),
    path(f"{PROJECT}/codebook/counts", codes.CodeCountsView.as_view()),
    path(f"{PROJECT}/codebook/look", codes.WantsALookView.as_view()),
    path(f"{PROJECT}/codes/<int:code_id>", codes.CodeView.as_view()),
    path(f"{PROJECT}/codes/<int:code_id>/merge", codes.MergeView.as_view()),
    path(f"{PROJECT}/codes/<int:code_id>/split", codes.SplitView.as_view()),
    path(f"{PROJECT}/codes/<int:code_id>/passages", themes.CodeReadingView.as_view()),
    path(f"{PROJECT}/pins/<int:key>", codes.PinView.as_view()),
    path(f"{PROJECT}/documents/<int:document_id>/passages", passages.PassagesView.as_view()),
    path(f"{PROJECT}/documents/<int:document_id>/proposed", passages.ProposedView.as_view()),
    path(f"{PROJECT}/passages/<int:passage_id>", passages.PassageView.as_view()),
    path(f"{PROJECT}/codings/<int:coding_id>", passages.CodingView.as_view()),
    path(f"{PROJECT}/themes", themes.ThemesView.as_view()),
    path(f"{PROJECT}/themes/counts", themes.ThemeCountsView.as_view()),
    path(f"{PROJECT}/themes/<int:theme_id>", themes.ThemeView.as_view()),
    path(f"{PROJECT}/themes/<int:theme_id>/passages", themes.ThemeReadingView.as_view()),
    path(f"{PROJECT}/questions", themes.QuestionsView.as_view()),
    path(f"{PROJECT}/questions/<int:question_id>", themes.QuestionView.as_view()),
    path(f"{PROJECT}/answers", answers.AnswersView.as_view()),
    path(f"{PROJECT}/words", finding.WordsView.as_view()),
    path(f"{PROJECT}/passages/<int:passage_id>/like", finding.LikeView.as_view()),
    path(f"{PROJECT}/find", finding.FindView.as_view()),
]
