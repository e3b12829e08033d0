"""A guide plate for a turning device: pockets for its feet, so that it comes back to the same place."""

from dataclasses import dataclass

from shapely.geometry import box

from keencoat.core.errors import BadValueError, require_within
from keencoat.core.jig.cut_sheet import CutSheet, Stroke, cross_strokes
from keencoat.core.jig.layout import inside_of

_MARGIN_MM = 20.0


@dataclass(frozen=True)
class Feet:
    """A device's feet as measured: how far apart their middles are along its axis and across it (across 0: one row),
    and how long (along the axis) and wide each one is; mm."""

    apart_mm: float
    across_mm: float
    length_mm: float
    width_mm: float

    def __post_init__(self) -> None:
        require_within(self.apart_mm, 10, 2000, "apart_mm", "mm")
        require_within(self.across_mm, 0, 1000, "across_mm", "mm")
        require_within(self.length_mm, 2, 500, "length_mm", "mm")
        require_within(self.width_mm, 2, 500, "width_mm", "mm")
        for between, foot, name in (
            (self.apart_mm, self.length_mm, "length_mm"),
            (self.across_mm or 2 * self.width_mm, self.width_mm, "width_mm"),
        ):
            if between - foot < 2:
                raise BadValueError(
                    f"Feet of {foot:g} mm whose middles are {between:g} mm apart leave no bridge between their "
                    "pockets.",
                    field=name,
                    hint="Measure from middle to middle, or take feet that touch as one.",
                )

    @property
    def middles(self) -> list[tuple[float, float]]:
        """About the device's middle, its axis along x."""
        rows = (0.0,) if self.across_mm == 0 else (-self.across_mm / 2, self.across_mm / 2)
        return [(x, y) for y in rows for x in (-self.apart_mm / 2, self.apart_mm / 2)]


def guide_sheet(feet: Feet, play_mm: float, kerf_mm: float) -> CutSheet:
    """The plate with a pocket for every foot, the axis marked, and crosses on it by which the plate is squared."""
    require_within(play_mm, 0, 2, "play_mm", "mm")
    require_within(kerf_mm, 0, 1.9, "kerf_mm", "mm")
    width = feet.apart_mm + feet.length_mm + 2 * _MARGIN_MM
    height = feet.across_mm + feet.width_mm + 2 * _MARGIN_MM
    half = (feet.length_mm + play_mm) / 2, (feet.width_mm + play_mm) / 2
    x0, y0 = width / 2, height / 2
    pockets = [box(x0 + x - half[0], y0 + y - half[1], x0 + x + half[0], y0 + y + half[1]) for x, y in feet.middles]
    marks: list[Stroke] = []
    for x in (_MARGIN_MM / 2, width - _MARGIN_MM / 2):
        marks += cross_strokes(x, y0)
    return CutSheet((width, height), tuple(inside_of(p, kerf_mm) for p in pockets), tuple(marks))
