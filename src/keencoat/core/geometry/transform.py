"""From one set of plane coordinates to another: piece → work → machine, or piece → picture.

A piece's own coordinates have their zero at its middle, x right and y up, as the maker looks at the finished mark. Work
coordinates have it at the lower left corner of the piece's box, as the beam meets the piece: mirrored where the mark is
seen through it. Pictures have it at the upper left corner, y down.
"""

import math
from dataclasses import dataclass
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

Number = TypeVar("Number", float, NDArray[np.float64])


@dataclass(frozen=True)
class Transform:
    """x' = xx·x + xy·y + x0, y' = yx·x + yy·y + y0: an affine map of the plane.

    >>> offset(10, 0).then(Y_DOWN).then(scale(3)).at(0.0, 5.0)
    (30.0, -15.0)
    """

    xx: float = 1.0
    xy: float = 0.0
    x0: float = 0.0
    yx: float = 0.0
    yy: float = 1.0
    y0: float = 0.0

    def at(self, x: Number, y: Number) -> tuple[Number, Number]:
        """Where points come to; figures or columns of them."""
        return self.xx * x + self.xy * y + self.x0, self.yx * x + self.yy * y + self.y0

    def then(self, after: "Transform") -> "Transform":
        """This one, and then `after`."""
        x0, y0 = after.at(self.x0, self.y0)
        return Transform(
            after.xx * self.xx + after.xy * self.yx,
            after.xx * self.xy + after.xy * self.yy,
            x0,
            after.yx * self.xx + after.yy * self.yx,
            after.yx * self.xy + after.yy * self.yy,
            y0,
        )

    def back(self) -> "Transform":
        """The way back. Raises ZeroDivisionError for a map that flattens the plane, which no maker here makes."""
        size = self.xx * self.yy - self.xy * self.yx
        xx, xy, yx, yy = self.yy / size, -self.xy / size, -self.yx / size, self.xx / size
        return Transform(xx, xy, -xx * self.x0 - xy * self.y0, yx, yy, -yx * self.x0 - yy * self.y0)


def offset(x_mm: float, y_mm: float) -> Transform:
    """Moved by so much."""
    return Transform(x0=x_mm, y0=y_mm)


def turn(degrees: float) -> Transform:
    """Turned about zero, counterclockwise where y points up."""
    cos, sin = math.cos(math.radians(degrees)), math.sin(math.radians(degrees))
    return Transform(cos, -sin, 0.0, sin, cos, 0.0)


def scale(times: float) -> Transform:
    """So many times as large: from mm to pixels, say."""
    return Transform(xx=times, yy=times)


MIRROR = Transform(xx=-1.0)
"""Left for right: what is seen through the piece."""

Y_DOWN = Transform(yy=-1.0)
"""Upside down: between coordinates with y up and pictures with y down."""


def to_work(width_mm: float, height_mm: float, mirrored: bool) -> Transform:
    """From a piece's own coordinates to those of the work."""
    return (MIRROR if mirrored else Transform()).then(offset(width_mm / 2, height_mm / 2))


def to_picture(width_mm: float, height_mm: float, mirrored: bool) -> Transform:
    """From a piece's own coordinates to a drawing of the work: mm, zero at the upper left, y down."""
    return to_work(width_mm, height_mm, mirrored).then(Y_DOWN).then(offset(0.0, height_mm))
