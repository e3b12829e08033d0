"""Writes: whole or not at all, and once however often they are sent."""

from collections.abc import Callable
from http import HTTPStatus

from django.core.exceptions import RequestDataTooBig
from django.db import transaction
from django.http import HttpRequest, HttpResponse

from keencoat.core.errors import KeenCoatError
from keencoat.shop.access import workshop_of
from keencoat.shop.once import KEY_HEADER, Answered, do_once, key_of
from keencoat.site.api import api
from keencoat.site.problems import problem_of_refusal, problem_of_status, problem_response

_DONE = (HTTPStatus.OK, HTTPStatus.CREATED, HTTPStatus.NO_CONTENT)
_JSON = "application/json; charset=utf-8"


class _RefusedError(Exception):
    """Takes a transaction back, and carries the answer out of it."""

    def __init__(self, response: HttpResponse) -> None:
        super().__init__(response.status_code)
        self.response = response


def whole_writes(get_response: Callable[[HttpRequest], HttpResponse]) -> Callable[[HttpRequest], HttpResponse]:
    """Let an operation that changes something leave nothing behind where it was refused, and be done once by its
    key."""

    def respond(request: HttpRequest) -> HttpResponse:
        operation = None if request.method == "GET" else api.operation_at(request.method or "", request.path)
        # Whoever may not come in is told so by the operation itself.
        if operation is None or not operation.writes or not request.user.is_authenticated:
            return get_response(request)
        try:
            key, workshop = key_of(request), workshop_of(request)
        except KeenCoatError as error:
            return problem_of_refusal(error)
        if operation.needs_key and not key:
            return problem_response(
                HTTPStatus.BAD_REQUEST,
                f"This needs the header {KEY_HEADER}.",
                field=KEY_HEADER,
                hint="Send a UUID, and the same one where you send the same request again.",
            )

        def act() -> Answered:
            response = get_response(request)
            if response.status_code not in _DONE:
                raise _RefusedError(response)
            return Answered(response.status_code, response.content)

        try:
            with transaction.atomic():
                answered = do_once(workshop, request, key, act) if key else act()
        except _RefusedError as refused:
            return refused.response
        except KeenCoatError as error:
            return problem_of_refusal(error)
        except RequestDataTooBig:
            return problem_of_status(HTTPStatus.REQUEST_ENTITY_TOO_LARGE)
        return HttpResponse(answered.body, status=answered.status, content_type=_JSON)

    return respond
