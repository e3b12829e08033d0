"""What the endpoints of archives give."""

from datetime import datetime

from keencoat.core.states import BurnState
from keencoat.shop.fields import Shown


class SkippedOut(Shown):
    """Something of an archive that was left out, and why."""

    what: str
    why: str


class ArchiveReportOut(Shown):
    """What came of an archive of the workshop `source`: rows by kind that were brought, that were here already, and
    what was left out; `more` of these are not told."""

    source: str
    brought: dict[str, int]
    here: dict[str, int]
    skipped: list[SkippedOut]
    more: int


class BroughtArchiveOut(Shown):
    """An archive that was sent: how far it is, what came of it, why it failed."""

    id: int
    name: str
    state: BurnState
    asked_at: datetime
    ended_at: datetime | None
    report: ArchiveReportOut | None
    trouble: str
