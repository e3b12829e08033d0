"""Errors as problem responses (RFC 9457): what, where (`field`), what instead (`hint`). The one mapping."""

import json
import logging
import uuid
from http import HTTPStatus
from typing import Any

from django.conf import settings
from django.core.exceptions import RequestDataTooBig
from django.db import InterfaceError, OperationalError
from django.http import Http404, HttpRequest, HttpResponse, RawPostDataException, UnreadablePostError
from django.http.multipartparser import MultiPartParserError
from ninja import NinjaAPI
from ninja.errors import AuthenticationError, HttpError, ValidationError

from keencoat.core.errors import (
    BusyError,
    KeenCoatError,
    MissingError,
    NotAllowedError,
    NotYetError,
    StaleError,
)
from keencoat.core.stored import StoredShapeError
from keencoat.site.refusals import refusal

_LOG = logging.getLogger(__name__)
_AWAY_S, _NOT_YET_S = 5, 1
_USUAL_BYTES = settings.DATA_UPLOAD_MAX_MEMORY_SIZE


def in_megabytes(size_bytes: int) -> str:
    """A size as people say it: rounded down, so that it may be kept to."""
    return f"{size_bytes // 100_000 / 10:g} MB"


_WORDS = {
    HTTPStatus.BAD_REQUEST: ("This request cannot be read.", "Send it as /api/docs says."),
    HTTPStatus.FORBIDDEN: ("This request does not come from our own pages.", "Reload the page and try again."),
    HTTPStatus.METHOD_NOT_ALLOWED: ("This address does not do that.", "See /api/docs."),
    HTTPStatus.REQUEST_ENTITY_TOO_LARGE: ("That is too much data.", f"Send less than {in_megabytes(_USUAL_BYTES)}."),
    HTTPStatus.SERVICE_UNAVAILABLE: (
        "The database is away for a moment.",
        "What you typed is kept; it is tried again.",
    ),
}

_STATUS: dict[type[KeenCoatError], HTTPStatus] = {
    MissingError: HTTPStatus.NOT_FOUND,
    StaleError: HTTPStatus.CONFLICT,
    NotAllowedError: HTTPStatus.CONFLICT,
    BusyError: HTTPStatus.SERVICE_UNAVAILABLE,
    NotYetError: HTTPStatus.ACCEPTED,
    StoredShapeError: HTTPStatus.CONFLICT,
}


def problem_response(
    status: int, detail: str, *, field: str = "", hint: str = "", kind: str = "", number: str = ""
) -> HttpResponse:
    """A problem response (RFC 9457); `number` is what the log calls it by."""
    body: dict[str, Any] = {
        "type": f"/problems/{kind}" if kind else "about:blank",
        "title": HTTPStatus(status).phrase,
        "status": status,
        "detail": detail,
        "field": field,
        "hint": hint,
    }
    if number:
        body["instance"] = f"/problems/{number}"
    response = HttpResponse(json.dumps(body), status=status, content_type="application/problem+json")
    if status == HTTPStatus.SERVICE_UNAVAILABLE:
        response.headers["Retry-After"] = str(_AWAY_S)
    return response


def problem_of_crash(error: Exception) -> HttpResponse:
    """What is said of an error that nobody foresaw: its number, under which the log has all of it."""
    if isinstance(error, OperationalError | InterfaceError):
        _LOG.warning("The database is away: %s", str(error).split("\n")[0])
        return problem_of_status(HTTPStatus.SERVICE_UNAVAILABLE)
    # Raised where a handler first reads the body, so not for Django to catch.
    if isinstance(error, MultiPartParserError | UnreadablePostError):
        return problem_of_status(HTTPStatus.BAD_REQUEST)
    if isinstance(error, RawPostDataException):
        # Who looks for the token in a form has read it before the handler asks for the body.
        return problem_of_status(HTTPStatus.BAD_REQUEST, "Send a JSON object, not a form; see /api/docs.")
    number = uuid.uuid4().hex[:12]
    _LOG.error("Problem %s", number, exc_info=error)
    return problem_response(
        500,
        f"Something went wrong on our side; the log has it as {number}.",
        kind="ours",
        number=number,
        hint="Nothing was changed. Try again; if it stays, tell whoever runs the server this number.",
    )


def problem_of_status(status: int, instead: str = "") -> HttpResponse:
    """A problem response for what Django itself refuses, in our words; `instead` is a better hint than the usual."""
    detail, hint = _WORDS.get(HTTPStatus(status), (HTTPStatus(status).phrase + ".", "See /api/docs."))
    return problem_response(status, detail, hint=instead or hint)


def problem_of_refusal(error: KeenCoatError) -> HttpResponse:
    """A problem response for what the rules of the work refuse."""
    status = _STATUS.get(type(error), HTTPStatus.UNPROCESSABLE_ENTITY)
    kind = type(error).__name__.removesuffix("Error").lower()
    response = problem_response(status, error.message, field=error.field, hint=error.hint, kind=kind)
    if isinstance(error, NotYetError):
        response.headers["Retry-After"] = str(_NOT_YET_S)
    return response


def handle_problems(api: NinjaAPI) -> None:
    """Register the handlers that turn errors into problem responses."""

    @api.exception_handler(KeenCoatError)
    def of_core(request: HttpRequest, error: KeenCoatError) -> HttpResponse:
        return problem_of_refusal(error)

    @api.exception_handler(ValidationError)
    def of_schema(request: HttpRequest, error: ValidationError) -> HttpResponse:
        field, detail, hint = refusal(error.errors[0])
        return problem_response(422, detail, field=field, hint=hint, kind="badvalue")

    @api.exception_handler(AuthenticationError)
    def of_sign_in(request: HttpRequest, error: AuthenticationError) -> HttpResponse:
        return problem_response(401, "You are not signed in.", hint="Sign in and try again.", kind="signin")

    @api.exception_handler(Exception)
    def of_crash(request: HttpRequest, error: Exception) -> HttpResponse:
        return problem_of_crash(error)

    @api.exception_handler(Http404)
    def of_nothing(request: HttpRequest, error: Http404) -> HttpResponse:
        return problem_response(404, "There is nothing here.", kind="missing")

    @api.exception_handler(RequestDataTooBig)
    def of_size(request: HttpRequest, error: RequestDataTooBig) -> HttpResponse:
        return problem_of_status(HTTPStatus.REQUEST_ENTITY_TOO_LARGE)

    @api.exception_handler(HttpError)
    def of_http(request: HttpRequest, error: HttpError) -> HttpResponse:
        hint = "Send a JSON object, see /api/docs." if error.status_code == HTTPStatus.BAD_REQUEST else ""
        return problem_response(error.status_code, str(error), hint=hint)
