from django.urls import path

from server.shell import api

urlpatterns = [
    path("backups", api.BackupsView.as_view()),
    path("account/close", api.CloseAccountView.as_view()),
    path("project-files", api.ProjectFilesView.as_view()),
    path("project-files/<int:arrived_id>", api.OneProjectFileView.as_view()),
    path("project-files/<int:arrived_id>/bring-in", api.BringInProjectView.as_view()),
    path("projects/<int:project_id>/status", api.StatusView.as_view()),
    path("projects/<int:project_id>/file", api.ProjectFileView.as_view()),
    path("projects/<int:project_id>/forget", api.ForgetView.as_view()),
    path("projects/<int:project_id>/held/<int:case_id>", api.HeldView.as_view()),
    path("projects/<int:project_id>/delete", api.DeleteProjectView.as_view()),
]
