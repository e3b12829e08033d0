"""Who may see what: everything is asked for through the workshop of the signed-in member."""

from typing import TypeVar

from django.db.models import Model, Q, QuerySet
from django.http import HttpRequest

from keencoat.core.errors import MissingError, NotAllowedError, StaleError
from keencoat.shop.models import Membership, Workshop

M = TypeVar("M", bound=Model)


def member_of(request: HttpRequest) -> Membership:
    """The signed-in person's membership; raises NotAllowedError for an account without a workshop."""
    known: Membership | None = getattr(request, "keencoat_member", None)
    if known is not None:
        return known
    try:
        membership = Membership.objects.select_related("workshop").get(user=request.user.pk)
    except Membership.DoesNotExist as error:
        raise NotAllowedError(
            "This account belongs to no workshop.", hint="Ask whoever runs the server to add it to one."
        ) from error
    request.keencoat_member = membership  # type: ignore[attr-defined]
    return membership


def workshop_of(request: HttpRequest) -> Workshop:
    """The workshop of the signed-in member."""
    return member_of(request).workshop


def within_reach(workshop: Workshop, path: str = "workshop") -> Q:
    """What its members may open by id: the workshop's own, and that of its practice bench. Lists and sums never use
    this: they ask for one workshop."""
    return Q(**{path: workshop}) | Q(**{f"{path}__practice_of": workshop})


def find_one(rows: QuerySet[M], what: str, **where: object) -> M:
    """The one row; raises MissingError. `rows` must already be narrowed to the workshop."""
    found = rows.filter(**where).first()
    if found is None:
        raise MissingError(f"There is no such {what} in your workshop.", hint="It may have been removed.")
    return found


def require_version(row: Model, seen: int, what: str) -> None:
    """Raise StaleError unless the row still is as the caller saw it. Call with the row locked."""
    now = row.version  # type: ignore[attr-defined]
    if now != seen:
        raise StaleError(
            f"This {what} was changed elsewhere since you opened it; nothing was overwritten.",
            field="version",
            hint="Reload to see the change, then make yours again.",
        )
