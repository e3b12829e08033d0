"""A job's artworks as the run sheet shows them: picture, time, the file's name."""

from dataclasses import dataclass
from threading import Condition

from cachetools import LRUCache, cached

from keencoat.core.errors import KeenCoatError, NotYetError
from keencoat.jobs.artwork.models import Artwork
from keencoat.jobs.artwork.services.files import Taken
from keencoat.jobs.artwork.services.making import ArtBase, base_of, burned_of, made_of, seconds_of
from keencoat.jobs.artwork.services.views import Look, Way, whole_view
from keencoat.jobs.models import Job
from keencoat.shop.soon import soon

_PX = 420


@dataclass(frozen=True)
class SheetArt:
    """An artwork on the sheet: the first piece as it is expected to burn (PNG), how long one takes, s, its G-code."""

    name: str
    picture: bytes
    seconds: float
    file: str


def artworks_on_sheet(job: Job) -> list[SheetArt]:
    """Those that can be burned at the locked setting. Raises NotYetError while they are being drawn."""
    base, rows = base_of(job), [*job.artworks.defer("source")]
    found: list[SheetArt | None] = []
    for artwork in rows:
        artwork.job = job
        try:
            found.append(soon(sheet_art, artwork, base, 0))
        except NotYetError as error:
            told = f"{len(found)} of {len(rows)} artworks of this sheet are drawn."
            raise NotYetError(told, hint=error.hint) from error
    return [art for art in found if art is not None]


@cached(LRUCache(64), key=made_of.cache_key, condition=Condition())
def sheet_art(artwork: Artwork, base: ArtBase, piece: int) -> SheetArt | None:
    """An artwork as the sheet shows it; None for what cannot be burned, which says why in its own chapter."""
    try:
        art = made_of(artwork, base, piece)
        program = base.program(art, artwork.asked().across)
    except KeenCoatError:
        return None
    picture = whole_view(art, base, Look(Way.BURNED, _PX), burned_of(artwork, base, piece))
    return SheetArt(artwork.name, picture, seconds_of(program, base), f"{Taken(artwork, base, piece).stem}.gcode")
