"""What somebody brings: a picture, a drawing or a list of names, read for the first time."""

from enum import StrEnum

from shapely.geometry.base import BaseGeometry

from keencoat.core.artwork.drawing import read_drawing
from keencoat.core.artwork.names import read_names
from keencoat.core.artwork.picture import decode_picture, for_screen
from keencoat.core.artwork.spec import ArtSpec, Source, first_spec

WORKING_SIDE_PX = 4000
"""Long side of a picture that is worked on: 300 mm at 0.08 mm a dot, nearly."""
_FIELD = "file"


class ArtKind(StrEnum):
    """What is brought."""

    PICTURE = "picture"
    DRAWING = "drawing"
    NAMES = "names"


def read_source(kind: ArtKind, data: bytes) -> Source:
    """What was brought, read. Raises BadValueError in words."""
    if kind is ArtKind.PICTURE:
        return for_screen(decode_picture(data, _FIELD), WORKING_SIDE_PX)
    return read_drawing(data, _FIELD) if kind is ArtKind.DRAWING else read_names(data, _FIELD)


def start_of(kind: ArtKind, data: bytes, room: BaseGeometry, one_tone: bool) -> ArtSpec:
    """What an artwork starts with, if it can be read at all: as large as the coat holds."""
    return first_spec(read_source(kind, data), room, one_tone)
