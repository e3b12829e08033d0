"""A photo of a burned piece beside what was expected of it: squared up, turned and moved until they lie on each other,
and compared in millimetre squares.

A photo does not tell how light anything is, only against what: bare ground and full mark are taken from the photo
itself, where both are expected to be in it. What is compared is everything between.
"""

from collections.abc import Iterator
from dataclasses import dataclass, replace

import cv2
import numpy as np

from keencoat.core.artwork.burned import FAINT_UNDER
from keencoat.core.artwork.landing import Landing, landing_of, shift_between
from keencoat.core.artwork.tone_curve import Look
from keencoat.core.errors import BadValueError, KeenCoatError
from keencoat.core.vision import (
    EdgeKind,
    Floats,
    Photo,
    Pixels,
    SeenFace,
    SeenOutline,
    as_jpeg,
    decode_photo,
    face_mask,
    find_outlines,
    fit_light,
    homography,
    luminance,
    mapped,
    pixels_per_mm,
    rectify,
)

PX_PER_MM = 6
_COARSE = 3
_LEAST_PX_PER_MM = 3.0
_EDGE_MM, _BARE_ROUND_MM = 1.0, 0.6
_MOST_SHIFT_MM, _MOST_FAR_MM = 2.0, 25.0
_LEAST_LIKE, _LEAST_DRAWN_LIKE, _SURELY_LIKE, _LEAST_BARE, _LEAST_FULL = 0.6, 0.75, 0.9, 0.05, 0.002
_BARE, _FULL, _SOME = 0.02, 0.9, 0.1
_THIN, _SOFT_PX = 0.5, (1.0, 5.0)
_TURN_DEG, _TRIED = 3.0, 8
_FAR_OUTLINES, _FAR_TURNS, _FAR_TURN_DEG = 2, 3, 9.0
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
    outline = marked
    try:
        outlines = [(marked, True)] if marked else _outlines(photo, face, expected)
        best = max((_turned(photo, o, expected, look, face) for o in outlines), key=lambda squared: squared.like)
        moved = _moved(best, expected, look)
        if best.like < _LEAST_DRAWN_LIKE:
            far = max(_far_off(photo, outlines, expected, look, face), key=lambda squared: squared.like, default=best)
            if far.like > max(moved.like, _SURELY_LIKE):
                best = moved = far
        outline = best.outline
        _require_near(pixels_per_mm(photo, outline, face))
        _require_alike(best.like, _LEAST_LIKE)
        if not marked and moved.like < _SURELY_LIKE:
            moved = max(moved, _drawn_on(best, expected, look), key=lambda squared: squared.like)
            _require_alike(moved.like, _LEAST_DRAWN_LIKE)
        likeness, off = _compared(moved, expected, look)
    except BadValueError as error:
        return ArtShot(photo.kind, outline, trouble=error)
    return ArtShot(photo.kind, outline, likeness, as_jpeg(moved.rgb), as_jpeg(_painted(off, expected)))


def _require_near(px_per_mm: float) -> None:
    if px_per_mm < _LEAST_PX_PER_MM:
        raise BadValueError(
            f"The piece has only {px_per_mm:.1f} pixels a millimetre in this photo.",
            field="photo",
            hint=f"Go nearer, until the piece fills the picture: {_LEAST_PX_PER_MM:.0f} are needed.",
        )


def _require_alike(like: float, least: float) -> None:
    if like < least:
        raise BadValueError(
            "What the photo shows does not look like this artwork.",
            field="photo",
            hint="Is it the right piece, washed, the whole of it in the picture? Else mark its corners by hand.",
        )


def _outlines(photo: Photo, face: SeenFace, expected: Floats) -> list[tuple[SeenOutline, bool]]:
    """Where the piece may lie: what stands out may be the piece (and is told so) or, on clear ones, the mark's box."""
    found = find_outlines(photo, face.frame, face.width_mm / face.height_mm, _TRIED)
    rows, columns = (np.flatnonzero((expected > _BARE).any(axis=axis)) for axis in (1, 0))
    if face.frame is EdgeKind.RIM or not len(rows):
        return [(one, True) for one in found]
    left, right, top, low = columns[0], columns[-1] + 1, rows[0], rows[-1] + 1
    height, width = expected.shape
    box, piece = (
        np.array([(x0, y0), (x1, y0), (x1, y1), (x0, y1)], dtype=float)
        for x0, y0, x1, y1 in ((left, top, right, low), (0, 0, width, height))
    )
    boxes: list[SeenOutline] = []
    for one in found:
        seen = mapped(homography(box, np.array(one.points) * photo.size_px), piece) / photo.size_px
        boxes.append(SeenOutline(one.frame, tuple((float(x), float(y)) for x, y in seen), one.trust))
    return [(one, True) for one in found] + [(one, False) for one in boxes]


@dataclass(frozen=True, eq=False)
class _Squared:
    """A photo squared up and turned: how well it looks like what was expected, by which outline, whether that is the
    piece's own, turned by how much, where in it the piece is to be seen, and how the mark lay before it was laid
    back."""

    like: float
    outline: SeenOutline
    by_piece: bool
    turned_deg: float
    rgb: Pixels
    inside: np.ndarray
    landing: Landing | None = None


