"""A photo made ready: cropped, its tones set, its ground taken away.

All on lightness (L*/100), in which equal steps look equal. Order: crop, ground, black and white point, gamma,
brightness and contrast, local contrast, sharpening. Lengths are shares of the picture's longer side, so that a small
picture on a screen shows what the large one will get.
"""

from dataclasses import dataclass

import cv2
import numpy as np

from keencoat.core.artwork.picture import Picture
from keencoat.core.errors import BadValueError, require_within
from keencoat.core.vision import Floats

_LEAST_CROP = 0.02
_LOCAL, _SHARP = 0.06, 0.0025
"""Radii of local contrast and of sharpening, in shares of the longer side."""
_EVEN_OVER = 0.01
"""How far round a point its evenness is looked at, likewise."""


@dataclass(frozen=True)
class Crop:
    """What of a picture is kept, in shares from its upper left corner."""

    left: float = 0.0
    top: float = 0.0
    right: float = 1.0
    bottom: float = 1.0

    def __post_init__(self) -> None:
        for name in ("left", "top", "right", "bottom"):
            require_within(getattr(self, name), 0, 1, f"crop.{name}")
        for low, high in (("left", "right"), ("top", "bottom")):
            if getattr(self, high) - getattr(self, low) < _LEAST_CROP:
                raise BadValueError(
                    f"The crop's {high} is not beyond its {low}.",
                    field=f"crop.{high}",
                    hint="Keep part of the picture.",
                )


@dataclass(frozen=True)
class ToneWork:
    """What is done to a photo's tones. `black` and `white`: the lightness that becomes black and white; `brightness`
    is added; `contrast` turns about the middle, from 0 (grey) over 1 (as it is) to 3; `gamma` above 1 lightens the
    middle; `local` and `sharpen`: how much of each detail is added; `ground`: how even, as a scatter of lightness, what
    touches the border must be to be taken away, 0 for nothing."""

    crop: Crop = Crop()
    black: float = 0.0
    white: float = 1.0
    gamma: float = 1.0
    brightness: float = 0.0
    contrast: float = 1.0
    local: float = 0.0
    sharpen: float = 0.0
    ground: float = 0.0

    def __post_init__(self) -> None:
        require_within(self.black, 0, 0.95, "black")
        require_within(self.white, 0.05, 1, "white")
        if self.white - self.black < 0.05:
            raise BadValueError(
                f"White at {self.white:g} is hardly above black at {self.black:g}.",
                field="white",
                hint="Leave at least 0.05 between them.",
            )
        require_within(self.gamma, 0.2, 5, "gamma")
        require_within(self.brightness, -0.5, 0.5, "brightness")
        require_within(self.contrast, 0, 3, "contrast")
        require_within(self.local, 0, 2, "local")
        require_within(self.sharpen, 0, 3, "sharpen")
        require_within(self.ground, 0, 0.2, "ground")


def toned(picture: Picture, work: ToneWork) -> Picture:
    """The picture as it is to look."""
    kept = _cropped(picture, work.crop)
    light, there = kept.light, kept.there
    longest = max(light.shape)
    if work.ground:
        there = np.where(even_ground(light, work.ground), np.float32(0), there)
    # In place from here on: a large photo in several copies would fill the memory.
    light = light - np.float32(work.black)
    light /= np.float32(work.white - work.black)
    np.clip(light, 0, 1, out=light)
    np.power(light, np.float32(1 / work.gamma), out=light)
    light -= np.float32(0.5)
    light *= np.float32(work.contrast)
    light += np.float32(0.5 + work.brightness)
    if work.local:
        _bring_out(light, work.local, _LOCAL * longest)
    if work.sharpen:
        _bring_out(light, work.sharpen, max(0.6, _SHARP * longest))
    return Picture(np.clip(light, 0, 1, out=light), there)


def _bring_out(light: Floats, much: float, sigma_px: float) -> None:
    """Add so much of what is finer than a blur of that width to the light itself."""
    fine = _blurred(light, sigma_px)
    np.subtract(light, fine, out=fine)
    fine *= np.float32(much)
    light += fine


def even_ground(light: Floats, scatter: float) -> Floats:
    """Which points are ground: about them lightness scatters by no more than that, and evenly so all the way from the
    border; shape of `light`."""
    side = max(3, 2 * round(_EVEN_OVER * max(light.shape)) + 1)
    square = cv2.sqrBoxFilter(light, cv2.CV_32F, (side, side), borderType=cv2.BORDER_REFLECT)
    mean = cv2.blur(light, (side, side), borderType=cv2.BORDER_REFLECT)
    square -= np.square(mean, out=mean)
    even = (square <= scatter**2).astype(np.uint8)
    del square, mean
    count, parts = cv2.connectedComponents(even, connectivity=4)
    is_ground = np.zeros(count, dtype=np.bool_)
    is_ground[np.concatenate([parts[0], parts[-1], parts[:, 0], parts[:, -1]])] = True
    is_ground[0] = False
    return np.asarray(is_ground[parts])


def _cropped(picture: Picture, crop: Crop) -> Picture:
    height, width = picture.light.shape
    rows = slice(int(crop.top * height), max(int(crop.top * height) + 1, round(crop.bottom * height)))
    columns = slice(int(crop.left * width), max(int(crop.left * width) + 1, round(crop.right * width)))
    return Picture(picture.light[rows, columns], picture.there[rows, columns])


def _blurred(light: Floats, sigma_px: float) -> Floats:
    """A wide blur by way of a smaller picture: its detail is gone anyway."""
    shrink = max(1, int(sigma_px / 3))
    if shrink == 1:
        return np.asarray(cv2.GaussianBlur(light, (0, 0), sigma_px, borderType=cv2.BORDER_REFLECT))
    height, width = light.shape
    small = cv2.resize(light, (max(1, width // shrink), max(1, height // shrink)), interpolation=cv2.INTER_AREA)
    soft = cv2.GaussianBlur(small, (0, 0), sigma_px / shrink, borderType=cv2.BORDER_REFLECT)
    return np.asarray(cv2.resize(soft, (width, height), interpolation=cv2.INTER_LINEAR))
