"""Text as the API takes it, and what many answers are made of."""

from typing import Annotated

from ninja import Schema
from pydantic import AfterValidator, StringConstraints

from keencoat.core.findings import Severity


def _printable(text: str) -> str:
    if any(ord(letter) < 32 and letter not in "\n\t" for letter in text):
        raise ValueError("holds a control character; type plain text")
    return text


Name = Annotated[str, StringConstraints(strip_whitespace=True, min_length=1, max_length=60), AfterValidator(_printable)]
Note = Annotated[str, StringConstraints(strip_whitespace=True, max_length=500), AfterValidator(_printable)]
Key = Annotated[str, StringConstraints(max_length=40), AfterValidator(_printable)]


class FindingOut(Schema):
    """What a check says."""

    code: str
    severity: Severity
    message: str
    fix: str
    figures: dict[str, float]
    source: str


class RangeOut(Schema):
    """An estimate with the range that holds it nine times in ten."""

    low: float
    mid: float
    high: float
