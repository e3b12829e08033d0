"""Drawings from outside (SVG 1.1) as dark areas in mm, by their named groups.

Painted in order as a picture is: what comes out darker than a middle grey is dark. Lines are as wide as they are drawn.
What would change the picture in a way that is not followed is refused; letters must be outlines, since the fonts that
they were set in are not here.
"""

from dataclasses import dataclass

from shapely import GEOSException
from shapely.affinity import affine_transform

from keencoat.core.drawing.areas import Area
from keencoat.core.drawing.canvas import dark_area, groups_of
from keencoat.core.drawing.style import PX_PER_INCH
from keencoat.core.drawing.untrusted import checked_tree, refused
from keencoat.core.drawing.walk import Walk
from keencoat.core.errors import BadValueError
from keencoat.core.quantities import MM_PER_INCH

_MM_PER_PX = MM_PER_INCH / PX_PER_INCH


@dataclass(frozen=True)
class Drawing:
    """Dark areas in mm, zero at the lower left of the drawing's page, y up; `area` is what is dark when all is drawn,
    `groups` what each outermost named group comes to by itself, in drawing order, "" for what lies in none."""

    width_mm: float
    height_mm: float
    area: Area
    groups: dict[str, Area]

    @property
    def layers(self) -> list[str]:
        """The named groups, in drawing order."""
        return [name for name in self.groups if name]


def read_drawing(data: bytes, field: str = "drawing") -> Drawing:
    """Read an SVG. Raises BadValueError for what is none, is too much, holds what it may not, or marks nothing."""
    try:
        return _read(data)
    except BadValueError as error:
        raise BadValueError(error.message, field=field, hint=error.hint) from error
    except GEOSException as error:
        raise BadValueError(
            "The outlines of this drawing cannot be followed.", field=field, hint="Simplify its curves."
        ) from error


def _read(data: bytes) -> Drawing:
    root = checked_tree(data)
    walk = Walk(root)
    wide, high = walk.page
    painted = [*walk.painted()]
    down = [_MM_PER_PX, 0, 0, -_MM_PER_PX, 0, high * _MM_PER_PX]

    def in_mm(group: str | None) -> Area:
        return affine_transform(dark_area(painted, group), down)

    names = groups_of(painted)
    groups = {name: area for name in names if not (area := in_mm(name)).is_empty}
    whole = groups[names[0]] if len(names) == 1 and groups else in_mm(None)
    if whole.is_empty:
        raise refused("The drawing has nothing dark in it.", "Fill what is to be burned with black.")
    return Drawing(wide * _MM_PER_PX, high * _MM_PER_PX, whole, groups)
