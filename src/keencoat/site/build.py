"""Which interface this server has, so that a page which is older says so."""

from collections.abc import Callable
from hashlib import sha256
from pathlib import Path

from django.conf import settings
from django.http import HttpRequest, HttpResponse

BUILD_HEADER = "Keencoat-Build"


def build_mark(index: Path) -> str:
    """A mark of the built interface: its page names every part by what is in it. Empty where none is built."""
    return sha256(index.read_bytes()).hexdigest()[:16] if index.exists() else ""


def name_build(get_response: Callable[[HttpRequest], HttpResponse]) -> Callable[[HttpRequest], HttpResponse]:
    """Name the interface in every answer of the API."""
    mark = build_mark(settings.WEB_DIST / "index.html")

    def respond(request: HttpRequest) -> HttpResponse:
        response = get_response(request)
        if request.path.startswith("/api/") and mark:
            response.headers[BUILD_HEADER] = mark
        return response

    return respond
