"""Photos decoded, searched for shapes, squared up, and their light evened.

What others may use of it; within the folder, modules import each other directly.
"""

from keencoat.core.vision.lens import bent, lens_of, straightened
from keencoat.core.vision.lightness import (
    delta_e_2000,
    lab_of,
    lightness,
    lightness_of,
    luminance_for,
    michelson_contrast,
    weber_contrast,
)
from keencoat.core.vision.outline import EdgeKind, SeenOutline, check_points, find_outline, find_outlines
from keencoat.core.vision.photo import (
    MAX_PHOTO_BYTES,
    Floats,
    Photo,
    Pixels,
    broken_told,
    coded_of,
    decode_photo,
    linear_of,
    luminance,
    open_picture,
    photo_kind,
    warm_decoders,
)
from keencoat.core.vision.pictures import as_jpeg, middle_light, small_jpeg, thumb_jpeg
from keencoat.core.vision.quads import corners_of, line_through, meet, sides_of
from keencoat.core.vision.rectify import (
    LEAST_PX_PER_MM,
    MOST_PX_PER_MM,
    SEEN_DEG,
    SeenFace,
    face_mask,
    homography,
    mapped,
    mapped_raster,
    pixels_per_mm,
    rectify,
)
from keencoat.core.vision.streaks import Streaks, are_streaks, find_streaks
from keencoat.core.vision.surface import fit_light

__all__ = [
    "LEAST_PX_PER_MM",
    "MAX_PHOTO_BYTES",
    "MOST_PX_PER_MM",
    "SEEN_DEG",
    "EdgeKind",
    "Floats",
    "Photo",
    "Pixels",
    "SeenFace",
    "SeenOutline",
    "Streaks",
    "are_streaks",
    "as_jpeg",
    "bent",
    "broken_told",
    "check_points",
    "coded_of",
    "corners_of",
    "decode_photo",
    "delta_e_2000",
    "face_mask",
    "find_outline",
    "find_outlines",
    "find_streaks",
    "fit_light",
    "homography",
    "lab_of",
    "lens_of",
    "lightness",
    "lightness_of",
    "line_through",
    "linear_of",
    "luminance",
    "luminance_for",
    "mapped",
    "mapped_raster",
    "meet",
    "michelson_contrast",
    "middle_light",
    "open_picture",
    "photo_kind",
    "pixels_per_mm",
    "rectify",
    "sides_of",
    "small_jpeg",
    "straightened",
    "thumb_jpeg",
    "warm_decoders",
    "weber_contrast",
]
