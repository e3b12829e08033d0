"""A photo of a burned piece squared up, turned, and moved until its mark lies on what was expected of it."""

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace

import cv2
import numpy as np

from keencoat.core.artwork.jumped import Jump, is_jump, jump_of
from keencoat.core.artwork.landing import Landing, landing_of, pushed, shift_between
from keencoat.core.artwork.tone_curve import Look
from keencoat.core.errors import BadValueError
from keencoat.core.vision import (
    EdgeKind,
    Floats,
    Photo,
    Pixels,
    SeenFace,
    SeenOutline,
    face_mask,
    find_outlines,
    homography,
    luminance,
    mapped,
    pixels_per_mm,
    rectify,
)

PX_PER_MM = 6
JUMP_PX_PER_MM = 3
_COARSE, _FINE = 3, PX_PER_MM // JUMP_PX_PER_MM
_LEAST_PX_PER_MM = 3.0
_EDGE_MM = 1.0
_MOST_SHIFT_MM, _MOST_JUMP_MM, _MOST_FAR_MM = 2.0, 4.0, 25.0
_LEAST_LIKE, _LEAST_DRAWN_LIKE, _LEAST_JUMPED_LIKE, _SURELY_LIKE = 0.6, 0.75, 0.85, 0.9
_LEAST_LINES_LIKE = 0.4
"""Fine lines never lie on other ones by chance (other letters of the same height: up to 0.16), but half of them may
be missing where they were burned too faint (0.58 to 0.99 of 30 practice pieces)."""
_BARE, _THIN, _SOFT_PX = 0.02, 0.5, (1.0, 5.0)
_TURN_DEG, _TRIED = 3.0, 8
_FAR_OUTLINES, _FAR_TURNS, _FAR_TURN_DEG, _FAR_LIKE = 2, 3, 9.0, 0.3
_HARDLY, _ANYWHERE = 0.1, 0.995


class NotAlikeError(Exception):
    """What the photo shows is not what was expected: where the piece was taken to lie, and what to tell of it."""

    def __init__(self, outline: SeenOutline, trouble: BadValueError) -> None:
        super().__init__(str(trouble))
        self.outline, self.trouble = outline, trouble


@dataclass(frozen=True, eq=False)
class Squared:
    """A photo squared up and turned: how well it looks like what was expected, by which outline, whether that is the
    piece's own, turned by how much, where in it the piece is to be seen, and how the mark lay before it was laid
    back, and whether a part of it jumped."""

    like: float
    outline: SeenOutline
    by_piece: bool
    turned_deg: float
    rgb: Pixels
    inside: np.ndarray
    landing: Landing | None = None
    jump: Jump | None = None


def lay_on_expected(photo: Photo, face: SeenFace, expected: Floats, look: Look, marked: SeenOutline | None) -> Squared:
    """The photo laid onto what was expected, by the outline that was `marked` by hand or else is found. Raises
    NotAlikeError where the piece is too small in the picture or looks like something else, BadValueError where there is
    none."""
    least, least_drawn = (_LEAST_LINES_LIKE,) * 2 if _is_fine(_shrunk(expected)) else (_LEAST_LIKE, _LEAST_DRAWN_LIKE)
    outlines = [(marked, True)] if marked else _outlines(photo, face, expected)
    tried = [_turned(photo, outline, expected, look, face) for outline in outlines]
    best = max(tried, key=lambda squared: squared.like)
    own = max((one for one in tried if one.by_piece), key=lambda squared: squared.like, default=best)
    if best.like < least:
        _require_near(own.outline, pixels_per_mm(photo, own.outline, face))
        _require_marked(own, expected, look)
    moved = _moved(best, expected, look)
    if best.like < _LEAST_DRAWN_LIKE:
        far = max(_far_off(photo, outlines, expected, look, face), key=lambda squared: squared.like, default=best)
        if far.like > max(moved.like, _SURELY_LIKE):
            best = moved = far
    _require_near(best.outline, pixels_per_mm(photo, best.outline, face))
    # A mark that jumped may be stretched to look whole by its own box: only the piece's edges tell.
    moved = _jumped(own, moved, expected, look)
    if moved.jump is not None:
        return moved
    _require_alike(best, least)
    if not marked and moved.like < _SURELY_LIKE:
        moved = max(moved, _drawn_on(best, expected, look), key=lambda squared: squared.like)
        _require_alike(moved, least_drawn)
    return moved


