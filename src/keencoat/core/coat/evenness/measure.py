"""A photo of a coated piece, measured: film in 1 mm squares, its variation, its faults, its streaks."""

from dataclasses import dataclass

import cv2
import numpy as np

from keencoat.core.coat.evenness.faults import Fault, FaultKind, fine_faults, region_faults, shine_faults
from keencoat.core.coat.evenness.film import FilmMap, LightWay, Optics, Reference, film_map
from keencoat.core.coat.evenness.streaks import Streaks, find_streaks
from keencoat.core.errors import BadValueError
from keencoat.core.reading.outline import Frame, Outline, find_outline
from keencoat.core.reading.photo import Floats, Photo, luminance
from keencoat.core.reading.rectify import (
    LEAST_PX_PER_MM,
    MOST_PX_PER_MM,
    SEEN_DEG,
    Face,
    face_mask,
    pixels_per_mm,
    rectify,
)
from keencoat.core.reading.surface import fit_light

_INSET_MM = 1.5
_FILM_INDEX = 1.5
"""Refractive index of a dry binder: own estimate."""

_BURNT_OUT = 250
_MOST_BURNT_SHARE = 0.25
_HIDES_ALL = 2.4
_BLACK = 0.0008
_BLIND = 0.0015
"""Below this luminance an 8-bit photo tells no difference any more."""


@dataclass(frozen=True, eq=False)
class CoatReading:
    """What a photo says of a coat.

    `squares` (rows, columns) is the film in 1 mm squares, 1 = mean, NaN outside the face; `cv` its coefficient of
    variation; `mean_signal` the mean OD (light through) or −ln of the ground that shows (light back); `blind_share` the
    share of the face that is blacker than the photo can tell, where film and variation are more than they seem.
    """

    outline: Outline
    face: Face
    squares: Floats
    cv: float
    mean_signal: float
    blind_share: float
    reference: Reference
    way: LightWay
    faults: tuple[Fault, ...]
    streaks: Streaks
    px_per_mm: int
    upright: np.ndarray

    @property
    def hides_all(self) -> bool:
        """Whether so little of the ground shows that the film can no longer be told from the light it sends back."""
        return self.way is LightWay.BACK and self.is_absolute and self.mean_signal > _HIDES_ALL

    @property
    def is_absolute(self) -> bool:
        """Whether the mean signal was measured, not assumed."""
        return self.reference is not Reference.ITSELF


def measure_coat(
    photo: Photo, face: Face, optics: Optics, outline: Outline | None = None, bare: Photo | None = None
) -> CoatReading:
    """Measure a coat on a photo; `bare` shows the same view without it (same camera, exposure and place).

    Finds the piece itself unless `outline` gives it. Raises BadValueError that says what is wrong with the photo.
    """
    found = outline or find_outline(photo, face.frame, face.width_mm / face.height_mm)
    scale = pixels_per_mm(photo, found, face)
    if scale < LEAST_PX_PER_MM:
        raise BadValueError(
            f"The piece has only {scale:.1f} pixels a millimetre in this photo.",
            field="photo",
            hint=f"Come nearer, so that it fills the picture: {LEAST_PX_PER_MM} are needed.",
        )
    px = int(min(MOST_PX_PER_MM, max(LEAST_PX_PER_MM, scale)))
    upright = rectify(photo.rgb, found, face, px)
    light = luminance(upright)
    mask = face_mask(face, px, _INSET_MM)
    if float(np.median(light[mask])) < _BLACK:
        raise BadValueError(
            "The coat is black in this photo: there is no light to measure.",
            field="photo",
            hint="Expose longer, or hold it against a brighter field.",
        )
    bare_light, reference = _bare_light(photo, found, face, px, light, mask, optics, bare)
    film = film_map(light, bare_light, mask, optics, reference, _path(face, mask.shape))
    squares, valid, cv = _in_squares(film, mask, px)
    regions = region_faults(squares, valid)
    fine = fine_faults(film.film, mask, px, film.mean_signal)
    shine = shine_faults(light, bare_light, mask, px) if optics.way is LightWay.BACK else []
    # The lamp's glint on open glaze looks like a thick white layer.
    regions = [f for f in regions if f.kind is not FaultKind.POOLED or not any(_overlap(f, s) for s in shine)]
    streaks = find_streaks(film.film, mask & ~_faulty(mask.shape, regions, px), px)
    return CoatReading(
        outline=found,
        face=face,
        squares=np.where(valid, squares, np.nan).astype(np.float32),
        cv=cv,
        mean_signal=film.mean_signal,
        blind_share=float((light[mask] < _BLIND).mean()) if optics.way is LightWay.THROUGH else 0.0,
        reference=reference,
        way=optics.way,
        faults=tuple(regions + fine + shine),
        streaks=streaks,
        px_per_mm=px,
        upright=upright,
    )


