"""Transforms between coordinates, and outlines of what is marked.

What others may use of it; within the folder, modules import each other directly.
"""

from keencoat.core.geometry.outline import developed_cone, disc, largest_size, rectangle
from keencoat.core.geometry.page import svg_page
from keencoat.core.geometry.transform import Y_DOWN, Transform, offset, scale, to_picture, to_work, turn

__all__ = [
    "Y_DOWN",
    "Transform",
    "developed_cone",
    "disc",
    "largest_size",
    "offset",
    "rectangle",
    "scale",
    "svg_page",
    "to_picture",
    "to_work",
    "turn",
]
