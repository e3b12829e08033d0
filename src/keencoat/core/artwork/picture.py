"""A picture that somebody brings, as what this trade needs of it: how light each of its points is.

Lightness is CIE 1976 L* over 100, so that equal steps look equal. Where a picture is see-through nothing is marked:
what lies under it is the piece, and no ground is guessed.
"""

from dataclasses import dataclass

import cv2
import numpy as np
from PIL import ImageOps, TiffImagePlugin

from keencoat.core.errors import BadValueError
from keencoat.core.vision import Floats, broken_told, lightness, lightness_of, linear_of, open_picture

FORMATS = ("JPEG", "PNG", "HEIF", TiffImagePlugin.TiffImageFile.format or "")
"""The reader of TIFF is loaded with this module: a process for what comes from outside may load none later."""
LEAST_SIDE_PX = 16
_TAKE = "Send a JPEG, PNG, TIFF or HEIC picture."


@dataclass(frozen=True, eq=False)
class Picture:
    """`light`: L*/100, 0 black to 1 white; `there`: how opaque, 0 to 1; both of shape (height, width), upright."""

    light: Floats
    there: Floats

    @property
    def see_through_share(self) -> float:
        """How much of it lets the piece show."""
        return float(1 - self.there.mean())


def decode_picture(data: bytes, field: str = "picture") -> Picture:
    """Decode a picture from outside. Sixteen-bit greys keep their steps, four-colour prints are read as if printed with
    plain inks. Raises BadValueError for anything that is no picture, too large, too small, or broken."""
    image = open_picture(data, field, FORMATS, LEAST_SIDE_PX, _TAKE)
    with broken_told(field, _TAKE):
        upright = ImageOps.exif_transpose(image)
        if upright.mode.startswith("I;16"):
            return _of_grey(np.asarray(upright, dtype=np.float32) / 65535)
        if upright.mode in ("I", "F"):
            raise BadValueError(
                "This picture has greys whose white is not told.",
                field=field,
                hint="Save it with 8 or 16 bits a point.",
            )
        # A palette's see-through entry, and that of a grey picture, come out as alpha too.
        rgba = np.asarray(upright.convert("RGBA"))
    return Picture(lightness_of(rgba[..., :3]) / 100, rgba[..., 3].astype(np.float32) / 255)


def _of_grey(code: Floats) -> Picture:
    """Grey codes of sRGB in 0…1 (IEC 61966-2-1), finer than 8 bits."""
    return Picture(np.asarray(lightness(linear_of(code)) / 100, dtype=np.float32), np.ones_like(code))


def resampled(picture: Picture, width: int, height: int) -> Picture:
    """The same picture with so many points: averaged where it gets coarser, drawn straight between points where finer.
    What is see-through weighs nothing in an average."""

    def plane(values: Floats) -> Floats:
        old_height, old_width = values.shape
        finer = width > old_width or height > old_height
        how = cv2.INTER_LINEAR if finer else cv2.INTER_AREA
        return np.asarray(cv2.resize(values, (width, height), interpolation=how))

    if picture.there.min() == 1:
        light = plane(picture.light)
        # One figure for all: a whole face of ones would take as much room as the face.
        return Picture(np.clip(light, 0, 1, out=light), np.broadcast_to(np.float32(1), light.shape))
    there, light = plane(picture.there), plane(picture.light * picture.there)
    light /= np.maximum(there, 1e-6)
    return Picture(np.clip(light, 0, 1, out=light), np.clip(there, 0, 1, out=there))


def for_screen(picture: Picture, longest_px: int) -> Picture:
    """The same picture, made smaller if it is larger than what a screen shows."""
    height, width = picture.light.shape
    share = longest_px / max(height, width)
    return picture if share >= 1 else resampled(picture, max(1, round(width * share)), max(1, round(height * share)))
