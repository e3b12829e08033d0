"""What the endpoints of Run take and give."""

from datetime import datetime

from pydantic import Field

from keencoat.jobs.job.schemas import SettingOut
from keencoat.shop.fields import Asked, Shown


class RunIn(Asked):
    """What came of a run."""

    faint: int = 0
    clean: int
    harsh: int = 0
    lock_version: int = Field(description="the locked setting that it was burned with")
    lot_id: int | None = None
    note: str = Field("", max_length=300)


class RunOut(SettingOut):
    """A run by what came of it."""

    id: int
    at: datetime
    lock_version: int
    machine: str
    lot: str
    faint: int
    clean: int
    harsh: int
    note: str


class SheetLineOut(Shown):
    """A line of the run sheet."""

    label: str
    value: str
    detail: str
    tick: bool


class SheetSectionOut(Shown):
    """A block of the run sheet."""

    title: str
    lines: list[SheetLineOut]


class RunSheetOut(Shown):
    """The run sheet."""

    title: str
    sections: list[SheetSectionOut]
    deference: str
    version: int
