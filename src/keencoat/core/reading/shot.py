"""A photo's bytes from outside, decoded and read in one go: what is done with a picture that nobody has checked yet."""

import io
from dataclasses import dataclass

from PIL import Image

from keencoat.core.errors import BadValueError
from keencoat.core.reading.cells import GridReading, read_grid_photo
from keencoat.core.reading.gridframe import FoundFrame, find_grid_frame, with_lens
from keencoat.core.reading.gridplan import Sight
from keencoat.core.reading.outline import Outline
from keencoat.core.reading.photo import Pixels, decode_photo, luminance

_BURNT_OUT = 250
_PATCH = 0.25
_SMALL_PX = 1200


@dataclass(frozen=True, eq=False)
class GridShot:
    """A photo of a grid: its kind, and either what it shows, with the upright picture as JPEG, or why it cannot be
    read."""

    kind: str
    reading: GridReading | None = None
    upright: bytes = b""
    trouble: BadValueError | None = None


def read_grid_shot(data: bytes, sight: Sight, marked: Outline | None, framed: bool, mirrored: bool) -> GridShot:
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


def middle_light(data: bytes, field: str) -> float:
    """Mean linear light of a photo's middle quarter, 0…1. Raises BadValueError where that is burnt out."""
    rgb = decode_photo(data, field).rgb
    height, width = rgb.shape[:2]
    half_h, half_w = int(height * _PATCH / 2), int(width * _PATCH / 2)
    patch = rgb[height // 2 - half_h : height // 2 + half_h, width // 2 - half_w : width // 2 + half_w]
    if float((patch.max(axis=2) >= _BURNT_OUT).mean()) > 0.02:
        raise BadValueError(
            "The middle of this photo is burnt out.", field=field,
            hint="Hold the exposure so that the bare piece is bright grey, not white, and take both again.",
        )  # fmt: skip
    return float(luminance(patch).mean())


def small_jpeg(data: bytes) -> bytes:
    """A photo as a small JPEG the right way up, which every browser shows, whatever it was sent as."""
    return as_jpeg(decode_photo(data).rgb, _SMALL_PX)


def as_jpeg(pixels: Pixels, longest_px: int = 4000) -> bytes:
    """Pixels of shape (height, width, 3) as a JPEG, made smaller if they are larger."""
    picture = Image.fromarray(pixels)
    picture.thumbnail((longest_px, longest_px))
    out = io.BytesIO()
    picture.save(out, "JPEG", quality=90)
    return out.getvalue()
