from django.urls import path, register_converter
from django.urls.converters import IntConverter

from server.coding import api

PROJECT = "projects/<int:project_id>"


class PinKey(IntConverter):
    """One of the keys 1 to 9."""

    regex = "[1-9]"


register_converter(PinKey, "pin_key")
urlpatterns = [
    path(f"{PROJECT}/codebook", api.CodebookView.as_view()),
    path(f"{PROJECT}/codes/<int:code_id>", api.CodeView.as_view()),
    path(f"{PROJECT}/pins/<pin_key:key>", api.PinView.as_view()),
    path(f"{PROJECT}/documents/<int:document_id>/passages", api.PassagesView.as_view()),
    path(f"{PROJECT}/codings/<int:coding_id>", api.CodingView.as_view()),
]
