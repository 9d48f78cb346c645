from django.urls import path

from server.shell import api

urlpatterns = [
    path("backups", api.BackupsView.as_view()),
    path("projects/<int:project_id>/delete", api.DeleteProjectView.as_view()),
]
