"""From photos and what was read of them to what the API gives."""

from dataclasses import asdict

from keencoat.core.rating import FULL_AT
from keencoat.core.reading import Proposal, Sight, Tuning
from keencoat.core.states import GridState
from keencoat.jobs.models import GridPhoto, PhotoLight, TestGrid
from keencoat.jobs.reading.schemas import (
    CellReadingOut,
    CellSeenOut,
    CropOut,
    GridPhotoOut,
    GridReadingOut,
    ProposalOut,
    RatingsOut,
    TuningOut,
)
from keencoat.jobs.reading.services.photos import readings_of, sight_of
from keencoat.jobs.reading.services.ratings import newest_event

_CROP_MM = 1.6


def show_grid_photo(photo: GridPhoto) -> GridPhotoOut:
    """A kept photo."""
    reading = photo.reading or {}
    return GridPhotoOut(
        id=photo.pk,
        version=photo.version,
        at=photo.at,
        spare=photo.spare,
        only=photo.only,
        light=PhotoLight(photo.light),
        light_label=PhotoLight(photo.light).label,
        simulated=photo.simulated,
        mirrored=photo.mirrored,
        points=photo.points,
        trouble=photo.trouble,
        full_l=reading.get("full_l"),
        px_per_mm=reading.get("px_per_mm"),
        cells=len(reading.get("cells", ())),
    )


def show_proposal(proposal: Proposal) -> ProposalOut:
    """A proposed rating."""
    return ProposalOut(
        rating=proposal.rating,
        faint=proposal.faint,
        clean=proposal.clean,
        harsh=proposal.harsh,
        sure=proposal.sure,
        defects=list(proposal.defects),
        why=proposal.why,
    )


def show_reading(grid: TestGrid, tuning: Tuning) -> GridReadingOut:
    """Photos, readings and proposals of a grid."""
    photos = list(grid.photos.defer("original", "upright"))
    crops = _crops(grid, photos)
    return GridReadingOut(
        photos=[show_grid_photo(p) for p in photos],
        cells=[
            CellReadingOut(
                photos=read.photos, crop=crops[code], proposal=show_proposal(read.proposal), **asdict(read.cell)
            )
            for code, read in readings_of(grid, tuning, photos).items()
        ],
        tuning=show_tuning(tuning),
        framed=grid.framed,
        spares=grid.spares,
    )


def show_tuning(tuning: Tuning) -> TuningOut:
    """Where the workshop draws its lines."""
    return TuningOut(full_at=tuning.full_at, usual_full_at=FULL_AT, harm_factor=tuning.harm_factor, cells=tuning.cells)


def _crops(grid: TestGrid, photos: list[GridPhoto]) -> dict[str, CropOut]:
    """Where each cell lies in the newest picture that shows it."""
    crops: dict[str, CropOut] = {}
    for photo in photos:
        if photo.reading is None:
            continue
        photo.grid = grid
        sight = sight_of(photo)
        sight = Sight(sight.layout, photo.reading["px_per_mm"], sight.bend)
        width, height = sight.size_px
        for placed in sight.layout.cells:
            half = placed.side_mm / 2 + _CROP_MM
            x0, y0 = sight.px(placed.x_mm - half, placed.y_mm + half)
            low = placed.sample[1] - 0.6 if placed.sample_mm else placed.y_mm - half
            x1, y1 = sight.px(placed.x_mm + half, low)
            crops[placed.cell.code] = CropOut(
                photo=photo.pk,
                x=x0 / width,
                y=y0 / height,
                width=(x1 - x0) / width,
                height=(y1 - y0) / height,
                aspect=(x1 - x0) / (y1 - y0),
            )
    return crops


def show_ratings(grid: TestGrid) -> RatingsOut:
    """What was seen at a grid's cells."""
    return RatingsOut(
        id=grid.pk,
        state=GridState(grid.state),
        rating_event=newest_event(grid),
        cells=[
            CellSeenOut(
                code=c.code,
                rating=c.seen_rating,
                defects=c.defects,
                heard_snapping=c.heard_snapping,
                strokes=c.seen_strokes,
                version=c.version,
            )
            for c in grid.cells.all()
        ],
    )
