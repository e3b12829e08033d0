"""The one error family of core.

Each error says what is wrong, in which field, and what to do instead. `keencoat.site.problems`
maps the family to problem responses (RFC 9457) in one place.
"""

import math
from collections.abc import Iterable
from functools import partial
from typing import Any


class KeenCoatError(Exception):
    """What is wrong (`message`), where (`field`, a dotted path or ""), what instead (`hint`)."""

    def __init__(self, message: str, *, field: str = "", hint: str = "") -> None:
        super().__init__(message)
        self.message = message
        self.field = field
        self.hint = hint

    def __str__(self) -> str:
        return f"{self.message} {self.hint}".strip()

    def facts(self) -> dict[str, str]:
        """What it says, to be kept beside what it is about."""
        return {"message": self.message, "hint": self.hint, "field": self.field}

    def __reduce__(self) -> tuple[Any, ...]:
        # An error that was raised in another process comes back whole.
        return partial(type(self), field=self.field, hint=self.hint), (self.message,)


class BadValueError(KeenCoatError, ValueError):
    """A figure is missing, not finite, or outside what it may be."""


class UnknownNameError(KeenCoatError, KeyError):
    """A key that no catalogue holds."""

    __str__ = KeenCoatError.__str__


class DoesNotFitError(KeenCoatError, ValueError):
    """A layout that the piece or the machine cannot hold."""


class NotAllowedError(KeenCoatError, ValueError):
    """A step that the rules of the work do not allow from here."""


def require_finite(value: float, field: str) -> float:
    """Return `value`; raise BadValueError if it is NaN, infinite, or a whole number beyond all floats."""
    try:
        finite = math.isfinite(value)
    except OverflowError:
        finite = False
    if not finite:
        raise BadValueError(f"{field} is not a number.", field=field, hint="Type a figure.")
    return value


def require_within(value: float, low: float, high: float, field: str, unit: str = "") -> float:
    """Return `value` if low ≤ value ≤ high and finite; raise BadValueError that names the range."""
    require_finite(value, field)
    if not low <= value <= high:
        raise BadValueError(
            f"{field} is {value:g}{unit and ' ' + unit}.",
            field=field,
            hint=f"It must lie between {low:g} and {high:g}{unit and ' ' + unit}.",
        )
    return value


def require_positive(value: float, field: str, unit: str = "") -> float:
    """Return `value` if it is finite and above zero; raise BadValueError otherwise."""
    require_finite(value, field)
    if value <= 0:
        raise BadValueError(f"{field} is {value:g}{unit and ' ' + unit}.", field=field, hint="It must be above zero.")
    return value


def require_known(key: str, known: Iterable[str], field: str) -> str:
    """Return `key` if it stands in `known`; raise UnknownNameError that lists what does."""
    names = sorted(known)
    if key not in names:
        raise UnknownNameError(f"{field} “{key}” is not known.", field=field, hint=f"Known: {', '.join(names)}.")
    return key


class StaleError(KeenCoatError):
    """Somebody else changed the thing since it was read; nothing was overwritten."""


class MissingError(KeenCoatError):
    """No such thing, or none that this workshop may see."""


class BusyError(KeenCoatError):
    """As much as can be worked on is being worked on."""


class NotYetError(KeenCoatError):
    """It is being worked out, and there for whoever asks again."""


UNREADABLE = (KeyError, TypeError, ValueError, AttributeError, IndexError, ArithmeticError, KeenCoatError)
"""What is raised while something kept is read that is not as it should be."""