def _bare_light(
    photo: Photo, outline: Outline, face: Face, px: int, light: Floats, mask: np.ndarray, optics: Optics,
    bare: Photo | None,
) -> tuple[Floats, Reference]:  # fmt: skip
    """What the light would be on the bare piece, and where that was taken from."""
    if bare is not None:
        if bare.rgb.shape != photo.rgb.shape:
            raise BadValueError(
                "The two photos differ in size.",
                field="bare",
                hint="Take both with the same camera from the same place, without moving it.",
            )
        upright = rectify(bare.rgb, outline, face, px)
        _refuse_burnt_out(upright[mask], "bare")
        bare_light = cv2.GaussianBlur(luminance(upright), (0, 0), 0.5 * px)
        return np.asarray(bare_light), Reference.BARE_SHOT
    # A round piece is lit from inside: what lies round it is no reference.
    if optics.way is LightWay.THROUGH and face.frame is not Frame.SIDE:
        # The field is smooth, so a quarter of the size tells as much.
        small = np.asarray(cv2.resize(photo.rgb, None, fx=0.25, fy=0.25, interpolation=cv2.INTER_AREA), dtype=np.uint8)
        around = _surroundings(small.shape, outline)
        if float((small[around].max(axis=1) >= _BURNT_OUT).mean()) <= _MOST_BURNT_SHARE:
            surface, _ = fit_light(luminance(small), around)
            return np.asarray(rectify(surface, outline, face, px)), Reference.SURROUNDINGS
    surface, _ = fit_light(light, mask)
    return surface, Reference.ITSELF


def _path(face: Face, shape: tuple[int, ...]) -> Floats | None:
    """How much longer light's way through the film is where a round wall is seen aslant: 1/cos of the angle inside."""
    if face.frame is not Frame.SIDE:
        return None
    angle = np.deg2rad(SEEN_DEG) * (2 * (np.arange(shape[1]) + 0.5) / shape[1] - 1)
    inside = np.sqrt(1 - (np.sin(angle) / _FILM_INDEX) ** 2)
    return np.broadcast_to((1 / inside).astype(np.float32), (shape[0], shape[1]))


def _refuse_burnt_out(pixels: np.ndarray, field: str) -> None:
    if float((pixels.max(axis=1) >= _BURNT_OUT).mean()) > _MOST_BURNT_SHARE:
        raise BadValueError(
            "The bare field is burnt out: it is as white as the camera can show.",
            field=field,
            hint="Expose both photos darker, with the exposure held fixed.",
        )


def _surroundings(shape: tuple[int, ...], outline: Outline) -> np.ndarray:
    """The field round the piece: all of the picture but the outline, grown by a twelfth."""
    height, width = shape[:2]
    points = np.array(outline.points) * (width, height)
    centre = points.mean(axis=0)
    grown = cv2.convexHull((centre + 1.08 * (points - centre)).astype(np.float32))
    around = np.ones((height, width), dtype=np.uint8)
    if outline.frame is Frame.RIM:
        across, down = points[1] - centre, points[2] - centre
        ring = np.deg2rad(np.arange(0, 360, 4))
        grown = centre + 1.08 * (np.cos(ring)[:, None] * across + np.sin(ring)[:, None] * down)
    cv2.fillPoly(around, [np.round(grown).astype(np.int32)], 0)
    return around.astype(bool)


def _in_squares(film: FilmMap, mask: np.ndarray, px: int) -> tuple[Floats, np.ndarray, float]:
    """The film in squares of 1 mm, which of them lie wholly on the face, and their coefficient of variation.

    Camera noise would count as variation. It differs between the two diagonals of a square and the film hardly does,
    so the variance is taken as the covariance of the two diagonals' means.
    """
    rows, columns = mask.shape[0] // px, mask.shape[1] // px
    cut = (slice(0, rows * px), slice(0, columns * px))
    valid = mask[cut].reshape(rows, px, columns, px).mean(axis=(1, 3)) > 0.95
    values = np.where(mask, film.film, 1.0)[cut]
    half = px // 2
    cells = values.reshape(rows, px, columns, px)
    quarters = [
        cells[:, r, :, :][..., c].mean(axis=(1, 3))
        for r in (slice(0, half), slice(half, px))
        for c in (slice(0, half), slice(half, px))
    ]
    falling, rising = (quarters[0] + quarters[3]) / 2, (quarters[1] + quarters[2]) / 2
    squares = cells.mean(axis=(1, 3))
    if valid.sum() < 2:
        raise BadValueError(
            "Hardly a square millimetre of this face can be measured.", field="photo", hint="Take a larger piece."
        )
    covariance = float(np.cov(falling[valid], rising[valid])[0, 1])
    cv = float(np.sqrt(max(0.0, covariance)) / squares[valid].mean())
    return squares.astype(np.float32), valid, cv


def _overlap(one: Fault, other: Fault) -> bool:
    across = one.x_mm < other.x_mm + other.width_mm and other.x_mm < one.x_mm + one.width_mm
    return across and one.y_mm < other.y_mm + other.height_mm and other.y_mm < one.y_mm + one.height_mm


def _faulty(shape: tuple[int, ...], faults: list[Fault], px: int) -> np.ndarray:
    out = np.zeros(shape, dtype=bool)
    for fault in faults:
        x, y = int((fault.x_mm - 1) * px), int((fault.y_mm - 1) * px)
        right, low = int((fault.x_mm + fault.width_mm + 1) * px), int((fault.y_mm + fault.height_mm + 1) * px)
        out[max(0, y) : max(0, low), max(0, x) : max(0, right)] = True
    return out
