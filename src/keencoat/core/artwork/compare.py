"""A photo of a burned piece beside what was expected of it, compared in millimetre squares.

A photo does not tell how light anything is, only against what: bare ground and full mark are taken from the photo
itself, where both are expected to be in it. What is compared is everything between.
"""

from dataclasses import dataclass, replace

import cv2
import numpy as np

from keencoat.core.artwork.burned import FAINT_UNDER
from keencoat.core.artwork.flaws import Doubled, Flaws, LaidOn, flaws_of
from keencoat.core.artwork.landing import Landing
from keencoat.core.artwork.laying import JUMP_PX_PER_MM, PX_PER_MM, NotAlikeError, Squared, lay_on_expected
from keencoat.core.artwork.tone_curve import Look
from keencoat.core.errors import BadValueError, KeenCoatError
from keencoat.core.vision import (
    Floats,
    Pixels,
    SeenFace,
    SeenOutline,
    as_jpeg,
    decode_photo,
    fit_light,
    luminance,
)

_BARE_ROUND_MM = 0.6
_LEAST_BARE, _LEAST_FULL = 0.05, 0.002
_BARE, _FULL, _SOME = 0.02, 0.9, 0.1
_SHOWN_DL = 25.0
_FAINTER, _STRONGER = np.array((38, 110, 160)), np.array((178, 74, 20))


@dataclass(frozen=True)
class Likeness:
    """How a burned piece compares with what was expected, in millimetre squares of the marked part and round it.

    off_l: mean L* difference; off_l_most: that of the tenth square in a hundred from the worst; lean_l: mean with its
    sign, over nothing where the piece is lighter. faint_share: of squares that should be marked, those under four
    fifths of what was expected. turned_deg: by how much the photo was turned, counterclockwise. anchored: whether
    ground and full mark were both in the photo; if not, greys were only compared with each other. How the mark as a
    whole lies on the piece, None where it had to be laid on by its own shape, since the piece's edges do not stand out:
    shift_mm right and up of its place, askew_deg turned counterclockwise, size_pct wider and higher than it was meant.
    flaws: what is wrong with it in figures, None where it is not anchored.
    """

    off_l: float
    off_l_most: float
    lean_l: float
    faint_share: float
    turned_deg: float
    anchored: bool
    shift_mm: tuple[float, float] | None
    askew_deg: float | None
    size_pct: tuple[float, float] | None
    flaws: Flaws | None


@dataclass(frozen=True, eq=False)
class ArtShot:
    """A photo of a burned piece: its kind, and either what it shows, with the upright picture and the difference as
    JPEG, or why it cannot be read."""

    kind: str
    outline: SeenOutline | None = None
    likeness: Likeness | None = None
    upright: bytes = b""
    difference: bytes = b""
    trouble: KeenCoatError | None = None


def read_art_shot(data: bytes, face: SeenFace, expected: Floats, look: Look, marked: SeenOutline | None) -> ArtShot:
    """Compare a photo of a flat piece with how full its mark was expected to be: `expected` at PX_PER_MM, the upper
    left first, as the finished mark is looked at. Raises BadValueError for what is no photo."""
    photo = decode_photo(data)
    try:
        laid = lay_on_expected(photo, face, expected, look, marked)
    except NotAlikeError as error:
        return ArtShot(photo.kind, error.outline, trouble=error.trouble)
    except BadValueError as error:
        return ArtShot(photo.kind, marked, trouble=error)
    likeness, off = _compared(laid, expected, look)
    return ArtShot(photo.kind, laid.outline, likeness, as_jpeg(laid.rgb), as_jpeg(_painted(off, expected)))


