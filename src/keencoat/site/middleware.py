"""Headers that Django does not set by itself."""

from collections.abc import Callable
from http import HTTPStatus

from django.http import HttpRequest, HttpResponse

from keencoat.shop.kept import keep_answer
from keencoat.site.problems import problem_of_status

POLICY = (
    "default-src 'self'; img-src 'self' data: blob:; style-src 'self' 'unsafe-inline'; "
    "object-src 'none'; base-uri 'self'; form-action 'self'; frame-ancestors 'none'"
)


def content_policy(get_response: Callable[[HttpRequest], HttpResponse]) -> Callable[[HttpRequest], HttpResponse]:
    """Let pages load from this server only."""

    def respond(request: HttpRequest) -> HttpResponse:
        response = get_response(request)
        response.headers.setdefault("Content-Security-Policy", POLICY)
        return response

    return respond


def keep_answers(get_response: Callable[[HttpRequest], HttpResponse]) -> Callable[[HttpRequest], HttpResponse]:
    """Keep answers whose handlers say until when they hold."""

    def respond(request: HttpRequest) -> HttpResponse:
        response = get_response(request)
        keep_answer(request, response)
        return response

    return respond


def api_problems(get_response: Callable[[HttpRequest], HttpResponse]) -> Callable[[HttpRequest], HttpResponse]:
    """Answer under /api with problem responses, wherever it was refused: a form that is torn, a token that is missing,
    a method that is not there."""

    def respond(request: HttpRequest) -> HttpResponse:
        response = get_response(request)
        ours = "json" in response.headers.get("Content-Type", "")
        if request.path.startswith("/api/") and response.status_code >= HTTPStatus.BAD_REQUEST and not ours:
            return problem_of_status(response.status_code)
        return response

    return respond
