"""Text as the API takes it, and what many answers are made of."""

from datetime import datetime
from decimal import Decimal
from typing import Annotated, Any, Self

from pydantic import AfterValidator, BaseModel, ConfigDict, StringConstraints, field_validator

from keencoat.core.costing import money
from keencoat.core.findings import Severity

_LARGEST, _SMALLEST = 1e7, 1e-7
_FIRST_YEAR, _LAST_YEAR = 2000, 2100


def printable(text: str) -> str:
    """Text without control characters. Raises ValueError for what could not be stored or printed."""
    if any((ord(letter) < 32 and letter not in "\n\t") or "\ud800" <= letter <= "\udfff" for letter in text):
        raise ValueError("holds a control character; type plain text")
    return text


def in_our_time(value: datetime) -> datetime:
    """A time at which somebody may have worked here. Raises ValueError for another."""
    if not _FIRST_YEAR <= value.year <= _LAST_YEAR:
        raise ValueError(f"the year {value.year} is none of work here; use {_FIRST_YEAR} to {_LAST_YEAR}")
    return value


def sized(value: float) -> float:
    """A figure of a size that things have. Raises ValueError for another."""
    if value != 0 and not _SMALLEST <= abs(value) <= _LARGEST:
        raise ValueError(f"{value:g} is no figure that anything here can have; use {_SMALLEST:g} to {_LARGEST:g}")
    return value


class Shown(BaseModel):
    """What we answer with: taken as it was made, from rows and core results alike."""

    model_config = ConfigDict(from_attributes=True)

    @classmethod
    def showing(cls, made: object) -> Self:
        """This answer, read off the attributes of what was made."""
        return cls.model_validate(made)


class Asked(BaseModel):
    """What is sent to us: figures of a size that things have (no infinity, no 10³⁰⁸, no 10⁻³²⁴), times in our
    time, text that can be stored. Finer limits stand where each figure is used.

    An answer that has the fields of a request is both, and is not checked: a sum leaves rests that nobody types."""

    model_config = ConfigDict(allow_inf_nan=False, from_attributes=True)

    @field_validator("*", mode="after")
    @classmethod
    def _has_a_size(cls, value: Any) -> Any:  # noqa: ANN401 # every field of every schema
        if issubclass(cls, Shown):
            return value
        if isinstance(value, float):
            return sized(value)
        if isinstance(value, datetime):
            return in_our_time(value)
        return printable(value) if isinstance(value, str) else value


Name = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=60), AfterValidator(printable)]
ShortName = Annotated[
    str, StringConstraints(strip_whitespace=True, min_length=1, max_length=40), AfterValidator(printable)
]
Note = Annotated[str, StringConstraints(strip_whitespace=True, max_length=500), AfterValidator(printable)]
Key = Annotated[str, StringConstraints(max_length=40), AfterValidator(printable)]
Money = Annotated[Decimal, AfterValidator(money)]
"""Shown to the cent."""


class FindingOut(Shown):
    """What a check says."""

    code: str
    severity: Severity
    message: str
    fix: str
    figures: dict[str, float]
    source: str


class RangeOut(Shown):
    """An estimate with the range that holds it nine times in ten."""

    low: float
    mid: float
    high: float


MOST_BYTES = "x-most-body-bytes"
_FORM_BYTES = 100_000


def takes(most_bytes: int, files: int = 1) -> dict[str, Any]:
    """For a route that takes files of at most so many bytes: how large a request to it may be, with what the form adds.
    It stands in the API's description, and the gate lets no more in."""
    return {"openapi_extra": {MOST_BYTES: files * most_bytes + _FORM_BYTES}}


ASKS_ONLY = "x-asks-only"


def asks_only() -> dict[str, Any]:
    """For a route that is sent much and changes nothing: it works something out, so it needs neither version nor
    key."""
    return {"openapi_extra": {ASKS_ONLY: True}}


LATE: dict[int, Any] = {202: {"description": "Still being worked out: ask again after the seconds of Retry-After."}}
"""For the description of a route whose answer may take longer than a request (`shop/soon.py`)."""


def sends(*media: str, late: bool = False) -> dict[str, Any]:
    """For a route that sends files: their kinds, for the API's description; `late` where it may ask to be asked
    again."""
    content = {kind: {"schema": {"type": "string", "contentEncoding": "binary"}} for kind in media}
    answers = {200: {"content": content}} | (LATE if late else {})
    return {"response": bytes, "openapi_extra": {"responses": answers}}
