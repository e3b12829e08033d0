"""The mark that is placed: an artwork's size, or one that is told."""

from keencoat.core.artwork import height_per_width
from keencoat.jobs.artwork.services.bringing import sketch_of
from keencoat.jobs.placing.models import Placing


def mark_mm_of(placing: Placing) -> tuple[float, float]:
    """The mark's width and height."""
    told, artwork = placing.told().mark, placing.artwork
    if artwork is None:
        return told.width_mm, told.height_mm
    spec = artwork.asked()
    return spec.placement.width_mm, spec.placement.width_mm * height_per_width(sketch_of(artwork), spec)
