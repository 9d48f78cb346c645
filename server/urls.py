"""All routes: the API, its schema, and the web application for everything else."""

from django.conf import settings
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.urls import include, path, re_path
from django.views.decorators.csrf import ensure_csrf_cookie

from core.language import spoken
from server.shell import documentation, heads, health
from server.shell.metrics import metrics

handler400 = "server.common.trouble.misread"
handler500 = "server.common.trouble.failed"


@ensure_csrf_cookie
def web_application(request: HttpRequest) -> HttpResponse:
    # Each language's page loads its words before all else.
    page = settings.WEB / f"index.{spoken().language}.html"
    if not page.exists():
        page = settings.WEB / "index.html"
    if not page.exists():
        return HttpResponse(
            "The web application isn’t built yet: run bin/demo.", status=503, content_type="text/plain; charset=utf-8"
        )
    said = page.read_text("utf-8").replace("</head>", f"{heads.head_of(request)}</head>", 1)
    response = HttpResponse(said, content_type="text/html; charset=utf-8")
    # It says who is there.
    response["Cache-Control"] = "no-store"
    return response


def no_such_route(request: HttpRequest) -> JsonResponse:
    return JsonResponse({"error": "There is no such address in the API."}, status=404)


urlpatterns = [
    path("api/health", health.live),
    path("api/health/ready", health.ready),
    path("api/metrics", metrics),
    path("api/schema", documentation.SchemaView.as_view()),
    path("api/docs", documentation.PageView.as_view()),
    *[
        path("api/", include(f"server.{room}.urls"))
        for room in ("projects", "accounts", "gather", "people", "coding", "imports", "compare", "report", "shell")
    ],
    re_path(r"^api/", no_such_route),
    re_path(r"^(?!static/).*$", web_application),
]
