"""Photos from outside: checked before they are decoded, turned upright, and made small enough to work on.

An upload is hostile until checked: its kind by content, never by name; its size from the header, before a pixel is
decoded.
"""

import io
import struct
import zlib
from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PIL import Image, ImageOps, UnidentifiedImageError
from pillow_heif import register_heif_opener

from keencoat.core.errors import BadValueError

register_heif_opener()

Pixels = NDArray[np.uint8]
Floats = NDArray[np.floating[Any]]

MAX_PHOTO_BYTES = 30_000_000
MAX_PHOTO_PIXELS = 36_000_000
LEAST_SIDE_PX = 240
WORKING_SIDE_PX = 2000
"""Long side that measuring works on: about 12 px/mm for a piece of 100 mm that fills the picture."""

_FORMATS = ("JPEG", "PNG", "HEIF")
_BROKEN = (OSError, SyntaxError, EOFError, ValueError, KeyError, IndexError, struct.error, zlib.error, MemoryError)
"""What the readers of damaged or hostile pictures raise: torn headers, text and colour profiles that swell."""

_TAKE = "Send a JPEG, PNG or HEIC photo as the phone took it."


@dataclass(frozen=True, eq=False)
class Photo:
    """A decoded photo: `rgb` of shape (height, width, 3), upright; `scale` times the size it had in the file."""

    rgb: Pixels
    scale: float
    kind: str

    @property
    def size_px(self) -> tuple[int, int]:
        """Width and height as worked on, px."""
        return self.rgb.shape[1], self.rgb.shape[0]


def open_picture(data: bytes, field: str, formats: tuple[str, ...], least_side_px: int, take: str) -> Image.Image:
    """A picture from outside by its header alone: none of its pixels is decoded yet. `take` says what to send instead.
    Raises BadValueError for anything that is no picture, too large, too small, or broken."""
    if len(data) > MAX_PHOTO_BYTES:
        raise BadValueError(
            f"The file has {len(data) / 1e6:.0f} MB; {MAX_PHOTO_BYTES // 1_000_000} MB is the most.",
            field=field,
            hint="Take it at 12 megapixels, or save it as JPEG.",
        )
    try:
        with broken_told(field, take):
            image = Image.open(io.BytesIO(data), formats=formats)
    except UnidentifiedImageError as error:
        raise BadValueError("This file is not a photo that can be read.", field=field, hint=take) from error
    except Image.DecompressionBombError as error:
        raise BadValueError("The file claims far more pixels than a photo has.", field=field, hint=take) from error
    width, height = image.size
    if width * height > MAX_PHOTO_PIXELS:
        raise BadValueError(
            f"The photo has {width * height / 1e6:.0f} megapixels; {MAX_PHOTO_PIXELS // 1_000_000} is the most.",
            field=field,
            hint="12 megapixels are plenty: set the camera to that.",
        )
    if min(width, height) < least_side_px:
        raise BadValueError(
            f"The photo is only {width} × {height} pixels.",
            field=field,
            hint=f"It needs at least {least_side_px} on its short side; take it larger.",
        )
    return image


@contextmanager
def broken_told(field: str, take: str) -> Iterator[None]:
    """What the readers of damaged or hostile pictures raise inside comes out as a BadValueError."""
    try:
        yield
    except (BadValueError, UnidentifiedImageError):
        raise
    except _BROKEN as error:
        raise BadValueError(f"The photo is broken: {error}.", field=field, hint=f"Send it again. {take}") from error


def photo_kind(data: bytes) -> str:
    """JPEG, PNG or WEBP. Raises BadValueError as `decode_photo`."""
    return decode_photo(data).kind


def decode_photo(data: bytes, field: str = "photo") -> Photo:
    """Decode an uploaded photo. Raises BadValueError for anything that is no photo, too large, too small, or broken."""
    image = open_picture(data, field, _FORMATS, LEAST_SIDE_PX, _TAKE)
    width, height = image.size
    # A phone's two-picture JPEG has its large one first, and is served as what it is.
    kind = "JPEG" if image.format == "MPO" else image.format or ""
    with broken_told(field, _TAKE):
        # JPEG decodes to half or a quarter of its size for nearly nothing.
        share = WORKING_SIDE_PX / max(width, height)
        image.draft("RGB", (int(width * share), int(height * share)))
        upright = ImageOps.exif_transpose(image).convert("RGB")
    upright.thumbnail((WORKING_SIDE_PX, WORKING_SIDE_PX), Image.Resampling.BOX)
    pixels = np.asarray(upright, dtype=np.uint8)
    return Photo(pixels, max(pixels.shape[:2]) / max(width, height), kind)


def warm_decoders() -> None:
    """Load what decoding needs from disk: a process that may read nothing later can still decode."""
    for kind in ("JPEG", "PNG"):
        out = io.BytesIO()
        Image.new("RGB", (LEAST_SIDE_PX, LEAST_SIDE_PX)).save(out, kind)
        decode_photo(out.getvalue())


def linear_of(code: Floats) -> Floats:
    """Linear light of sRGB codes, both in 0…1 (IEC 61966-2-1)."""
    return np.where(code <= 0.04045, code / 12.92, ((code + 0.055) / 1.055) ** 2.4)


_TO_LINEAR = linear_of(np.arange(256) / 255.0).astype(np.float32)
_LUMINANCE = np.array([0.2126, 0.7152, 0.0722], dtype=np.float32)


def coded_of(linear: Floats) -> Floats:
    """Codes 0…1 of sRGB for linear light 0…1 (IEC 61966-2-1)."""
    linear = np.clip(linear, 0, 1)
    return np.where(linear <= 0.0031308, 12.92 * linear, 1.055 * linear ** (1 / 2.4) - 0.055)


def luminance(rgb: Pixels) -> Floats:
    """Relative luminance 0…1 in linear light, of sRGB pixels (IEC 61966-2-1); shape (height, width)."""
    return np.asarray(_TO_LINEAR[rgb] @ _LUMINANCE, dtype=np.float32)
