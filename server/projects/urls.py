from django.urls import path

from server.projects import api

urlpatterns = [
    path("jobs/<int:job_id>", api.OwnJobView.as_view()),
    path("projects", api.ProjectsView.as_view()),
    path("projects/<int:project_id>", api.OneProjectView.as_view()),
    path("projects/<int:project_id>/members", api.MembersView.as_view()),
    path("projects/<int:project_id>/members/<int:membership_id>", api.MemberView.as_view()),
    path("projects/<int:project_id>/pulse", api.PulseView.as_view()),
    path("projects/<int:project_id>/trail", api.TrailView.as_view()),
    path("projects/<int:project_id>/undo", api.UndoView.as_view()),
    path("projects/<int:project_id>/redo", api.RedoView.as_view()),
    path("projects/<int:project_id>/jobs/<int:job_id>", api.JobView.as_view()),
]
