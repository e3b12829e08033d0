"""Signing in and out with Django's accounts and sessions."""

from django.conf import settings
from django.contrib.auth import authenticate, login, logout, update_session_auth_hash
from django.contrib.auth.password_validation import validate_password
from django.core.exceptions import ValidationError
from django.http import HttpRequest
from django.middleware.csrf import get_token
from ninja import Router
from ninja.errors import HttpError
from ninja.utils import check_csrf
from pydantic import Field

from keencoat.core.errors import BadValueError
from keencoat.core.quantities import UNITS, Quantity
from keencoat.shop.access import member_of
from keencoat.shop.demo_account import DEMO_PASSWORD, DEMO_USER
from keencoat.shop.fields import Asked, Shown
from keencoat.shop.services import set_units

router = Router(tags=["session"])


class Demo(Shown):
    """The demo account that the sign-in page fills in."""

    user: str
    password: str


class Session(Shown):
    """Who is signed in, if anybody; `demo` only on a demo server."""

    signed_in: bool
    user: str = ""
    workshop: str = ""
    owner: bool = False
    speed_unit: str = "mm_s"
    interval_unit: str = "mm"
    version: int = 0
    demo: Demo | None = None


class SignIn(Asked):
    """An account's name and password."""

    user: str = Field(max_length=150)
    password: str = Field(max_length=200)


class PasswordIn(Asked):
    """The password that was, and the one that shall be."""

    old: str = Field(max_length=200)
    new: str = Field(max_length=200)


class Units(Asked):
    """The units that a member likes to read."""

    speed_unit: str = Field(max_length=12)
    interval_unit: str = Field(max_length=12)
    version: int


def _session(request: HttpRequest) -> Session:
    demo = Demo(user=DEMO_USER, password=DEMO_PASSWORD) if settings.DEMO else None
    if not request.user.is_authenticated:
        return Session(signed_in=False, demo=demo)
    membership = member_of(request)
    return Session(
        signed_in=True,
        user=request.user.get_username(),
        workshop=membership.workshop.name,
        owner=membership.owner,
        speed_unit=membership.speed_unit,
        interval_unit=membership.interval_unit,
        version=membership.version,
        demo=demo,
    )


@router.get("/session", response=Session, auth=None)
def read_session(request: HttpRequest) -> Session:
    """Who is signed in; also sets the CSRF cookie that writes need."""
    get_token(request)
    return _session(request)


@router.post("/session", response=Session, auth=None)
def sign_in(request: HttpRequest, payload: SignIn) -> Session:
    """Sign in."""
    if check_csrf(request) is not None:
        raise HttpError(403, "This sign-in does not come from our own page; reload it and try again.")
    user = authenticate(request, username=payload.user, password=payload.password)
    # The demo account's password stands on the sign-in page of every demo server.
    if user is None or (user.get_username() == DEMO_USER and not settings.DEMO):
        raise BadValueError(
            "This name and password do not go together.", field="password", hint="Check both; capitals count."
        )
    login(request, user)
    return _session(request)


@router.delete("/session", response=Session)
def sign_out(request: HttpRequest) -> Session:
    """Sign out."""
    logout(request)
    return _session(request)


@router.put("/session/password", response=Session)
def change_password(request: HttpRequest, payload: PasswordIn) -> Session:
    """Change one's own password; other browsers are signed out."""
    user = member_of(request).user
    if not user.check_password(payload.old):
        raise BadValueError("That is not your password.", field="old", hint="Capitals count.")
    try:
        validate_password(payload.new, user)
    except ValidationError as error:
        raise BadValueError(
            " ".join(error.messages), field="new", hint="Take a longer one, of words that go together for you alone."
        ) from error
    user.set_password(payload.new)
    user.save(update_fields=["password"])
    update_session_auth_hash(request, user)
    return _session(request)


@router.put("/session/units", response=Session)
def choose_units(request: HttpRequest, payload: Units) -> Session:
    """Choose the units to read; refused if they were chosen elsewhere since `version`."""
    for field, quantity in (("speed_unit", Quantity.SPEED), ("interval_unit", Quantity.INTERVAL)):
        unit = UNITS.get(getattr(payload, field))
        if unit is None or unit.quantity is not quantity:
            known = ", ".join(u.key for u in UNITS.values() if u.quantity is quantity)
            raise BadValueError(
                f"“{getattr(payload, field)}” is no unit of {quantity}.", field=field, hint=f"Known: {known}."
            )
    set_units(member_of(request), payload.speed_unit, payload.interval_unit, payload.version)
    return _session(request)
