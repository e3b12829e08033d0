"""What the endpoints of failed pieces take and give."""

from pydantic import Field

from keencoat.core.inspect import Action
from keencoat.jobs.job.schemas import SettingOut
from keencoat.shop.fields import Asked, Key, RangeOut, Shown


class BecauseOut(Shown):
    """A piece of evidence for (above 0) or against a cause: ln of what it does to its odds."""

    words: str
    ln_odds: float


class RemedyOut(Shown):
    """One change; a setting where it is one, with the share of clean pieces to expect of it; what the other school
    does."""

    action: Action
    words: str
    setting: SettingOut | None
    clean: RangeOut | None
    or_else: str


class CauseOut(Shown):
    """A cause with its chance, what speaks for it, what to change, and where that comes from."""

    key: str
    label: str
    chance: float
    because: list[BecauseOut]
    remedy: RemedyOut
    source: str


class TestAnswerOut(Shown):
    """An answer that can be given."""

    key: str
    label: str


class CheapTestOut(Shown):
    """A question that hands and eyes answer in so many minutes; `answer`: the one that was given."""

    key: str
    question: str
    minutes: float
    answers: list[TestAnswerOut]
    answer: str | None


class WhyOut(Shown):
    """Why a piece failed: causes by rank, the test that parts the first two best, tests done, what is otherwise than
    with the last good piece, and what the window says of its setting."""

    id: int
    version: int
    causes: list[CauseOut]
    ask: CheapTestOut | None
    asked: list[CheapTestOut]
    good: int | None
    since: list[str]
    clean: RangeOut
    margin_to_faint_pct: RangeOut
    margin_to_harsh_pct: RangeOut


class TestAnswerIn(Asked):
    """What a test came to; null takes it back."""

    test: Key
    answer: Key | None
    version: int = Field(description="of the piece")
