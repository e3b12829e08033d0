"""Doing a write once, however often it is sent: the key comes with the request (header Idempotency-Key)."""

import zlib
from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime, timedelta

from django.http import HttpRequest
from django.utils.crypto import salted_hmac

from keencoat.core.errors import BadValueError, NotAllowedError
from keencoat.shop.models import Deed, Workshop

KEY_HEADER = "Idempotency-Key"
LONGEST_KEY = 64
KEPT = timedelta(days=7)
"""Nobody sends a request again after so long."""


@dataclass(frozen=True)
class Answered:
    """What a write was answered with: an HTTP status and its JSON."""

    status: int
    body: bytes


def key_of(request: HttpRequest) -> str:
    """The key that a request carries; empty for none. Raises BadValueError for one that is too long."""
    key = request.headers.get(KEY_HEADER, "")
    if len(key) > LONGEST_KEY or not key.isprintable():
        raise BadValueError(
            f"The {KEY_HEADER} has more than {LONGEST_KEY} characters, or odd ones.",
            field=KEY_HEADER,
            hint="Send a UUID.",
        )
    return key


def do_once(workshop: Workshop, request: HttpRequest, key: str, act: Callable[[], Answered]) -> Answered:
    """Do it and give its answer, or the answer from when the same key did it before. Call within a transaction.

    Of two requests at the same time the second waits for the first. Raises NotAllowedError for a key that came with
    another request.
    """
    asked = _mark_of(request)
    deed, is_new = Deed.objects.get_or_create(workshop=workshop, key=key, defaults={"asked": asked})
    if deed.asked != asked:
        raise NotAllowedError(
            f"This {KEY_HEADER} came with another request.", field=KEY_HEADER, hint="Send a fresh one."
        )
    if not is_new:
        return Answered(deed.status, zlib.decompress(deed.answer))
    answered = act()
    deed.status, deed.answer = answered.status, zlib.compress(answered.body)
    deed.save(update_fields=["status", "answer"])
    return answered


def _mark_of(request: HttpRequest) -> str:
    """What tells this request from others; of a form, which may be large, only its length."""
    is_form = "form" in request.headers.get("Content-Type", "")
    body = request.headers.get("Content-Length", "").encode() if is_form else request.body
    said = f"{request.method} {request.get_full_path()} ".encode() + body
    # Under the server's own key: a body may hold a password, and who reads the database must not try them out.
    return salted_hmac(__name__, said, algorithm="sha256").hexdigest()


def forget_deeds(at: datetime) -> int:
    """Forget keys that nobody will send again; return how many."""
    return Deed.objects.filter(at__lt=at - KEPT).delete()[0]
