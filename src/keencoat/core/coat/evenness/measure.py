"""A photo of a coated piece, measured: film in 1 mm squares, its variation, its faults, its streaks."""

from dataclasses import dataclass

import cv2
import numpy as np

from keencoat.core.coat.evenness.faults import Fault, FaultKind, fine_faults, region_faults, shine_faults
from keencoat.core.coat.evenness.film import FilmMap, LightWay, Optics, Reference, film_map
from keencoat.core.errors import BadValueError
from keencoat.core.vision import (
    LEAST_PX_PER_MM,
    MOST_PX_PER_MM,
    SEEN_DEG,
    EdgeKind,
    Floats,
    Photo,
    SeenFace,
    SeenOutline,
    Streaks,
    bent,
    face_mask,
    find_outline,
    find_streaks,
    fit_light,
    homography,
    luminance,
    pixels_per_mm,
    rectify,
    straightened,
)

_INSET_MM = 1.5
_EDGE_MM = 0.8
"""What is left out beside an edge of coat or glass, where light is bent."""

_LEAST_BARE_MM, _WIDE_BARE_MM, _FIELD_MM = 2.4, 3.4, 5.0
_GLASS_PASSES = 0.917
"""What two faces of bare glass or acrylic let through: (1 − R)², R = ((n − 1)/(n + 1))², n 1.52 (Fresnel)."""

_VEIL = 0.010
"""Share of the picture's mean light that lens and grains of the coat lay over all of it (own estimate; lenses alone
have a per cent or two). It makes dark coats look thinner and more even than they are."""
_FILM_INDEX = 1.5
"""Refractive index of a dry binder: own estimate."""

ENOUGH_CONTRAST = {Reference.BARE_SHOT: 0.06, Reference.SURROUNDINGS: 0.15, Reference.ITSELF: 0.0}
"""Share by which a coat must change the bare piece's light before thin and thick can be told, by what tells that light:
own estimates."""

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

    outline: SeenOutline
    face: SeenFace
    squares: Floats
    cv: float
    mean_signal: float
    blind_share: float
    reference: Reference
    told: bool
    contrast: float
    way: LightWay
    faults: tuple[Fault, ...]
    streaks: Streaks
    px_per_mm: int
    upright: np.ndarray

    @property
    def hides_all(self) -> bool:
        """Whether so little of the ground shows that the film can no longer be told from the light it sends back."""
        return self.way is LightWay.BACK and self.told and self.mean_signal > _HIDES_ALL

    @property
    def tells_film(self) -> bool:
        """Whether variation can be taken from this picture and handed on; light back tells darkness and faults at most,
        since the lamp's own reflection lies over it."""
        return self.told and self.way is LightWay.THROUGH


def measure_coat(
    photo: Photo, face: SeenFace, optics: Optics, outline: SeenOutline | None = None, bare: Photo | None = None
) -> CoatReading:
    """Measure a coat on a photo; `bare` shows the same view without it (same camera, exposure and place).

    Finds the piece itself unless `outline` gives it. Raises BadValueError that says what is wrong with the photo.
    """
    # A coat is dark on a field of light; a jar glows before a dark room, and a tile lies on a bench.
    on_field = optics.way is LightWay.THROUGH and face.frame is not EdgeKind.SIDE
    found = outline or find_outline(photo, face.frame, face.width_mm / face.height_mm, on_field, face.share_of_piece)
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
    mask = face_mask(face, px, _INSET_MM + face.bare_inside_mm)
    _refuse_burnt_out(upright[mask], "photo")
    veil = _VEIL * float(luminance(photo.rgb).mean()) if on_field else 0.0
    # Where a coat is hardly lighter than stray light alone, what is read is not the coat.
    if float(np.median(light[mask])) < max(_BLACK, 1.5 * veil):
        raise BadValueError(
            "The coat is black in this photo: there is no light to measure.",
            field="photo",
            hint="Cover the bright field beside the coat with dark card, expose longer, or take a brighter field.",
        )
    if bare is not None:
        bare_light, reference = _bare_shot_light(bare, photo, found, face, px, mask), Reference.BARE_SHOT
    else:
        bare_light, reference = _bare_light(photo, found, face, px, light, mask, optics)
    light = np.maximum(light - veil, 0.25 * light)
    film = film_map(light, bare_light, mask, optics, reference, _path(face, mask.shape))
    squares, valid, cv = _in_squares(film, mask, px)
    regions = region_faults(squares, valid)
    fine = fine_faults(film.film, mask, px)
    shine: list[Fault] = []
    if optics.way is LightWay.BACK:
        own_light = bare_light if reference is Reference.ITSELF else fit_light(light, mask)[0]
        shine = shine_faults(light, own_light, mask, px)
    if film.contrast < ENOUGH_CONTRAST[reference]:
        # White on white: thick and thin are within the doubt, only a place that is quite open shows.
        regions = [f for f in regions if f.kind is FaultKind.BARE]
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
        told=film.told,
        contrast=film.contrast,
        way=optics.way,
        faults=tuple(regions + fine + shine),
        streaks=streaks,
        px_per_mm=px,
        upright=upright,
    )


