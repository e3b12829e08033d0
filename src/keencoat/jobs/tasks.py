"""What workers do, off the queue that lives in PostgreSQL."""

from procrastinate.contrib.django import app

from keencoat.jobs.archive.bringing import run_archive
from keencoat.jobs.artwork.services.burning import run_art_burn
from keencoat.jobs.artwork.services.packing import run_pack
from keencoat.jobs.grid.services.driving import run_burn
from keencoat.jobs.practice.services import run_art_photo, run_piece_photo


@app.task(queue="burns")
def burn(burn_id: int) -> None:
    """Drive the simulated laser through a grid."""
    run_burn(burn_id)


@app.task(queue="burns")
def art_burn(art_burn_id: int) -> None:
    """Drive the simulated laser through a piece of artwork."""
    run_art_burn(art_burn_id)


@app.task(queue="packs")
def art_photo(art_photo_id: int, trouble: str) -> None:
    """Compare a photo of a piece with what was expected; take it first, so troubled, if it is one of practice."""
    run_art_photo(art_photo_id, trouble)


@app.task(queue="packs")
def piece_photo(piece_photo_id: int, trouble: str) -> None:
    """Compare a photo of a piece of a batch with what was expected; take it first if it is one of practice."""
    run_piece_photo(piece_photo_id, trouble)


@app.task(queue="packs")
def art_pack(art_pack_id: int) -> None:
    """Make all pieces of an artwork into one file."""
    run_pack(art_pack_id)


@app.task(queue="packs")
def archive(archive_id: int) -> None:
    """Read a workshop's archive that was brought in."""
    run_archive(archive_id)
