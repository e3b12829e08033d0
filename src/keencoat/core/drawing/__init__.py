"""Drawings from outside as areas: what is dark in them, in mm.

What others may use of it; within the folder, modules import each other directly.
"""

from keencoat.core.drawing.areas import NOTHING, Area, FillRule, Ring, area_of
from keencoat.core.drawing.flat import RingPen
from keencoat.core.drawing.read import Drawing, read_drawing

__all__ = ["NOTHING", "Area", "Drawing", "FillRule", "Ring", "RingPen", "area_of", "read_drawing"]
