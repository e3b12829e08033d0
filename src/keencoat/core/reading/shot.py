"""A photo's bytes from outside, decoded and read in one go: what is done with a picture that nobody has checked yet."""

from dataclasses import dataclass

from keencoat.core.errors import BadValueError
from keencoat.core.reading.cells import GridReading, read_grid_photo
from keencoat.core.reading.gridframe import FoundFrame, find_grid_frame
from keencoat.core.reading.gridplan import Sight
from keencoat.core.reading.refine import with_lens
from keencoat.core.vision import SeenOutline, as_jpeg, decode_photo


@dataclass(frozen=True, eq=False)
class GridShot:
    """A photo of a grid: its kind, and either what it shows, with the upright picture as JPEG, or why it cannot be
    read."""

    kind: str
    reading: GridReading | None = None
    upright: bytes = b""
    trouble: BadValueError | None = None


def read_grid_shot(data: bytes, sight: Sight, marked: SeenOutline | None, framed: bool, mirrored: bool) -> GridShot:
    """Read a photo of a grid: within corners `marked` by hand, or where its frame is found. `framed`: its frame is in
    the picture, else it cannot be found; `mirrored` counts for marked corners. Raises BadValueError for what is no
    photo."""
    seen = decode_photo(data)
    if marked is None and not framed:
        return GridShot(seen.kind)
    try:
        if marked is None:
            found = find_grid_frame(seen, sight)
        else:
            found = FoundFrame(with_lens(seen, marked, sight) if framed else marked, mirrored)
        reading = read_grid_photo(seen, found, sight)
    except BadValueError as error:
        return GridShot(seen.kind, trouble=error)
    return GridShot(seen.kind, reading, as_jpeg(reading.upright))
