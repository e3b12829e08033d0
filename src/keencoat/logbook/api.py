"""The logbook, searchable."""

from datetime import datetime

from django.http import HttpRequest
from ninja import Query, Router

from keencoat.core.coat import Coat
from keencoat.core.substrate import PROCESSES, SUBSTRATES
from keencoat.logbook.models import EntryKind, LogEntry
from keencoat.logbook.services import find_entries
from keencoat.shop.access import workshop_of
from keencoat.shop.fields import Asked, Key, Note, Shown
from keencoat.shop.shelf import shelf_of

router = Router(tags=["logbook"])
PAGE = 100


class Wanted(Asked):
    """What to look for; empty is anything."""

    words: Note = ""
    substrate: Key = ""
    coat: Key = ""
    machine: Note = ""


class EntryOut(Shown):
    """A log entry."""

    id: int
    job_id: int
    job_name: str
    kind: EntryKind
    at: datetime
    text: str
    substrate: str
    process: str
    coat: str
    machine: str
    figures: dict[str, float]


class EntriesOut(Shown):
    """The newest entries found, and how many there are in all."""

    total: int
    entries: list[EntryOut]


def show_entry(entry: LogEntry, shelf: dict[str, Coat]) -> EntryOut:
    """An entry."""
    return EntryOut(
        id=entry.pk,
        job_id=entry.job_id,
        job_name=entry.job_name,
        kind=EntryKind(entry.kind),
        at=entry.at,
        text=entry.text,
        substrate=SUBSTRATES[entry.substrate].label,
        process=PROCESSES[entry.process].label,
        coat=shelf[entry.coat].label,
        machine=entry.machine,
        figures=entry.figures,
    )


@router.get("/logbook", response=EntriesOut)
def search(request: HttpRequest, wanted: Query[Wanted]) -> EntriesOut:
    """Find log entries, newest first."""
    workshop = workshop_of(request)
    found, shelf = find_entries(workshop, **wanted.model_dump()), shelf_of(workshop)
    return EntriesOut(total=found.count(), entries=[show_entry(e, shelf) for e in found[:PAGE]])