def _compared(squared: Squared, expected: Floats, look: Look) -> tuple[Likeness, Floats]:
    """The figures, and the L* difference of each pixel: above 0 where there is more mark than expected."""
    y, inside = luminance(squared.rgb), squared.inside
    reach = 2 * round(_BARE_ROUND_MM * PX_PER_MM) + 1
    round_about = np.ones((reach, reach), np.uint8)
    bare = (cv2.dilate((expected > _BARE).astype(np.uint8), round_about) == 0) & inside
    full = (cv2.erode((expected > _FULL).astype(np.uint8), np.ones((3, 3), np.uint8)) > 0) & inside
    if bare.mean() > _LEAST_BARE:
        light, _ = fit_light(y, bare)
        y = np.asarray(y / light * float(np.median(light[inside])))
    anchored = bool(bare.mean() > _LEAST_BARE and full.mean() > _LEAST_FULL)
    ground, mark = _anchors(y, expected, bare, full, anchored)
    fullness = (y - ground) / (mark - ground) if abs(mark - ground) > 1e-4 else np.zeros_like(y)
    seen_mm, meant_mm, whole = (_by_mm(f) for f in (fullness, expected, inside.astype(np.float32)))
    near = cv2.dilate((meant_mm > _BARE).astype(np.uint8), np.ones((3, 3), np.uint8)) > 0
    counts = near & (whole > 0.99)
    off = 100 * (look.light_of(np.clip(seen_mm, 0, 1)) - look.light_of(meant_mm))
    some = counts & (meant_mm > _SOME)
    shift_mm, askew_deg, size_pct = _lies(squared.landing) if squared.by_piece else (None, None, None)
    likeness = Likeness(
        off_l=float(np.abs(off[counts]).mean()),
        off_l_most=float(np.quantile(np.abs(off[counts]), 0.9)),
        lean_l=float(off[counts].mean()),
        faint_share=float((seen_mm < FAINT_UNDER * meant_mm)[some].mean()) if some.any() else 0.0,
        turned_deg=squared.turned_deg,
        anchored=anchored,
        shift_mm=shift_mm,
        askew_deg=askew_deg,
        size_pct=size_pct,
        flaws=_flaws(squared, fullness, expected, look) if anchored else None,
    )
    fine, meant = (
        cv2.GaussianBlur(np.clip(f, 0, 1).astype(np.float32), (0, 0), PX_PER_MM / 4) for f in (fullness, expected)
    )
    apart = 100 * np.abs(look.light_of(fine) - look.light_of(meant))
    return likeness, np.where(inside, np.sign(fine - meant) * apart, 0.0)


def _lies(landing: Landing | None) -> tuple[tuple[float, float], float, tuple[float, float]]:
    """How the mark lies, in mm right and up, degrees and per cent."""
    if landing is None:
        return (0.0, 0.0), 0.0, (0.0, 0.0)
    shift = landing.right_px / PX_PER_MM, -landing.down_px / PX_PER_MM
    return shift, landing.turn_deg, (landing.wider_pct, landing.higher_pct)


def _flaws(squared: Squared, fullness: Floats, expected: Floats, look: Look) -> Flaws:
    l_star = np.asarray(100 * look.light_of(fullness), dtype=np.float32)
    laid = LaidOn(fullness.astype(np.float32), expected, l_star, squared.rgb, squared.inside, PX_PER_MM)
    flaws, jump = flaws_of(laid), squared.jump
    if jump is None:
        return flaws
    right_mm, down_mm = (px / JUMP_PX_PER_MM for px in (jump.jump_right_px, jump.jump_down_px))
    return replace(flaws, doubled=Doubled(right_mm, -down_mm, jump.share, 1.0))


def _anchors(y: Floats, expected: Floats, bare: np.ndarray, full: np.ndarray, anchored: bool) -> tuple[float, float]:
    """Luminance of ground and of a full mark in this photo: as seen, or as the greys between lead to."""
    if anchored:
        ground = float(np.median(y[bare]))
        return ground, ground + float((np.median(y[full]) - ground) / np.median(expected[full]))
    rise, ground = np.polyfit(_by_mm(expected).ravel(), _by_mm(y).ravel(), 1)
    return float(ground), float(ground + rise)


def _by_mm(face: Floats) -> Floats:
    rows, columns = (side // PX_PER_MM for side in face.shape)
    cut = face[: rows * PX_PER_MM, : columns * PX_PER_MM]
    return np.asarray(cut.reshape(rows, PX_PER_MM, columns, PX_PER_MM).mean(axis=(1, 3)))


def _painted(off: Floats, expected: Floats) -> Pixels:
    """Where it came out weaker (blue) or stronger (orange) than expected, over a pale picture of what was expected."""
    pale = 246 - 60 * np.clip(expected, 0, 1)[..., None] * np.ones(3)
    share = np.clip(np.abs(off) / _SHOWN_DL, 0, 1)[..., None]
    tint = np.where(off[..., None] < 0, _FAINTER, _STRONGER)
    return np.asarray(np.rint(pale + (tint - pale) * share), dtype=np.uint8)
