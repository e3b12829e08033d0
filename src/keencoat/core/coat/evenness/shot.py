"""A photo of a coat from its bytes: decoded and measured in one go."""

from dataclasses import dataclass

from keencoat.core.coat.evenness.film import Optics
from keencoat.core.coat.evenness.measure import CoatReading, measure_coat
from keencoat.core.errors import BadValueError
from keencoat.core.vision import SeenFace, SeenOutline, as_jpeg, decode_photo

_SHOWN_PX = 1200


@dataclass(frozen=True, eq=False)
class CoatShot:
    """A photo of a coat: its kind, and either what it shows, with the upright picture as JPEG, or why it cannot be
    measured."""

    kind: str
    reading: CoatReading | None = None
    upright: bytes = b""
    trouble: BadValueError | None = None


def measure_coat_shot(
    data: bytes, bare: bytes | None, face: SeenFace, optics: Optics, marked: SeenOutline | None
) -> CoatShot:
    """Measure a photo of a coat, beside one of the bare piece if there is one, within an outline `marked` by hand or
    where the piece is found. Raises BadValueError for a file that is no photo."""
    seen, seen_bare = decode_photo(data), decode_photo(bare, "bare") if bare else None
    try:
        reading = measure_coat(seen, face, optics, marked, seen_bare)
    except BadValueError as error:
        return CoatShot(seen.kind, trouble=error)
    return CoatShot(seen.kind, reading, as_jpeg(reading.upright, _SHOWN_PX))
