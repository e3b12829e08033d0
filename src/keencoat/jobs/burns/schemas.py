"""What the endpoints of burns take and give."""

from datetime import date, datetime

from pydantic import Field

from keencoat.jobs.burns.models import BurnKind
from keencoat.jobs.burns.services import Order, Outcome
from keencoat.jobs.job.schemas import FactOut, SettingOut
from keencoat.shop.fields import Asked, Key, Note, RangeOut, Shown


class BurnsAsked(Asked):
    """What to look for; empty is anything."""

    words: Note = ""
    kind: BurnKind | None = None
    substrate: Key = ""
    process: Key = ""
    coat: Key = ""
    machine: Note = ""
    outcome: Outcome | None = None
    defect: Key = ""
    since: date | None = None
    until: date | None = None
    order: Order = Order.NEWEST
    page: int = Field(1, ge=1, le=100_000)


class SpanOut(Shown):
    """From the least to the most."""

    low: float
    high: float


class SettingsSpan(Shown):
    """The settings of a burn: from the least to the most of each figure."""

    power_pct: SpanOut
    speed_mm_s: SpanOut
    interval_mm: SpanOut
    passes: SpanOut
    energy_j_mm2: SpanOut


class DefectSeen(Shown):
    """A defect, how often it was seen, and in how many burns."""

    key: str
    label: str
    times: int
    burns: int


class LoggedBurnOut(Shown):
    """A burn. `share` is that of clean pieces among those looked at, with the range that holds the true one nine times
    in ten; none for a grid, whose cells are apart on purpose. `marks`: its cells or pieces in order, `columns` in a
    row (0: as many as fit). `burned` is none where no cell was burned to its end."""

    key: str
    kind: BurnKind
    row_id: int
    job_id: int
    job_name: str
    at: datetime
    label: str
    substrate: str
    process: str
    coat: str
    machine: str
    units: int
    clean: int
    faint: int
    harsh: int
    spoilt: int
    share: RangeOut | None
    burned: SettingsSpan | None
    came_clean: SettingsSpan | None
    setting: SettingOut | None
    defects: list[DefectSeen]
    marks: list[str]
    columns: int
    has_picture: bool


class EdgesOut(Shown):
    """A window's boundaries over dwell, ms: areal energies, J/mm²."""

    dwell_ms: list[float]
    enough_j_mm2: list[RangeOut]
    too_much_j_mm2: list[RangeOut]


class ComparedOut(Shown):
    """Burns side by side. `best`: how likely each has the most clean pieces; `windows` of their jobs."""

    burns: list[LoggedBurnOut]
    facts: list[FactOut]
    best: list[float | None]
    windows: list[EdgesOut | None]


class LoggedBurnsOut(Shown):
    """The burns of a page, how many there are on how many pages, and what went wrong in all of them."""

    total: int
    pages: int
    page: int
    burns: list[LoggedBurnOut]
    went_wrong: list[DefectSeen]
