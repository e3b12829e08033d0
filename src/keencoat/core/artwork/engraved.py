"""Artwork drawn in lines: letters of single strokes, or the outlines of areas, each gone along once a pass."""

import math
from dataclasses import dataclass

import numpy as np
from shapely import LineString, MultiLineString, get_parts, line_merge
from shapely.geometry.base import BaseGeometry

from keencoat.core.artwork.burned import Burned, burned_from
from keencoat.core.artwork.made import Lines, MadeDots, dots_of_area
from keencoat.core.artwork.spread import JUST_ENOUGH, PACE
from keencoat.core.errors import BadValueError
from keencoat.core.geometry import to_work
from keencoat.core.quantities import Machine, Setting
from keencoat.core.rating import Rating
from keencoat.core.toolpath import Item, Part, Polylines, Stroke
from keencoat.core.vision import Floats
from keencoat.core.window import PlaceOdds

MAX_STROKES = 5_000
_SMOOTH_MM = 0.02
"""How far outlines may leave their curves: every corner costs the head a stop."""
_JUST_SEEN_LN, _MOST_SHOWN = 0.5, 4e6


@dataclass(frozen=True, eq=False)
class MadeStrokes:
    """Polylines on the piece (zero at its middle, y up) in the order in which they are drawn, lines `width_mm` wide."""

    strokes: tuple[Stroke, ...]
    width_mm: float

    def program(
        self, setting: Setting, machine: Machine, size_mm: tuple[float, float], mirrored: bool, turned: bool = False
    ) -> Polylines:
        """What the head does: in work coordinates of a piece of that width and height, as `MadeDots.program` has it."""
        place = to_work(*size_mm, mirrored)
        drawn = []
        for stroke in self.strokes:
            x, y = place.at(*np.array(stroke).T)
            drawn.append(tuple(zip(*(at.tolist() for at in ((size_mm[1] - y, x) if turned else (x, y))), strict=True)))
        return Polylines(tuple(drawn), setting, machine, Item(Part.ARTWORK))

    def as_dots(self, room: BaseGeometry) -> MadeDots:
        """How they look, as square dots of half their width, or of what a screen can show of a large piece."""
        seen = MultiLineString([LineString(stroke) for stroke in self.strokes]).buffer(self.width_mm / 2)
        left, low, right, top = seen.bounds
        side_mm = max(self.width_mm / 2, math.sqrt((right - left) * (top - low) / _MOST_SHOWN))
        return dots_of_area(seen, Lines(side_mm, side_mm, room))


def stroke_width_mm(spot_mm: float, margin_ln: float) -> float:
    """How wide a line comes out whose energy is e^margin over what is just enough: the closed form of a Gaussian over a
    threshold, d·√(ln(E/E₀)/2) with the spot's 1/e² diameter (Liu 1982). A line that is just enough is seen, half a
    spot wide: E₀ is taken e^½ under it (own estimate).

    >>> round(stroke_width_mm(0.1, 0.0), 3), round(stroke_width_mm(0.1, 1.5), 3)
    (0.05, 0.1)
    """
    return spot_mm * math.sqrt((max(0.0, margin_ln) + _JUST_SEEN_LN) / 2)


def strokes_of(ink: BaseGeometry, room: BaseGeometry, width_mm: float) -> MadeStrokes:
    """Lines as they are, areas by their outlines, kept inside the room; each begins where it is nearest to the end of
    the one before. Raises BadValueError where nothing is left, and for more than MAX_STROKES."""
    wanted = [line for part in get_parts(ink) for line in _lines_of(part)]
    kept = [piece for line in wanted for piece in _inside(line, room)]
    if not kept:
        raise BadValueError("None of it lies on the coat.", field="placement", hint="Move it onto the coated area.")
    if len(kept) > MAX_STROKES:
        raise BadValueError(
            f"These are {len(kept):,} lines; {MAX_STROKES:,} is the most.", field="outlines", hint="Fill it instead."
        )
    return MadeStrokes(_in_order([tuple((x, y) for x, y in line.coords) for line in kept]), width_mm)


def strokes_as_burned(seen: MadeDots, odds: PlaceOdds, ln_film: Floats | float = 0.0) -> Burned:
    """What lines become by the strokes' own window, each place of them as any other but for its film: `seen` are the
    dots that show them, `ln_film` one figure, or one a dot."""
    film = np.broadcast_to(np.asarray(ln_film, dtype=np.float32), seen.dots.shape)
    usual, its_film = np.zeros(seen.dots.shape, np.float32), film if film.any() else 0.0
    faint, harsh = (odds.of(rating, usual, its_film) for rating in (Rating.FAINT, Rating.HARSH))
    full = np.clip(JUST_ENOUGH + PACE * (odds.margin_ln - odds.film_ln * film), 0, 1)
    there = seen.dots.astype(np.float32)
    return burned_from(seen.dots, *(np.asarray(face * there, dtype=np.float32) for face in (full, faint, harsh)))


def _lines_of(part: BaseGeometry) -> list[LineString]:
    if isinstance(part, LineString):
        return [part]
    return [LineString(ring.coords) for ring in get_parts(part.simplify(_SMOOTH_MM).boundary)]


def _inside(line: LineString, room: BaseGeometry) -> list[LineString]:
    if room.covers(line):
        return [line]
    cut = [part for part in get_parts(line.intersection(room)) if isinstance(part, LineString) and not part.is_empty]
    return [*get_parts(line_merge(MultiLineString(cut)))] if cut else []


def _in_order(strokes: list[Stroke]) -> tuple[Stroke, ...]:
    """From the lower left to the nearest end of any stroke, along it, and so on."""
    ends = np.array([(stroke[0], stroke[-1]) for stroke in strokes])
    waits = np.ones(len(strokes), dtype=bool)
    at, drawn = np.array([ends[..., 0].min(), ends[..., 1].min()]), []
    for _ in strokes:
        away = np.where(waits[:, None], np.hypot(*(ends - at).transpose(2, 0, 1)), np.inf)
        which, end = divmod(int(away.argmin()), 2)
        waits[which] = False
        drawn.append(strokes[which][::-1] if end else strokes[which])
        at = ends[which, 1 - end]
    return tuple(drawn)
