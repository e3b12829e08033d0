"""What somebody brings: a picture, a drawing, a list of names or a text, read for the first time."""

from collections.abc import Callable
from enum import StrEnum

from shapely.geometry.base import BaseGeometry

from keencoat.core.artwork.names import read_names
from keencoat.core.artwork.picture import decode_picture, unread_picture
from keencoat.core.artwork.spec import ArtSpec, Source, first_spec
from keencoat.core.artwork.words import read_wording
from keencoat.core.drawing import read_drawing

WORKING_SIDE_PX = 3200
"""Long side of a picture that is worked on: what a spot of 0.1 mm holds over 320 mm. More would fill the memory."""
_FIELD = "file"


class ArtKind(StrEnum):
    """What is brought."""

    PICTURE = "picture"
    DRAWING = "drawing"
    NAMES = "names"
    TEXT = "text"


_READERS: dict[ArtKind, Callable[[bytes, str], Source]] = {
    ArtKind.DRAWING: read_drawing,
    ArtKind.NAMES: read_names,
    ArtKind.TEXT: read_wording,
}


def read_source(kind: ArtKind, data: bytes) -> Source:
    """What was brought, read. Raises BadValueError in words."""
    if kind is ArtKind.PICTURE:
        return decode_picture(data, _FIELD, WORKING_SIDE_PX)
    return _READERS[kind](data, _FIELD)


def sketch_source(kind: ArtKind, data: bytes) -> Source:
    """As `read_source`, of a picture its size alone: pieces and proportions need no more."""
    return unread_picture(data, WORKING_SIDE_PX, _FIELD) if kind is ArtKind.PICTURE else read_source(kind, data)


def start_of(kind: ArtKind, data: bytes, room: BaseGeometry, one_tone: bool) -> tuple[ArtSpec, Source | None]:
    """What an artwork starts with, if it can be read at all: as large as the coat holds; and what was read, but for a
    picture, which is large and quickly read again."""
    source = read_source(kind, data)
    return first_spec(source, room, one_tone), None if kind is ArtKind.PICTURE else source
