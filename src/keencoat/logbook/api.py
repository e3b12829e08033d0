"""The logbook, searchable."""

from datetime import datetime

from django.http import HttpRequest
from ninja import Query, Router, Schema

from keencoat.core.coat.catalogue import COATS
from keencoat.core.substrate.materials import SUBSTRATES
from keencoat.core.substrate.processes import PROCESSES
from keencoat.logbook.models import LogEntry
from keencoat.logbook.services import find_entries
from keencoat.shop.access import workshop_of
from keencoat.shop.fields import Key, Note

router = Router(tags=["logbook"])
PAGE = 100


class Wanted(Schema):
    """What to look for; empty is anything."""

    words: Note = ""
    substrate: Key = ""
    coat: Key = ""
    machine: Note = ""


class EntryOut(Schema):
    """A log entry."""

    id: int
    job_id: int
    job_name: str
    kind: str
    at: datetime
    text: str
    substrate: str
    process: str
    coat: str
    machine: str
    figures: dict[str, float]


class EntriesOut(Schema):
    """The newest entries found, and how many there are in all."""

    total: int
    entries: list[EntryOut]


def _entry(entry: LogEntry) -> EntryOut:
    return EntryOut(
        id=entry.pk, job_id=entry.job_id, job_name=entry.job_name, kind=entry.kind, at=entry.at, text=entry.text,
        substrate=SUBSTRATES[entry.substrate].label, process=PROCESSES[entry.process].label,
        coat=COATS[entry.coat].label, machine=entry.machine, figures=entry.figures,
    )  # fmt: skip


@router.get("/logbook", response=EntriesOut)
def search(request: HttpRequest, wanted: Query[Wanted]) -> EntriesOut:
    """Find log entries, newest first."""
    found = find_entries(workshop_of(request), **wanted.model_dump())
    return EntriesOut(total=found.count(), entries=[_entry(e) for e in found[:PAGE]])
