"""Addresses: the API, the admin, and the one page that holds the interface."""

import json
import sys
from pathlib import Path

from django.conf import settings
from django.contrib import admin
from django.http import HttpRequest, HttpResponse, JsonResponse
from django.urls import path, re_path
from django.views.decorators.csrf import ensure_csrf_cookie

from keencoat.site.api import api
from keencoat.site.problems import problem_of_crash


@ensure_csrf_cookie
def page(request: HttpRequest) -> HttpResponse:
    """The interface; its own router reads the address."""
    index = Path(settings.WEB_DIST) / "index.html"
    if not index.exists():
        return HttpResponse("The front end is not built. Run script/server.", status=503, content_type="text/plain")
    return HttpResponse(index.read_bytes(), headers={"Cache-Control": "no-cache"})


def no_such_api(request: HttpRequest) -> JsonResponse:
    """An API address that does not exist answers as a problem, not as the interface."""
    body = {
        "type": "/problems/missing",
        "title": "Not Found",
        "status": 404,
        "detail": "No such API address.",
        "field": "",
        "hint": "See /api/docs.",
    }
    return JsonResponse(body, status=404, content_type="application/problem+json")


def crashed(request: HttpRequest) -> HttpResponse:
    """What Django could not answer: in the API a problem with its number in the log, else a page that says so."""
    error = sys.exc_info()[1]
    answer = problem_of_crash(error if isinstance(error, Exception) else RuntimeError("no error is at hand"))
    if request.path.startswith("/api/"):
        return answer
    words = json.loads(answer.content)
    return HttpResponse(
        f"{words['detail']} {words['hint']}",
        status=answer.status_code,
        content_type="text/plain; charset=utf-8",
        headers={"Retry-After": answer.headers.get("Retry-After", "5")},
    )


handler500 = crashed

urlpatterns = [
    path("admin/", admin.site.urls),
    path("api/", api.urls),
    re_path(r"^api/", no_such_api),
    re_path(r"^(?!static/).*$", page),
]