def _turned(photo: Photo, way: tuple[SeenOutline, bool], expected: Floats, look: Look, face: SeenFace) -> _Squared:
    """The piece turned to where it looks most like what was expected."""
    rgb, inside = _straight(photo, way[0], face)
    small, there, meant = _shrunk(_seen(rgb, look)), _coarse(inside), _shrunk(expected)
    likes = {deg: _alike(_spun(small, deg), meant, _spun(there, deg) > 0) for deg in _angles(face)}
    best = max(likes, key=lambda deg: likes[deg])
    return _Squared(likes[best], *way, best, _spun(rgb, best), _spun(inside.astype(np.uint8), best) > 0)


def _straight(photo: Photo, outline: SeenOutline, face: SeenFace) -> tuple[Pixels, np.ndarray]:
    """The piece straight on, and where it is to be seen. What lies beyond the picture looks like the rest, so that its
    edge is no line."""
    rgb = rectify(photo.rgb, outline, face, PX_PER_MM)
    shown = rectify(np.full(photo.rgb.shape[:2], 255, np.uint8), outline, face, PX_PER_MM) == 255
    if shown.any() and not shown.all():
        rgb[~shown] = np.median(rgb[shown], axis=0)
    about = np.ones((2 * round(_MOST_SHIFT_MM * PX_PER_MM) + 1,) * 2, np.uint8)
    return rgb, face_mask(face, PX_PER_MM, _EDGE_MM) & (cv2.erode(shown.astype(np.uint8), about) > 0)


def _coarse(inside: np.ndarray) -> np.ndarray:
    return np.asarray(_shrunk(inside.astype(np.float32)) > 0.99, dtype=np.uint8)


def _drawn_on(squared: _Squared, expected: Floats, look: Look) -> _Squared:
    """The picture drawn onto what was expected where its outline was not the piece's, by the enhanced correlation of
    both (Evangelidis & Psarakis 2008); as it was where that leads nowhere."""
    seen, meant = _shrunk(_seen(squared.rgb, look)), _shrunk(expected)
    try:
        steps = (cv2.TERM_CRITERIA_COUNT | cv2.TERM_CRITERIA_EPS, 80, 1e-5)
        start, whole = np.eye(3, dtype=np.float32), np.ones(meant.shape, np.uint8)
        _, matrix = cv2.findTransformECC(meant, seen, start, cv2.MOTION_HOMOGRAPHY, steps, whole, 5)
    except cv2.error:
        return squared
    # The same for the finer picture, whose pixels' middles lie between the coarse ones.
    finer = np.array([[_COARSE, 0, (_COARSE - 1) / 2], [0, _COARSE, (_COARSE - 1) / 2], [0, 0, 1]])
    matrix = finer @ matrix @ np.linalg.inv(finer)
    size = squared.rgb.shape[1], squared.rgb.shape[0]
    how = cv2.INTER_LINEAR | cv2.WARP_INVERSE_MAP
    drawn = cv2.warpPerspective(squared.rgb, matrix, size, flags=how, borderMode=cv2.BORDER_REPLICATE)
    rgb = np.asarray(drawn, dtype=np.uint8)
    like = _alike(_shrunk(_seen(rgb, look)), meant, _coarse(squared.inside) > 0)
    return replace(squared, like=like, rgb=rgb, by_piece=False) if like > squared.like else squared


def _far_off(
    photo: Photo, outlines: list[tuple[SeenOutline, bool]], expected: Floats, look: Look, face: SeenFace
) -> Iterator[_Squared]:
    """The mark wherever else on the piece it lies: by its own shape alone, within what is surely the piece."""
    meant = _without_slope(_shrunk(expected))
    most_px = _MOST_FAR_MM * PX_PER_MM / _COARSE
    own = {np.round(one.points, 2).tobytes(): one for one, by_piece in outlines if by_piece}
    for outline in list(own.values())[:_FAR_OUTLINES]:
        rgb, inside = _straight(photo, outline, face)
        small, there = _without_slope(_shrunk(_seen(rgb, look))), _coarse(inside)
        fits: dict[float, float] = {}
        for deg in _angles(face, _FAR_TURN_DEG):
            spun = _spun((small * there).astype(np.float32), deg)
            right, down = shift_between(np.asarray(spun), meant, most_px)
            fits[deg] = _alike(spun, _pushed(meant, right, down), _spun(there, deg) > 0)
        for deg in sorted(fits, key=lambda deg: -fits[deg])[:_FAR_TURNS]:
            squared = _Squared(0.0, outline, True, deg, _spun(rgb, deg), _spun(inside.astype(np.uint8), deg) > 0)
            yield _moved(squared, expected, look, _MOST_FAR_MM)


def _pushed(face: Floats, right: float, down: float) -> Floats:
    matrix = np.array([[1, 0, right], [0, 1, down]], dtype=np.float32)
    size = face.shape[1], face.shape[0]
    return np.asarray(cv2.warpAffine(face.astype(np.float32), matrix, size, borderMode=cv2.BORDER_REPLICATE))


