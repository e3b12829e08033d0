"""The settings shelf: every locked setting as a card, cards of other workshops beside them, and using one."""

import logging
from collections.abc import Callable, Mapping, Sequence
from dataclasses import asdict, dataclass
from datetime import datetime
from functools import partial
from typing import Any
from uuid import uuid5

from django.db import transaction
from django.db.models import Model, Prefetch, QuerySet

from keencoat.core.coat import COATS, Coat
from keencoat.core.errors import UNREADABLE, BadValueError, NotAllowedError
from keencoat.core.exchange import SettingCard, card_findings, read_cards
from keencoat.core.quantities import Art, BeamSource
from keencoat.core.substrate import PROCESSES, SUBSTRATES
from keencoat.jobs.cards.models import BroughtCard
from keencoat.jobs.grid.services.drawing import GridWish, draw_grid
from keencoat.jobs.job.services import create_job
from keencoat.jobs.models import GridKind, Job, LockedSetting
from keencoat.jobs.window.services.carry import CarryWish, carry_job
from keencoat.jobs.window.services.locking import evidence_of, pieces_run
from keencoat.shop.access import find_one
from keencoat.shop.models import Machine, Workshop
from keencoat.shop.shelf import shelf_of

_LOG = logging.getLogger(__name__)
_CELLS_CARRIED, _CELLS_BROUGHT = 4, 6
"""Cells of the grid that confirms a setting: a window of one's own needs fewer than somebody's word."""


@dataclass(frozen=True, eq=False)
class OnShelf:
    """A card with where it comes from: the locked setting of one's own job, or what was brought."""

    card: SettingCard
    lock: LockedSetting | None = None
    brought: BroughtCard | None = None


@dataclass(frozen=True)
class CardsWanted:
    """What to look for; empty is anything. `machine_id`: cards whose beam this machine has."""

    words: str = ""
    substrate: str = ""
    process: str = ""
    coat: str = ""
    machine_id: int | None = None


def shelf_cards(workshop: Workshop, wanted: CardsWanted) -> list[OnShelf]:
    """Own cards and brought ones that fit all that is wanted; by substrate, process and coat, own ones first."""
    rows = workshop.brought_cards.filter(put_away=False)
    brought = [one for row in rows for one in _readable(row, partial(_brought_card, row))]
    beam = None
    if wanted.machine_id is not None:
        machine = find_one(Machine.objects.filter(workshop=workshop), "machine", pk=wanted.machine_id)
        beam = BeamSource(machine.source)
    found = [row for row in (*own_cards(workshop), *brought) if _fits(row.card, wanted, beam)]
    return sorted(found, key=lambda r: (r.card.substrate, r.card.process, r.card.coat_words, r.brought is not None))


def _fits(card: SettingCard, wanted: CardsWanted, beam: BeamSource | None) -> bool:
    texts = (card.title, card.workshop, card.coat_words, card.machine_words, SUBSTRATES[card.substrate].label)
    said = " ".join((*texts, PROCESSES[card.process].label)).lower()
    return (
        (beam is None or card.beam is beam)
        and (not wanted.substrate or card.substrate == wanted.substrate)
        and (not wanted.process or card.process == wanted.process)
        and (not wanted.coat or card.coat == wanted.coat)
        and all(word.lower() in said for word in wanted.words.split())
    )


def own_cards(workshop: Workshop) -> list[OnShelf]:
    """The newest locked settings of every job of the workshop, those put away too: what was learned stays."""
    jobs = (
        Job.objects.filter(workshop=workshop, locked__isnull=False)
        .distinct()
        .select_related("machine")
        .prefetch_related("grids__cells", "runs", Prefetch("locked", LockedSetting.objects.in_short()))
    )
    shelf = shelf_of(workshop)
    found = []
    for job in jobs:
        job.workshop = workshop
        lock = next(iter(job.locked.all()))
        found += _readable(job, partial(_cards_of, job, lock, shelf))
    return found


def _brought_card(row: BroughtCard) -> list[OnShelf]:
    return [OnShelf(row.to_core(), brought=row)]


def _cards_of(job: Job, lock: LockedSetting, shelf: Mapping[str, Coat]) -> list[OnShelf]:
    return [OnShelf(_card(job, lock, art, shelf[job.coat].label), lock=lock) for art in lock.by_art()]


def _readable(row: Model, read: Callable[[], list[OnShelf]]) -> list[OnShelf]:
    """What is read of a row; nothing, and a line in the log, of one that must not hide the others."""
    try:
        return read()
    except UNREADABLE as error:
        _LOG.warning("No card of %s %s: %r", row._meta.model_name, row.pk, error)
        return []


