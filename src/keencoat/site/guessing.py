"""Wrong passwords: who sends too many waits, and nobody else does."""

from collections.abc import Callable
from datetime import timedelta
from http import HTTPStatus

from axes.models import AccessAttempt
from django.conf import settings
from django.db.models import Max, Sum
from django.http import HttpRequest, HttpResponse
from django.utils import timezone

from keencoat.site.problems import problem_response

MANY = 30
"""So many wrong passwords from one address within the time that a lock lasts are no slips of the hand."""

PACE = timedelta(seconds=2)
"""One try in so long is let through from such an address, whoever makes it."""

_SIGNS_IN = ("/api/session", "/admin/login/")


def slow_guessing(get_response: Callable[[HttpRequest], HttpResponse]) -> Callable[[HttpRequest], HttpResponse]:
    """Let an address from which many wrong passwords came try only now and then."""

    def respond(request: HttpRequest) -> HttpResponse:
        if request.method == "POST" and request.path in _SIGNS_IN and _is_guessing(request.META.get("REMOTE_ADDR", "")):
            answer = _refused(
                request,
                "Many wrong passwords came from this address.",
                f"Try again in {PACE.seconds} seconds; it may take a few tries.",
            )
            answer.headers["Retry-After"] = str(PACE.seconds)
            return answer
        return get_response(request)

    return respond


def locked_out(request: HttpRequest, response: HttpResponse | None, credentials: object) -> HttpResponse:
    """What is said instead of an answer to a name and an address that wait."""
    minutes = settings.AXES_COOLOFF_TIME.seconds // 60
    return _refused(
        request,
        "Too many wrong passwords for this name from this address.",
        f"Wait {minutes} minutes, or have whoever runs the server do “script/account --unlock” with this name.",
    )


def _is_guessing(address: str) -> bool:
    now = timezone.now()
    tries = AccessAttempt.objects.filter(ip_address=address, attempt_time__gt=now - settings.AXES_COOLOFF_TIME)
    told = tries.aggregate(wrong=Sum("failures_since_start"), last=Max("attempt_time"))
    return (told["wrong"] or 0) >= MANY and told["last"] > now - PACE


def _refused(request: HttpRequest, detail: str, hint: str) -> HttpResponse:
    if request.path.startswith("/api/"):
        return problem_response(HTTPStatus.TOO_MANY_REQUESTS, detail, field="password", hint=hint, kind="toooften")
    return HttpResponse(f"{detail} {hint}", status=429, content_type="text/plain; charset=utf-8")
