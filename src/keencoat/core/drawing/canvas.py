"""Paint upon paint: which places come out dark on white when everything is drawn in order.

Each place keeps the shade that lies on it, paint over paint as light adds up (Porter & Duff 1984, “over”); what ends up
darker than a middle grey is dark.
"""

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, replace
from itertools import groupby

from keencoat.core.drawing.areas import Area, joined, only_areas
from keencoat.core.drawing.style import Shade

_DARK = 0.5
_BLACK, _WHITE = Shade(0.0, 1.0), Shade(1.0, 1.0)


@dataclass(frozen=True, eq=False)
class Paint:
    """An area of one shade, and the named group that it is of."""

    group: str
    area: Area
    shade: Shade


@dataclass(frozen=True, eq=False)
class Sheet:
    """Paints that are put on together, as one sheet that is so opaque."""

    paints: "Sequence[Paint | Sheet]"
    opacity: float


Painted = Paint | Sheet


def dark_area(painted: Sequence[Painted], group: str | None = None) -> Area:
    """What is dark in the end, of one group or of all."""
    wanted = [*_of_group(painted, group)]
    if all(isinstance(paint, Paint) and paint.shade.opacity == 1 for paint in wanted):
        # Nothing shines through: black and white tell the same, and there are two shades to keep apart, not hundreds.
        wanted = [replace(p, shade=_BLACK if p.shade.light < _DARK else _WHITE) for p in wanted if isinstance(p, Paint)]
    dark = [
        area for shade, area in _laid(wanted, on_white=True).items() if 1 - shade.opacity * (1 - shade.light) < _DARK
    ]
    return joined(dark)


def groups_of(painted: Sequence[Painted]) -> list[str]:
    """The named groups in the order of their first paint; "" for what is in none."""
    return [*dict.fromkeys(_named(painted))]


def _named(painted: Iterable[Painted]) -> Iterator[str]:
    for paint in painted:
        if isinstance(paint, Sheet):
            yield from _named(paint.paints)
        else:
            yield paint.group


def _of_group(painted: Iterable[Painted], group: str | None) -> Iterator[Painted]:
    for paint in painted:
        if isinstance(paint, Sheet):
            inner = [*_of_group(paint.paints, group)]
            if inner:
                yield replace(paint, paints=inner)
        elif group is None or paint.group == group:
            yield paint


def _laid(painted: Iterable[Painted], on_white: bool) -> dict[Shade, Area]:
    """The shades that lie side by side once all is painted; white is nothing on white paper, but not on a sheet."""
    shades: dict[Shade, Area] = {}
    for shade, area in _runs(painted):
        lies: dict[Shade, list[Area]] = {}
        bare = area
        for under, where in shades.items():
            lies.setdefault(under, []).append(only_areas(where.difference(area)))
            if shade.opacity < 1:
                lies.setdefault(_over(shade, under), []).append(only_areas(where.intersection(area)))
                bare = only_areas(bare.difference(where))
        if not (on_white and shade == _WHITE):
            lies.setdefault(shade, []).append(bare)
        shades = {key: found for key, areas in lies.items() if not (found := joined(areas)).is_empty}
    return shades


def _runs(painted: Iterable[Painted]) -> Iterator[tuple[Shade, Area]]:
    """Paints of one shade that follow each other as one area, and sheets as the shades that lie on them."""
    for shade, run in groupby(painted, lambda paint: paint.shade if isinstance(paint, Paint) else None):
        if shade is not None and shade.opacity == 1:
            yield shade, joined([paint.area for paint in run if isinstance(paint, Paint)])
            continue
        for paint in run:
            if isinstance(paint, Paint):
                yield paint.shade, paint.area
            else:
                inner = _laid(paint.paints, on_white=False)
                yield from ((replace(s, opacity=s.opacity * paint.opacity), area) for s, area in inner.items())


def _over(shade: Shade, under: Shade) -> Shade:
    opacity = shade.opacity + under.opacity * (1 - shade.opacity)
    light = (shade.light * shade.opacity + under.light * under.opacity * (1 - shade.opacity)) / opacity
    return Shade(round(light, 6), round(opacity, 6))