def _angles(face: SeenFace, step_deg: float = _TURN_DEG) -> Iterator[float]:
    if face.frame is EdgeKind.RIM:
        yield from np.arange(0, 360, step_deg).tolist()
        return
    square = abs(face.width_mm / face.height_mm - 1) < _EDGE_MM / face.width_mm
    yield from (0.0, 90.0, 180.0, 270.0) if square else (0.0, 180.0)


def _spun(picture: Floats | Pixels, deg: float) -> Pixels:
    """Turned counterclockwise about its middle; quarter turns exactly."""
    if deg % 90 == 0:
        return np.ascontiguousarray(np.rot90(picture, round(deg / 90)))
    height, width = picture.shape[:2]
    matrix = cv2.getRotationMatrix2D(((width - 1) / 2, (height - 1) / 2), deg, 1.0)
    return np.asarray(cv2.warpAffine(picture, matrix, (width, height), borderMode=cv2.BORDER_REPLICATE))


def _seen(rgb: Pixels, look: Look) -> Floats:
    """How marked places look in a photo that nobody has evened yet: more is more mark."""
    y = np.log(luminance(rgb) + 1e-3)
    return np.asarray(-y if look.darkens else y, dtype=np.float32)


def _shrunk(face: Floats) -> Floats:
    size = face.shape[1] // _COARSE, face.shape[0] // _COARSE
    return np.asarray(cv2.resize(face, size, interpolation=cv2.INTER_AREA))


def _alike(one: Floats | Pixels, other: Floats, inside: np.ndarray) -> float:
    """Correlation within `inside`, a slow fall-off of the lamp taken out of both. Lines that are finer than a pixel are
    looked at softly, since a lens bends them off their place by more than they are wide, and against what is about
    them, since a lamp's falling-off is more than they are dark."""
    if other.max() < _THIN:
        one, other = (_lines_alone(np.asarray(face, dtype=np.float32)) for face in (one, other))
    a, b = (_without_slope(np.asarray(face, dtype=np.float32))[inside] for face in (one, other))
    if not len(a) or a.std() == 0 or b.std() == 0:
        return 0.0
    return float(np.corrcoef(a, b)[0, 1])


def _lines_alone(face: Floats) -> Floats:
    soft, about = (cv2.GaussianBlur(face, (0, 0), px) for px in _SOFT_PX)
    return np.asarray(soft - about)


def _without_slope(face: Floats) -> Floats:
    rows, columns = np.mgrid[-1 : 1 : face.shape[0] * 1j, -1 : 1 : face.shape[1] * 1j]
    terms = np.stack([np.ones(face.size), rows.ravel(), columns.ravel()], axis=1)
    return np.asarray(face - (terms @ np.linalg.lstsq(terms, face.ravel(), rcond=None)[0]).reshape(face.shape))


def _moved(squared: _Squared, expected: Floats, look: Look, most_mm: float = _MOST_SHIFT_MM) -> _Squared:
    """The picture laid back onto what was expected, from where the mark as a whole lies."""
    window = cv2.GaussianBlur(squared.inside.astype(np.float32), (0, 0), PX_PER_MM / 2)
    pair = (_without_slope(np.asarray(face)) * window for face in (_seen(squared.rgb, look), expected))
    seen, meant = ((face / max(1e-6, float(face.std()))).astype(np.float32) for face in pair)
    landing = landing_of(seen, meant, most_mm * PX_PER_MM)
    if landing is None:
        return squared
    rgb = np.asarray(landing.laid_back(squared.rgb), dtype=np.uint8)
    like = _alike(_shrunk(_seen(rgb, look)), _shrunk(expected), _coarse(squared.inside) > 0)
    return replace(squared, like=like, rgb=rgb, landing=landing) if like > squared.like else squared


def _lies(landing: Landing | None) -> tuple[tuple[float, float], float, tuple[float, float]]:
    """How the mark lies, in mm right and up, degrees and per cent."""
    if landing is None:
        return (0.0, 0.0), 0.0, (0.0, 0.0)
    shift = landing.right_px / PX_PER_MM, -landing.down_px / PX_PER_MM
    return shift, landing.turn_deg, (landing.wider_pct, landing.higher_pct)


def _compared(squared: _Squared, expected: Floats, look: Look) -> tuple[Likeness, Floats]:
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
    likeness = Likeness(
        float(np.abs(off[counts]).mean()),
        float(np.quantile(np.abs(off[counts]), 0.9)),
        float(off[counts].mean()),
        float((seen_mm < FAINT_UNDER * meant_mm)[some].mean()) if some.any() else 0.0,
        squared.turned_deg,
        anchored,
        *(_lies(squared.landing) if squared.by_piece else (None, None, None)),
    )
    fine, meant = (
        cv2.GaussianBlur(np.clip(f, 0, 1).astype(np.float32), (0, 0), PX_PER_MM / 4) for f in (fullness, expected)
    )
    apart = 100 * np.abs(look.light_of(fine) - look.light_of(meant))
    return likeness, np.where(inside, np.sign(fine - meant) * apart, 0.0)


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
