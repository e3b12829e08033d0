"""A picture that somebody brings, as what this trade needs of it: how light each of its points is.

Lightness is CIE 1976 L* over 100, so that equal steps look equal. Where a picture is see-through nothing is marked:
what lies under it is the piece, and no ground is guessed.
"""

from dataclasses import dataclass

import cv2
import numpy as np
from PIL import ExifTags, Image, ImageOps, TiffImagePlugin

from keencoat.core.errors import BadValueError
from keencoat.core.vision import Floats, broken_told, lightness, lightness_of, linear_of, open_picture

FORMATS = ("JPEG", "PNG", "HEIF", TiffImagePlugin.TiffImageFile.format or "")
"""The reader of TIFF is loaded with this module: a process for what comes from outside may load none later."""
LEAST_SIDE_PX, _BAND = 16, 256
_ON_ITS_SIDE = 5
"""From this EXIF orientation on width and height change places."""
_TAKE = "Send a JPEG, PNG, TIFF or HEIC picture."


@dataclass(frozen=True, eq=False)
class Picture:
    """`light`: L*/100, 0 black to 1 white; `there`: how opaque, 0 to 1; both of shape (height, width), upright."""

    light: Floats
    there: Floats

    def __reduce__(self) -> tuple[object, ...]:
        # Ones that take no room here would take all of it on their way to another process.
        return (opaque, (self.light,)) if self.is_opaque else (Picture, (self.light, self.there))

    @property
    def is_opaque(self) -> bool:
        """Whether nothing of the piece shows through it."""
        return bool(self.there.min() == 1)

    @property
    def see_through_share(self) -> float:
        """How much of it lets the piece show."""
        return float(1 - self.there.mean())


def opaque(light: Floats) -> Picture:
    """A picture that nothing shows through."""
    # One figure for all: a whole face of ones would take as much room as the face.
    return Picture(light, np.broadcast_to(np.float32(1), light.shape))


def decode_picture(data: bytes, field: str = "picture", longest_px: int | None = None) -> Picture:
    """Decode a picture from outside, made smaller as it is read if it is larger than that. Sixteen-bit greys keep their
    steps, four-colour prints are read as if printed with plain inks. Raises BadValueError for anything that is no
    picture, too large, too small, or broken."""
    image = open_picture(data, field, FORMATS, LEAST_SIDE_PX, _TAKE)
    with broken_told(field, _TAKE):
        ImageOps.exif_transpose(image, in_place=True)
        if image.mode in ("I", "F"):
            raise BadValueError(
                "This picture has greys whose white is not told.",
                field=field,
                hint="Save it with 8 or 16 bits a point.",
            )
        tall, (height, width) = image.height, _on_screen((image.height, image.width), longest_px)
        light = np.empty((tall, width), np.float32)
        there = np.empty_like(light) if image.has_transparency_data else np.broadcast_to(np.float32(1), light.shape)
        # A band at a time: the largest photo in several copies would fill the memory.
        for start in range(0, tall, _BAND):
            part = _points_of(image.crop((0, start, image.width, min(tall, start + _BAND))))
            if width < image.width:
                part = resampled(part, width, len(part.light))
            light[start : start + _BAND] = part.light
            if there.flags.writeable:
                there[start : start + _BAND] = part.there
        image.close()
    whole = Picture(light, there)
    return whole if height == tall else resampled(whole, width, height)


def _points_of(image: Image.Image) -> Picture:
    if image.mode.startswith("I;16"):
        code = np.asarray(image, dtype=np.float32) / 65535
        # Greys of sRGB in 0…1 (IEC 61966-2-1), finer than 8 bits.
        return opaque(np.asarray(lightness(linear_of(code)) / 100, dtype=np.float32))
    # A palette's see-through entry, and that of a grey picture, come out as alpha too.
    points = np.asarray(image.convert("RGBA" if image.has_transparency_data else "RGB"))
    light = lightness_of(points[..., :3]) / 100
    return opaque(light) if points.shape[2] == 3 else Picture(light, points[..., 3].astype(np.float32) / 255)


def unread_picture(data: bytes, longest_px: int, field: str = "picture") -> Picture:
    """A picture of the size that this one has `for_screen`, by its header alone, and nothing in it. Raises
    BadValueError for what is no picture."""
    image = open_picture(data, field, FORMATS, LEAST_SIDE_PX, _TAKE)
    with broken_told(field, _TAKE):
        # A TIFF is opened upright.
        lies = image.format != "TIFF" and image.getexif().get(ExifTags.Base.Orientation, 1) >= _ON_ITS_SIDE
    nothing = np.broadcast_to(np.float32(0), _on_screen(image.size if lies else image.size[::-1], longest_px))
    return Picture(nothing, nothing)


def resampled(picture: Picture, width: int, height: int) -> Picture:
    """The same picture with so many points: averaged where it gets coarser, drawn straight between points where finer.
    What is see-through weighs nothing in an average."""

    def plane(values: Floats) -> Floats:
        old_height, old_width = values.shape
        finer = width > old_width or height > old_height
        how = cv2.INTER_LINEAR if finer else cv2.INTER_AREA
        return np.asarray(cv2.resize(values, (width, height), interpolation=how))

    if picture.is_opaque:
        light = plane(picture.light)
        return opaque(np.clip(light, 0, 1, out=light))
    there, light = plane(picture.there), plane(picture.light * picture.there)
    light /= np.maximum(there, 1e-6)
    return Picture(np.clip(light, 0, 1, out=light), np.clip(there, 0, 1, out=there))


def for_screen(picture: Picture, longest_px: int) -> Picture:
    """The same picture, made smaller if it is larger than what a screen shows."""
    height, width = size = _on_screen(picture.light.shape, longest_px)
    return picture if size == picture.light.shape else resampled(picture, width, height)


def _on_screen(size: tuple[int, ...], longest_px: int | None) -> tuple[int, int]:
    """Height and width with the longer side no longer than that, if anything is said."""
    share = min(1.0, (longest_px or max(size)) / max(size))
    return max(1, round(size[0] * share)), max(1, round(size[1] * share))