def _require_near(outline: SeenOutline, px_per_mm: float) -> None:
    if px_per_mm < _LEAST_PX_PER_MM:
        few = f"The piece has only {px_per_mm:.1f} pixels a millimetre in this photo."
        hint = f"Go nearer, until the piece fills the picture: {_LEAST_PX_PER_MM:.0f} are needed."
        raise NotAlikeError(outline, BadValueError(few, field="photo", hint=hint))


def _require_marked(squared: Squared, expected: Floats, look: Look) -> None:
    """Whatever stands out from what is about it, against what an expected mark would: a bare piece is no other one."""
    contrast = abs(math.log((look.mark_y + 1e-3) / (look.ground_y + 1e-3)))
    seen, meant = _lines_alone(_shrunk(_seen(squared.rgb, look))), _lines_alone(_shrunk(contrast * expected))
    inside = _coarse(squared.inside) > 0
    level = 1 - float((_shrunk(expected) > _BARE)[inside].mean()) / 2
    # Another, smaller mark would stand out somewhere too.
    if np.quantile(seen[inside], max(level, _ANYWHERE)) < _HARDLY * np.quantile(meant[inside], level):
        trouble = BadValueError(
            "Hardly any mark is to be seen on it.",
            field="photo",
            hint="Did nothing take? Then say faint, with no mark. If it is there, take its photo again without glare.",
        )
        raise NotAlikeError(squared.outline, trouble)


def _require_alike(squared: Squared, least: float) -> None:
    if squared.like < least:
        trouble = BadValueError(
            "What the photo shows does not look like this artwork.",
            field="photo",
            hint="Is it the right piece, washed, the whole of it in the picture? Else mark its corners by hand.",
        )
        raise NotAlikeError(squared.outline, trouble)


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


def _turned(photo: Photo, way: tuple[SeenOutline, bool], expected: Floats, look: Look, face: SeenFace) -> Squared:
    """The piece turned to where it looks most like what was expected."""
    rgb, inside = _straight(photo, way[0], face)
    small, there, meant = _shrunk(_seen(rgb, look)), _coarse(inside), _shrunk(expected)
    likes = {deg: _alike(_spun(small, deg), meant, _spun(there, deg) > 0) for deg in _angles(face)}
    best = max(likes, key=lambda deg: likes[deg])
    return Squared(likes[best], *way, best, _spun(rgb, best), _spun(inside.astype(np.uint8), best) > 0)


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


def _drawn_on(squared: Squared, expected: Floats, look: Look) -> Squared:
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
) -> Iterator[Squared]:
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
            fits[deg] = _alike(spun, pushed(meant, right, down), _spun(there, deg) > 0)
        for deg in sorted((deg for deg in fits if fits[deg] > _FAR_LIKE), key=lambda deg: -fits[deg])[:_FAR_TURNS]:
            squared = Squared(0.0, outline, True, deg, _spun(rgb, deg), _spun(inside.astype(np.uint8), deg) > 0)
            yield _moved(squared, expected, look, _MOST_FAR_MM)


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


def _shrunk(face: Floats, by: int = _COARSE) -> Floats:
    size = face.shape[1] // by, face.shape[0] // by
    return np.asarray(cv2.resize(face, size, interpolation=cv2.INTER_AREA))


