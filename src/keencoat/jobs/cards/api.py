"""The settings shelf: cards, out and in, and using one."""

from typing import Any

from django.http import HttpRequest, HttpResponse
from django.utils import timezone
from ninja import File, Query, Router, Status
from ninja.files import UploadedFile

from keencoat.core.errors import BadValueError, require_known
from keencoat.core.exchange import MAX_CARDS_BYTES, cards_schema, write_cards, write_cards_csv
from keencoat.jobs.cards import schemas as s
from keencoat.jobs.cards.cards_pdf import cards_pdf, wall_pdf
from keencoat.jobs.cards.services import (
    CardsWanted,
    bring_cards,
    chosen_cards,
    put_card_away,
    shelf_cards,
    use_brought,
    use_own,
)
from keencoat.jobs.cards.show import show_card
from keencoat.jobs.job.schemas import JobIn, JobOut
from keencoat.jobs.job.services import find_job
from keencoat.jobs.job.show import show_job
from keencoat.shop.access import member_of, workshop_of
from keencoat.shop.fields import Note, sends, takes

router = Router(tags=["logbook"])
_FILES = {
    "cards.json": "application/json",
    "cards.csv": "text/csv; charset=utf-8",
    "cards.pdf": "application/pdf",
    "wall.pdf": "application/pdf",
}


@router.get("/setting-cards", response=list[s.CardOut])
def list_cards(request: HttpRequest, asked: Query[s.CardsAsked]) -> list[s.CardOut]:
    """The settings shelf: the newest locked settings of every job, and cards of other workshops."""
    return [show_card(row) for row in shelf_cards(workshop_of(request), CardsWanted(**asked.model_dump()))]


@router.get("/setting-cards/schema.json", response=dict[str, Any])
def schema(request: HttpRequest) -> dict[str, Any]:
    """The JSON Schema of setting cards."""
    return cards_schema()


@router.get("/setting-cards/files/{name}", **sends("application/json", "text/csv", "application/pdf"))
def cards_file(request: HttpRequest, name: str, asked: Query[s.CardsAsked], uids: Note = "") -> HttpResponse:
    """Cards as a file: cards.json, cards.csv, cards.pdf (to cut out) or wall.pdf; those that fit what is asked, or of
    the uids that are named, with commas between."""
    require_known(name[:20], _FILES, "name")
    member = member_of(request)
    workshop, units = member.workshop, (member.speed_unit, member.interval_unit)
    rows = shelf_cards(workshop, CardsWanted(**asked.model_dump()))
    cards = chosen_cards(rows, [uid for uid in uids.split(",") if uid])
    if not cards:
        raise BadValueError("No card fits.", field="uids", hint="Lock a setting, or ask for less.")
    if name == "cards.json":
        data: str | bytes = write_cards(cards, workshop.name, timezone.now().isoformat(timespec="seconds"))
    elif name == "cards.csv":
        data = write_cards_csv(cards)
    else:
        data = cards_pdf(cards, units) if name == "cards.pdf" else wall_pdf(cards, workshop.name, units)
    disposition = f"attachment; filename=keencoat-{name}"
    return HttpResponse(data, content_type=_FILES[name], headers={"Content-Disposition": disposition})


@router.post("/setting-cards/bring", response={201: s.BroughtOut}, **takes(MAX_CARDS_BYTES))
def bring(request: HttpRequest, file: File[UploadedFile]) -> Status[s.BroughtOut]:
    """Take setting cards of another workshop from JSON or CSV; cards that are there already stay as they are."""
    if (file.size or 0) > MAX_CARDS_BYTES:
        raise BadValueError("The file is too large.", field="file", hint=f"{MAX_CARDS_BYTES // 1_000_000} MB at most.")
    return Status(201, s.BroughtOut.showing(bring_cards(workshop_of(request), file.read(), timezone.now())))


@router.delete("/setting-cards/brought/{card_id}", response={204: None})
def put_away(request: HttpRequest, card_id: int) -> Status[None]:
    """Take a brought card off the shelf; bringing it again puts it back."""
    put_card_away(workshop_of(request), card_id)
    return Status(204, None)


@router.post("/setting-cards/own/{lock_id}/use", response={201: JobOut})
def use_ones_own(request: HttpRequest, lock_id: int, payload: s.UseCardIn) -> Status[JobOut]:
    """Make a job on a machine that carries a setting of one's own over, with its confirming grid."""
    workshop, at = workshop_of(request), timezone.now()
    made = use_own(workshop, lock_id, payload.machine_id, payload.art, at)
    return Status(201, show_job(find_job(workshop, made.pk), at))


@router.post("/setting-cards/brought/{card_id}/use", response={201: JobOut})
def use_anothers(request: HttpRequest, card_id: int, payload: JobIn) -> Status[JobOut]:
    """Make a job that begins from another workshop's card, as a hint with doubt, with its confirming grid."""
    workshop, at = workshop_of(request), timezone.now()
    made = use_brought(workshop, card_id, payload.model_dump(), at)
    return Status(201, show_job(find_job(workshop, made.pk), at))
