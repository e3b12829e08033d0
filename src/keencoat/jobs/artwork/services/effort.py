"""What the machine takes for an artwork."""

from dataclasses import dataclass
from threading import Condition

from cachetools import LRUCache, cached

from keencoat.core.artwork import WayTime, largest_fill_mm, other_ways
from keencoat.jobs.artwork.models import Artwork
from keencoat.jobs.artwork.services.making import ArtBase, made_of, outline_program, seconds_of


@dataclass(frozen=True)
class Effort:
    """What the machine takes for one piece: time, energy, how far the beam is on, lines, the side of the largest fill,
    and the time of other ways."""

    seconds: float = 0.0
    energy_j: float = 0.0
    lit_mm: float = 0.0
    lines: int = 0
    fill_mm: float = 0.0
    ways: tuple[WayTime, ...] = ()


@cached(LRUCache(16), key=made_of.cache_key, condition=Condition())
def effort_of(artwork: Artwork, base: ArtBase, piece: int) -> Effort:
    """What a piece takes; nothing where nothing is burned."""
    art, across = made_of(artwork, base, piece), artwork.asked().across
    if art.made is None or not art.made.dots.any():
        return Effort()
    program = base.program(art, across)
    # Lines drawn side by side are no fill: each has cooled before the next.
    fill_mm = 0.0
    ways: tuple[WayTime, ...] = ()
    if art.strokes is None:
        fill_mm = largest_fill_mm(art.made)
        outlines = outline_program(artwork, base, piece)
        ways = other_ways(art.made, base.setting, base.machine, base.size_mm, across, outlines)
    return Effort(seconds_of(program, base), program.energy_j, program.lit_mm, program.lines, fill_mm, ways)
