"""The mark that is placed: an artwork's size, or one that is told."""

import numpy as np

from keencoat.core.artwork import NameList, height_per_width
from keencoat.jobs.artwork.services.bringing import sketch_of
from keencoat.jobs.artwork.services.making import base_of
from keencoat.jobs.placing.models import Placing


def mark_mm_of(placing: Placing) -> tuple[float, float]:
    """The mark's width and height; of a list of names what holds each of them, or before a setting is locked, for which
    they are set, the coat that they are set on."""
    told, artwork = placing.told().mark, placing.artwork
    if artwork is None:
        return told.width_mm, told.height_mm
    source, spec, job = sketch_of(artwork), artwork.asked(), placing.job
    if not isinstance(source, NameList):
        return spec.placement.width_mm, spec.placement.width_mm * height_per_width(source, spec)
    boxes = [job.piece().face.coated.bounds]
    if job.locked.exists():
        boxes = [n.ink.bounds for n in base_of(job).names(source, spec) if n.ink is not None] or boxes
    left, low, right, top = np.array(boxes).T
    return float((right - left).max()), float((top - low).max())