def _alike(one: Floats | Pixels, other: Floats, inside: np.ndarray) -> float:
    """Correlation within `inside`, a slow fall-off of the lamp taken out of both. Lines that are finer than a pixel are
    looked at softly, since a lens bends them off their place by more than they are wide, and against what is about
    them, since a lamp's falling-off is more than they are dark."""
    if _is_fine(other):
        one, other = (_lines_alone(np.asarray(face, dtype=np.float32)) for face in (one, other))
    a, b = (_without_slope(np.asarray(face, dtype=np.float32))[inside] for face in (one, other))
    if not len(a) or a.std() == 0 or b.std() == 0:
        return 0.0
    return float(np.corrcoef(a, b)[0, 1])


def _is_fine(shrunk: Floats) -> bool:
    """Whether all of a mark is lines that are finer than a pixel."""
    return bool(shrunk.max() < _THIN)


def _lines_alone(face: Floats) -> Floats:
    soft, about = (cv2.GaussianBlur(face, (0, 0), px) for px in _SOFT_PX)
    return np.asarray(soft - about)


def _without_slope(face: Floats) -> Floats:
    """Less the plane that lies nearest: over a whole rectangle rows, columns and the mean are at right angles."""
    down, right = (np.linspace(-1, 1, side, dtype=np.float32) for side in face.shape)
    by_row, by_column = face.mean(axis=1), face.mean(axis=0)
    falls, leans = (np.dot(by, way) / max(1e-9, np.dot(way, way)) for by, way in ((by_row, down), (by_column, right)))
    return np.asarray(face - by_row.mean() - falls * down[:, None] - leans * right)


def _moved(squared: Squared, expected: Floats, look: Look, most_mm: float = _MOST_SHIFT_MM) -> Squared:
    """The picture laid back onto what was expected, from where the mark as a whole lies."""
    window = cv2.GaussianBlur(squared.inside.astype(np.float32), (0, 0), PX_PER_MM / 2)
    pair = (_without_slope(np.asarray(face)) * window for face in (_seen(squared.rgb, look), expected))
    seen, meant = ((face / max(1e-6, float(face.std()))).astype(np.float32) for face in pair)
    landing = landing_of(seen, meant, most_mm * PX_PER_MM)
    if landing is None:
        return squared
    rgb = np.asarray(landing.laid_back(squared.rgb), dtype=np.uint8)
    like = _alike(_shrunk(_seen(rgb, look)), _shrunk(expected), _coarse(squared.inside) > 0)
    if like <= squared.like:
        return squared
    as_spread = landing_of(_spread_alike(seen, meant), meant, most_mm * PX_PER_MM)
    if as_spread is not None:
        landing = landing.of_lesser_size(as_spread)
    return replace(squared, like=like, rgb=rgb, landing=landing)


def _spread_alike(seen: Floats, meant: Floats) -> Floats:
    """What is seen with as much mark as was meant, by matching ranks: a mark that spread over its edges would else be
    taken for a larger one, most of all where it has points."""
    ranked = np.empty(seen.size, dtype=np.float32)
    ranked[np.argsort(seen, axis=None, kind="stable")] = np.sort(meant, axis=None)
    return ranked.reshape(seen.shape)


def _jumped(squared: Squared, moved: Squared, expected: Floats, look: Look) -> Squared:
    """The picture laid back by its larger part alone, where the rest of the mark jumped."""
    seen, meant = (_without_slope(_shrunk(face, _FINE)) for face in (_seen(squared.rgb, look), expected))
    inside = _shrunk(squared.inside.astype(np.float32), _FINE) > 0.99
    whole = _alike(_shrunk(_seen(moved.rgb, look), _FINE), meant, inside)
    jump = jump_of(seen, meant, inside, PX_PER_MM / _FINE, _MOST_SHIFT_MM + _MOST_JUMP_MM)
    if jump is None or not is_jump(jump, whole) or jump.like < _LEAST_JUMPED_LIKE:
        return moved
    shift = _FINE * jump.right_px, _FINE * jump.down_px
    landing = Landing(*shift, 0.0, 0.0, 0.0, np.array([[1, 0, shift[0]], [0, 1, shift[1]]]))
    return replace(squared, rgb=np.asarray(landing.laid_back(squared.rgb)), landing=landing, jump=jump)