def _bare_shot_light(
    bare: Photo, photo: Photo, outline: SeenOutline, face: SeenFace, px: int, mask: np.ndarray
) -> Floats:
    """The light on the bare piece, from a photo of it taken as that of the coat was."""
    if bare.rgb.shape != photo.rgb.shape:
        raise BadValueError(
            "The two photos differ in size.",
            field="bare",
            hint="Take both with the same camera from the same place, without moving it.",
        )
    upright = rectify(bare.rgb, outline, face, px)
    _refuse_burnt_out(upright[mask], "bare")
    return np.asarray(cv2.GaussianBlur(luminance(upright), (0, 0), 0.5 * px))


def _bare_light(
    photo: Photo, outline: SeenOutline, face: SeenFace, px: int, light: Floats, mask: np.ndarray, optics: Optics
) -> tuple[Floats, Reference]:
    """What the light would be on the bare piece, and where that was taken from."""
    # A round piece is lit from inside: what lies round it is no reference.
    if optics.way is LightWay.THROUGH and face.frame is not EdgeKind.SIDE:
        wide, inner = _wider(outline, face, photo)
        wide_px = max(2, px // 2)
        around = rectify(photo.rgb, wide, inner.face, wide_px)
        ring = inner.ring(wide_px)
        if float((around[ring].max(axis=1) >= _BURNT_OUT).mean()) <= _MOST_BURNT_SHARE:
            surface, _ = fit_light(luminance(around), ring)
            passed = 1.0 if inner.on_glass else _GLASS_PASSES
            bare_glass = passed * inner.cut(np.asarray(surface), wide_px, light.shape)
            return np.asarray(bare_glass, dtype=np.float32), Reference.SURROUNDINGS
    if optics.way is LightWay.BACK and face.bare_inside_mm >= _LEAST_BARE_MM:
        ring = face_mask(face, px, _EDGE_MM) & ~face_mask(face, px, face.bare_inside_mm - _EDGE_MM)
        surface, _ = fit_light(light, ring)
        return surface, Reference.SURROUNDINGS
    surface, _ = fit_light(light, mask)
    return surface, Reference.ITSELF


def _path(face: SeenFace, shape: tuple[int, ...]) -> Floats | None:
    """How much longer light's way through the film is where a round wall is seen aslant: 1/cos of the angle inside."""
    if face.frame is not EdgeKind.SIDE:
        return None
    angle = np.deg2rad(SEEN_DEG) * (2 * (np.arange(shape[1]) + 0.5) / shape[1] - 1)
    inside = np.sqrt(1 - (np.sin(angle) / _FILM_INDEX) ** 2)
    return np.broadcast_to((1 / inside).astype(np.float32), (shape[0], shape[1]))


def _refuse_burnt_out(pixels: np.ndarray, field: str) -> None:
    if float((pixels.max(axis=1) >= _BURNT_OUT).mean()) > _MOST_BURNT_SHARE:
        raise BadValueError(
            f"The {'bare field' if field == 'bare' else 'coat'} is burnt out: it is as white as the camera can show.",
            field=field,
            hint="Expose darker, and hold the exposure fixed for both photos.",
        )


@dataclass(frozen=True)
class _Wider:
    """A face grown by `border_mm` all round, so that what lies beside the coat can be looked at."""

    face: SeenFace
    border_mm: float
    bare_mm: float

    @property
    def on_glass(self) -> bool:
        """Whether the bare border is wide enough to be looked at; else the field beyond the piece is."""
        return self.bare_mm >= _WIDE_BARE_MM

    def ring(self, px: int) -> np.ndarray:
        """What the light is read off: the bare glass beside the coat, away from its edges, or the field round it."""
        near = _EDGE_MM if self.on_glass else self.bare_mm + 2 * _EDGE_MM
        far = self.bare_mm - _EDGE_MM if self.on_glass else self.border_mm
        within, beside = (face_mask(self.face, px, self.border_mm - at) for at in (far, near))
        return np.asarray(within & ~beside)

    def cut(self, picture: Floats, px: int, shape: tuple[int, ...]) -> Floats:
        """The part of a picture of the wider face that is the face itself, in another size (height, width)."""
        edge = round(self.border_mm * px)
        inner = np.ascontiguousarray(picture[edge : picture.shape[0] - edge, edge : picture.shape[1] - edge])
        return np.asarray(cv2.resize(inner, (shape[1], shape[0]), interpolation=cv2.INTER_LINEAR))


def _wider(outline: SeenOutline, face: SeenFace, photo: Photo) -> tuple[SeenOutline, _Wider]:
    """The outline of the face with a border round it, by the homography of the face itself."""
    bare = face.bare_outside_mm
    border = bare if bare >= _WIDE_BARE_MM else bare + _FIELD_MM
    size = photo.size_px
    points = straightened(np.array(outline.points) * size - 0.5, outline.lens, size)
    w, h = face.width_mm, face.height_mm
    if face.frame is EdgeKind.RIM:
        own = np.array([[w / 2, 0], [w, h / 2], [w / 2, h], [0, h / 2]])
        out = np.array([[0, -border], [border, 0], [0, border], [-border, 0]])
    else:
        own = np.array([[0, 0], [w, 0], [w, h], [0, h]])
        out = border * np.array([[-1, -1], [1, -1], [1, 1], [-1, 1]])
    grown = cv2.perspectiveTransform((own + out)[None], homography(own, points))[0]
    at = (bent(grown, outline.lens, size) + 0.5) / size
    wide = SeenOutline(outline.frame, tuple((float(x), float(y)) for x, y in at), outline.trust, outline.lens)
    return wide, _Wider(SeenFace(face.frame, w + 2 * border, h + 2 * border), border, bare)


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
