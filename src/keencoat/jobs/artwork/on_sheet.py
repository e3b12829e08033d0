"""A job's artworks as the run sheet shows them: picture, time, the file's name."""

from dataclasses import dataclass

from keencoat.core.errors import KeenCoatError
from keencoat.jobs.artwork.services.files import Taken
from keencoat.jobs.artwork.services.making import base_of, burned_of, made_of, seconds_of
from keencoat.jobs.artwork.services.views import Look, Way, whole_view
from keencoat.jobs.models import Job

_PX = 420


@dataclass(frozen=True)
class SheetArt:
    """An artwork on the sheet: the first piece as it is expected to burn (PNG), how long one takes, s, its G-code."""

    name: str
    picture: bytes
    seconds: float
    file: str


def artworks_on_sheet(job: Job) -> list[SheetArt]:
    """Those that can be burned at the locked setting."""
    shown = []
    base = base_of(job)
    for artwork in job.artworks.defer("source"):
        artwork.job = job
        try:
            art = made_of(artwork, base)
            program = base.program(art, artwork.asked().across)
        except KeenCoatError:
            # What cannot be burned says why in its own chapter.
            continue
        picture = whole_view(art, base, Look(Way.BURNED, _PX), burned_of(artwork, base, 0))
        seconds = seconds_of(program, base)
        shown.append(SheetArt(artwork.name, picture, seconds, f"{Taken(artwork, base, 0).stem}.gcode"))
    return shown
