"""Artwork as files that a laser takes, and as a proof on paper."""

import io
import zipfile
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass

from keencoat.core.artwork import area_svg, bled, dots_png, greys_of_picture, greys_png, piece_count, strokes_svg, toned
from keencoat.core.errors import BadValueError
from keencoat.core.toolpath import gcode_lines
from keencoat.jobs.artwork.models import Artwork
from keencoat.jobs.artwork.services.bringing import picture_of, sketch_of
from keencoat.jobs.artwork.services.making import ArtBase, made_of, outlines_of

_LINES_AT_ONCE = 4000


@dataclass(frozen=True)
class Taken:
    """Which artwork is taken, for which piece (from 0), on which base."""

    artwork: Artwork
    base: ArtBase
    piece: int

    @property
    def title(self) -> str:
        """Job, artwork and its version, the piece's own name, and the setting's version."""
        label = made_of(self.artwork, self.base, self.piece).label
        own = f", {label}" if label else ""
        a = self.artwork
        lies = ", piece turned a quarter counterclockwise" if a.asked().across else ""
        return f"{a.job.name}, {a.name} v{a.version}{own}, setting v{self.base.key[1]}{lies}"

    @property
    def stem(self) -> str:
        """What its files are called."""
        return f"{self.artwork.stem}-piece{self.piece + 1}"


def all_pieces_of(artwork: Artwork) -> int:
    """How many pieces a file of all of them holds."""
    return piece_count(sketch_of(artwork), artwork.asked())


def gcode_of(taken: Taken) -> Iterator[str]:
    """The artwork as G-code, a few thousand lines at a time. Raises BadValueError before the first one where nothing
    can be burned."""
    base = taken.base
    across = taken.artwork.asked().across
    program = base.program(made_of(taken.artwork, base, taken.piece), across)
    if not program.lines:
        raise BadValueError("Nothing of it is burned.", field="tone", hint="Change its tones, its size or its place.")
    return in_blocks(gcode_lines(program, base.machine, taken.title, base.mirrored, base.focus))


def in_blocks(lines: Iterable[tuple[object, str]]) -> Iterator[str]:
    """Lines of G-code, a few thousand at a time."""
    some: list[str] = []
    for _, line in lines:
        some.append(line)
        if len(some) >= _LINES_AT_ONCE:
            yield "\n".join(some) + "\n"
            some.clear()
    yield "\n".join(some) + "\n"


def png_of(taken: Taken) -> bytes:
    """The dots as a picture of their true resolution."""
    made = made_of(taken.artwork, taken.base, taken.piece).burnable()
    return dots_png(made, taken.title, taken.base.mirrored)


def grey_of(taken: Taken) -> bytes:
    """A photo's greys before they become dots, at the resolution of its lines. Raises BadValueError for all else."""
    base, spec = taken.base, taken.artwork.asked()
    picture = toned(picture_of(taken.artwork), spec.tone)
    lines = bled(base.lines, spec)
    greys = greys_of_picture(picture, spec.placement, lines, base.tones(spec))
    return greys_png(greys, lines, f"{taken.title}, greys", base.mirrored)


def svg_of(taken: Taken) -> str:
    """The outlines, or the lines of what is engraved. Raises BadValueError for a picture, which has none, and for
    a name that is left out."""
    size = taken.base.size_mm
    art = made_of(taken.artwork, taken.base, taken.piece)
    art.burnable()
    if art.strokes is not None:
        return strokes_svg(art.strokes, size, taken.title, taken.base.mirrored)
    area = outlines_of(taken.artwork, taken.base, taken.piece)
    if area is None:
        raise BadValueError("A picture of dots has no outlines.", field="format", hint="Take the PNG or the G-code.")
    return area_svg(area, size, taken.title, taken.base.mirrored)


def zip_of(artwork: Artwork, base: ArtBase, tell: Callable[[int], None]) -> bytes:
    """PNG and G-code of every piece that can be burned, in one file; `tell` is told before each how many are done."""
    out = io.BytesIO()
    with zipfile.ZipFile(out, "w", zipfile.ZIP_DEFLATED) as archive:
        for piece in range(all_pieces_of(artwork)):
            tell(piece)
            if made_of(artwork, base, piece).made is None:
                continue
            taken = Taken(artwork, base, piece)
            archive.writestr(f"{taken.stem}.png", png_of(taken))
            archive.writestr(f"{taken.stem}.gcode", "".join(gcode_of(taken)))
    return out.getvalue()
