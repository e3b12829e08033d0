"""Errors as problem responses (RFC 9457): what, where (`field`), what instead (`hint`). The one mapping."""

from http import HTTPStatus
from typing import Any

from django.core.exceptions import RequestDataTooBig
from django.http import Http404, HttpRequest, HttpResponse
from ninja import NinjaAPI
from ninja.errors import AuthenticationError, HttpError, ValidationError

from keencoat.core.errors import KeenCoatError, MissingError, NotAllowedError, StaleError

_STATUS: dict[type[KeenCoatError], HTTPStatus] = {
    MissingError: HTTPStatus.NOT_FOUND,
    StaleError: HTTPStatus.CONFLICT,
    NotAllowedError: HTTPStatus.CONFLICT,
}


def handle_problems(api: NinjaAPI) -> None:
    """Register the handlers that turn errors into problem responses."""

    def problem(
        request: HttpRequest, status: int, detail: str, *, field: str = "", hint: str = "", kind: str = ""
    ) -> HttpResponse:
        body: dict[str, Any] = {
            "type": f"/problems/{kind}" if kind else "about:blank",
            "title": HTTPStatus(status).phrase,
            "status": status,
            "detail": detail,
            "field": field,
            "hint": hint,
        }
        response = api.create_response(request, body, status=status)
        response.headers["Content-Type"] = "application/problem+json"
        return response

    @api.exception_handler(KeenCoatError)
    def of_core(request: HttpRequest, error: KeenCoatError) -> HttpResponse:
        status = _STATUS.get(type(error), HTTPStatus.UNPROCESSABLE_ENTITY)
        kind = type(error).__name__.removesuffix("Error").lower()
        return problem(request, status, error.message, field=error.field, hint=error.hint, kind=kind)

    @api.exception_handler(ValidationError)
    def of_schema(request: HttpRequest, error: ValidationError) -> HttpResponse:
        first = error.errors[0]
        # It starts with where it was sent (body, query …); in a body our own parameter's name comes next.
        sent, *path = (str(p) for p in first["loc"])
        if sent == "body":
            path = path[1:]
        return problem(
            request, 422, f"{'.'.join(path) or 'The request'}: {first['msg']}.", field=".".join(path),
            hint="See /api/docs for what belongs there.", kind="badvalue",
        )  # fmt: skip

    @api.exception_handler(AuthenticationError)
    def of_sign_in(request: HttpRequest, error: AuthenticationError) -> HttpResponse:
        return problem(request, 401, "You are not signed in.", hint="Sign in and try again.", kind="signin")

    @api.exception_handler(Http404)
    def of_nothing(request: HttpRequest, error: Http404) -> HttpResponse:
        return problem(request, 404, "There is nothing here.", kind="missing")

    @api.exception_handler(RequestDataTooBig)
    def of_size(request: HttpRequest, error: RequestDataTooBig) -> HttpResponse:
        return problem(request, 413, "That is too much data.", hint="Send less than 2 MB.", kind="toobig")

    @api.exception_handler(HttpError)
    def of_http(request: HttpRequest, error: HttpError) -> HttpResponse:
        hint = "Send a JSON object, see /api/docs." if error.status_code == HTTPStatus.BAD_REQUEST else ""
        return problem(request, error.status_code, str(error), hint=hint)