def _card(job: Job, lock: LockedSetting, art: Art, coat_words: str) -> SettingCard:
    setting, clean = lock.by_art()[art], lock.reading(art)["clean"]
    evidence, _ = evidence_of(job, setting, art)
    good, seen = pieces_run(job, setting, art)
    machine = job.machine
    return SettingCard(
        uid=str(uuid5(job.workshop.uid, f"{job.pk}-{lock.version}-{art}")),
        workshop=job.workshop.name,
        title=job.name,
        locked_on=lock.at.date().isoformat(),
        substrate=job.substrate,
        process=job.process,
        art=art,
        coat=job.coat if job.coat in COATS else "",
        coat_words=coat_words,
        coats=job.coats,
        film_um=round(job.layer_um(), 2),
        thickness_mm=job.thickness_mm,
        machine_words=machine.name,
        beam=BeamSource(machine.source),
        rated_w=machine.rated_w,
        spot_mm=machine.spot_mm,
        **asdict(setting),
        clean_low=round(clean["low"], 4),
        clean=round(clean["mid"], 4),
        clean_high=round(clean["high"], 4),
        evidence=evidence.value,
        pieces_clean=good,
        pieces_seen=seen,
    )


@dataclass(frozen=True)
class Brought:
    """What came of bringing cards: how many are new, how many were there already, how many are the shop's own, and how
    many of all nobody should burn as they are."""

    new: int
    known: int
    own: int
    doubtful: int


@transaction.atomic
def bring_cards(workshop: Workshop, data: bytes, at: datetime) -> Brought:
    """Put the cards of a file beside the shop's own. Raises what `read_cards` raises; then none is taken."""
    cards = {card.uid: card for card in read_cards(data)}
    if not cards:
        raise BadValueError("There is no card in this file.", field="file", hint="Choose one with cards.")
    own = {row.card.uid for row in own_cards(workshop)} & set(cards)
    there = set(workshop.brought_cards.filter(uid__in=cards).values_list("uid", flat=True))
    new = [card for uid, card in cards.items() if uid not in own | there]
    BroughtCard.objects.bulk_create(
        [BroughtCard(workshop=workshop, uid=c.uid, card=asdict(c), brought_at=at) for c in new], ignore_conflicts=True
    )
    workshop.brought_cards.filter(uid__in=there).update(put_away=False)
    return Brought(len(new), len(there), len(own), sum(bool(card_findings(card)) for card in cards.values()))


def cards_of(workshop: Workshop) -> QuerySet[BroughtCard]:
    """The cards that were brought to this workshop."""
    return workshop.brought_cards.all()


def put_card_away(workshop: Workshop, card_id: int) -> None:
    """Take a brought card off the shelf; jobs that began from it keep it. Raises MissingError."""
    card = find_one(cards_of(workshop), "card", pk=card_id)
    card.put_away = True
    card.save(update_fields=["put_away"])


@transaction.atomic
def use_own(workshop: Workshop, lock_id: int, machine_id: int, art: Art, at: datetime) -> Job:
    """Make a job on a machine that carries a locked setting of one's own over, with the grid that confirms it.

    Raises MissingError, and what carrying raises: NotAllowedError for another kind of beam."""
    rows = LockedSetting.objects.filter(job__workshop=workshop).in_short()
    lock = find_one(rows, "locked setting", pk=lock_id)
    setting = lock.by_art().get(art)
    if setting is None:
        raise NotAllowedError("Nothing is locked for that.", field="art", hint="Choose filled art.")
    wish = CarryWish(machine_id, setting.interval_mm, setting.passes, 1.0)
    job = carry_job(workshop, lock.job_id, wish, at)
    draw_grid(workshop, job.pk, GridWish(GridKind.NEXT, _CELLS_CARRIED, setting.interval_mm, setting.passes), at)
    return job


@transaction.atomic
def use_brought(workshop: Workshop, card_id: int, values: dict[str, Any], at: datetime) -> Job:
    """Make a job that begins from a brought card, with the grid that confirms it.

    Raises MissingError, what making a job raises, and NotAllowedError where the card is of another substrate, process
    or kind of beam."""
    row = find_one(cards_of(workshop), "card", pk=card_id)
    card = row.to_core()
    against = card_findings(card)
    if against:
        raise NotAllowedError(against[0].message, field="card_id", hint=against[0].fix)
    job = create_job(workshop, values, at)
    differ = [
        (name, words)
        for name, words, mine, its in (
            ("substrate", "substrate", job.substrate, card.substrate),
            ("process", "process", job.process, card.process),
            ("machine_id", "kind of beam", job.machine.source, card.beam),
        )
        if mine != its
    ]
    if differ:
        raise NotAllowedError(
            f"The card is for another {differ[0][1]}.", field=differ[0][0], hint="Make a new job without the card."
        )
    job.card = row
    job.save(update_fields=["card"])
    draw_grid(workshop, job.pk, GridWish(GridKind.NEXT, _CELLS_BROUGHT, job.interval_mm, card.passes), at)
    return job


def chosen_cards(rows: Sequence[OnShelf], uids: Sequence[str]) -> list[SettingCard]:
    """The cards of those uids, or all where none is named."""
    return [row.card for row in rows if not uids or row.card.uid in uids]
