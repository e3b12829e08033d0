"""What was brought, read through all that will show it, so that no page meets a row that it cannot read."""

from collections.abc import Callable
from datetime import datetime
from typing import Any

from django.db.models import Model

from keencoat.jobs.artwork.show import show_artworks, show_pieces
from keencoat.jobs.batch.show import show_batch, show_record
from keencoat.jobs.belief import fit_of
from keencoat.jobs.burns.models import LoggedBurn
from keencoat.jobs.burns.services import tell_burns
from keencoat.jobs.burns.show import show_burn
from keencoat.jobs.cards.services import OnShelf, own_cards
from keencoat.jobs.cards.show import show_card
from keencoat.jobs.coat.show import show_coat_plan
from keencoat.jobs.coat.show_proof import show_proof
from keencoat.jobs.evidence import pieces_burned
from keencoat.jobs.grid.show import show_grid
from keencoat.jobs.job.services import find_job
from keencoat.jobs.job.show import show_job
from keencoat.jobs.models import BroughtCard
from keencoat.jobs.placing.show import show_placing
from keencoat.jobs.reading.show import show_grid_photo, show_ratings
from keencoat.jobs.run.show import show_run
from keencoat.logbook.api import show_entry
from keencoat.logbook.models import LogEntry
from keencoat.shop import models as shop
from keencoat.shop.api import MachineOut
from keencoat.shop.eyewear_api import EyewearOut
from keencoat.shop.jigs_api import show_kept_jig
from keencoat.shop.models import Workshop
from keencoat.shop.shelf import prices_of, shelf_of
from keencoat.shop.shelf_api import show_own_coat
from keencoat.shop.spot_api import show_spot_test
from keencoat.shop.turning_api import show_device

_ALONE: dict[type[Model], Callable[[Any], object]] = {
    shop.Machine: lambda row: (row.to_core(), MachineOut.model_validate(row)),
    shop.SpotTest: show_spot_test,
    shop.TurningDevice: show_device,
    shop.TurnTest: lambda row: show_device(row.device),
    shop.KeptJig: show_kept_jig,
    shop.Eyewear: lambda row: (row.to_core(), EyewearOut.showing(row)),
    shop.OwnCoat: lambda row: (row.to_core(), show_own_coat(row)),
    shop.IngredientPrice: lambda row: prices_of(row.workshop),
    BroughtCard: lambda row: show_card(OnShelf(row.to_core(), brought=row)),
}
"""How the shop's pages show what is its own; a room note and a comparison have nothing that could not be shown."""


def read_alone(row: Model) -> None:
    """A row that stands for itself; whatever cannot be shown raises as it would on its page."""
    if type(row) in _ALONE:
        _ALONE[type(row)](row)


def read_again(workshop: Workshop, job_id: int, at: datetime) -> None:
    """Whatever cannot be shown raises as it would on its page."""
    job, shelf = find_job(workshop, job_id), shelf_of(workshop)
    show_job(job, at)
    show_coat_plan(job, at)
    show_proof(job)
    for grid in job.grids.all():
        show_grid(grid)
        show_ratings(grid)
        for photo in grid.photos.all():
            show_grid_photo(photo)
    if pieces_burned(job):
        fit_of(job)
    for run in job.runs.all():
        show_run(run)
    show_artworks(job)
    for artwork in job.artworks.all():
        show_pieces(artwork)
    show_placing(job)
    for batch in job.batches.all():
        show_batch(batch, at)
        for piece in batch.pieces.all():
            show_record(piece)
    for seen in tell_burns(list(LoggedBurn.objects.filter(job=job).select_related("job"))):
        show_burn(seen, shelf)
    for entry in LogEntry.objects.filter(workshop=workshop, job_id=job_id):
        show_entry(entry, shelf)
    for card in own_cards(workshop):
        if card.lock is not None and card.lock.job_id == job.pk:
            show_card(card)
