"""Doing a write once, however often it is sent: the key comes with the request (header Idempotency-Key)."""

from collections.abc import Callable
from datetime import datetime, timedelta

from django.db import transaction
from django.http import HttpRequest

from keencoat.core.errors import BadValueError, NotAllowedError
from keencoat.shop.models import Deed, Workshop

_LONGEST = 64
KEPT = timedelta(days=7)
"""Nobody sends a request again after so long."""


def key_of(request: HttpRequest) -> str:
    """The key that a request carries; empty for none. Raises BadValueError for one that is too long."""
    key = request.headers.get("Idempotency-Key", "")
    if len(key) > _LONGEST or not key.isprintable():
        raise BadValueError(
            f"The Idempotency-Key has more than {_LONGEST} characters, or odd ones.", hint="Send a UUID, or none."
        )
    return key


@transaction.atomic
def do_once(workshop: Workshop, key: str, what: str, act: Callable[[], int]) -> int:
    """Do it and give the id of its row, or the id from when the same key did it before.

    Of two requests at the same time the second waits for the first. Raises NotAllowedError for a key of another kind.
    """
    if not key:
        return act()
    deed, is_new = Deed.objects.get_or_create(workshop=workshop, key=key, defaults={"what": what})
    if is_new:
        deed.row_id = act()
        deed.save(update_fields=["row_id"])
    if deed.what != what or deed.row_id is None:
        raise NotAllowedError("This Idempotency-Key was used for something else.", hint="Send a fresh one.")
    return deed.row_id


def forget_deeds(at: datetime) -> int:
    """Forget keys that nobody will send again; return how many."""
    return Deed.objects.filter(at__lt=at - KEPT).delete()[0]
