"""Simulated camera shots of coats: even, thin, streaked, pooled, touched, cracked, pinholed. For practice and tests.

The layer is a film field in µm; light passes it by Beer–Lambert in three colours, or comes back from ground and coat;
the camera adds a lamp that falls off, perspective, blur, photon and read noise, sRGB and JPEG. All of it is seeded.
"""

from dataclasses import dataclass
from enum import StrEnum

import cv2
import numpy as np
from numpy.typing import NDArray

from keencoat.bench.camera import corners_in_view, draw_phone, expose, lamp_over, seen_at
from keencoat.bench.filmfield import CoatFault, FilmField, make_film

Array = NDArray[np.float32]


class Lamp(StrEnum):
    """Where the light is: a bright field behind flat glass, flat light on a tile, or a lamp inside a round glass."""

    BEHIND = "behind"
    FRONT = "front"
    INSIDE = "inside"


@dataclass(frozen=True)
class ShotSetup:
    """What is photographed and how. `disc` makes the piece a flat disc; a lamp INSIDE makes it a jar of diameter
    `width_mm`, seen from its side. Sizes in mm, the photo in pixels."""

    lamp: Lamp
    width_mm: float = 90.0
    height_mm: float = 70.0
    disc: bool = False
    photo_px: tuple[int, int] = (1600, 1200)
    coat: str = "black"
    mean_film_um: float = 40.0
    jpeg_quality: int = 95


@dataclass(frozen=True, eq=False)
class CoatShot:
    """A shot with its truth: JPEG bytes of the coated and the bare piece, corners as shares of the picture, film."""

    coated: bytes
    bare: bytes
    points: tuple[tuple[float, float], ...]
    field: FilmField


# Napierian absorption of the layers for red, green and blue light, 1/mm: invented, of a plausible size.
_ABSORBS = {"black": (95.0, 105.0, 112.0), "white": (26.0, 29.0, 33.0)}
_REFLECTS = {"black": (0.050, 0.049, 0.048), "white": (0.905, 0.900, 0.890)}
_GROUND = (0.785, 0.780, 0.765)
_DESK = {"black": (0.42, 0.38, 0.33), "white": (0.10, 0.10, 0.11)}


def shoot_coat(fault: CoatFault, setup: ShotSetup, seed: int) -> CoatShot:
    """Coat a piece with the given fault and photograph it, coated and bare."""
    rng = np.random.default_rng(seed)
    film = make_film(fault, *_seen_mm(setup), setup.mean_film_um, 10, setup.disc, rng)
    return _photograph(film, setup, rng)


def shoot_film(film: FilmField, meant_um: float, setup: ShotSetup, seed: int) -> CoatShot:
    """Photograph a layer that is there already, of which the middle is seen; coated and bare. To the camera it is as
    thick as `mean_film_um` where it is as thick as meant: how well a simulated layer hides is invented."""
    seen = film.middle(*_seen_mm(setup)).thinned(setup.mean_film_um / meant_um)
    return _photograph(seen, setup, np.random.default_rng(seed))


def _photograph(film: FilmField, setup: ShotSetup, rng: np.random.Generator) -> CoatShot:
    scene = _Scene(setup, film, rng)
    return CoatShot(scene.photograph(True), scene.photograph(False), scene.points(), film)


def _seen_mm(setup: ShotSetup) -> tuple[float, float]:
    # Of a jar one half shows: its film is as wide as half its circumference.
    wide = np.pi / 2 if setup.lamp is Lamp.INSIDE else 1.0
    return setup.width_mm * wide, setup.height_mm


def shoot_empty(setup: ShotSetup, seed: int) -> bytes:
    """A photo of the field alone, without any piece."""
    rng = np.random.default_rng(seed)
    film = make_film(CoatFault.NONE, setup.width_mm, setup.height_mm, setup.mean_film_um, 4, setup.disc, rng)
    return _Scene(setup, film, rng).photograph_ground()


class _Scene:
    """Lamp, place and camera of one pair of shots."""

    def __init__(self, setup: ShotSetup, film: FilmField, rng: np.random.Generator) -> None:
        self.setup, self.film, self.rng = setup, film, rng
        turn_deg = rng.uniform(-7, 7)
        tilt = rng.uniform(-0.05, 0.05, 2)
        shift = rng.uniform(-0.04, 0.04, 2)
        self.corners = corners_in_view((setup.width_mm, setup.height_mm), setup.photo_px, 0.74, turn_deg, tilt, shift)
        film_h, film_w = film.film_um.shape
        if setup.lamp is Lamp.INSIDE:
            film_w = round(setup.width_mm * film.px_per_mm)
        frame = np.array([[0, 0], [film_w, 0], [film_w, film_h], [0, film_h]], dtype=np.float32) - 0.5
        self.matrix = cv2.getPerspectiveTransform(frame, self.corners.astype(np.float32))
        self.light = lamp_over(setup.photo_px, rng.uniform(-0.14, 0.14, 2), rng.uniform(0.06, 0.2))
        self.exposure = 0.86
        self.blur_px = float(rng.uniform(0.5, 1.0))
        self.phone = draw_phone(rng)

    def points(self) -> tuple[tuple[float, float], ...]:
        """The piece's corners, or the rim's top, right, bottom, left, as shares of the picture."""
        at = self.corners
        if self.setup.disc:
            film_h, film_w = self.film.film_um.shape
            rim = np.array([[film_w / 2, 0], [film_w, film_h / 2], [film_w / 2, film_h], [0, film_h / 2]]) - 0.5
            at = cv2.perspectiveTransform(rim[None].astype(np.float32), self.matrix)[0]
        seen = seen_at(np.asarray(at, dtype=np.float64), self.phone.bend, self.setup.photo_px)
        shares = (seen + 0.5) / np.array(self.setup.photo_px)
        return tuple((float(x), float(y)) for x, y in shares)

    def _face(self, coated: bool) -> Array:
        """Light that the piece sends on, (rows, columns, 3), against 1 for the lamp."""
        film = (self.film.film_um if coated else np.zeros_like(self.film.film_um)).astype(np.float32)
        absorbs = np.array(_ABSORBS[self.setup.coat], dtype=np.float32)
        reflects = np.array(_REFLECTS[self.setup.coat], dtype=np.float32)
        if self.setup.lamp is Lamp.INSIDE:
            return self._wall(film, absorbs)
        if self.setup.lamp is Lamp.BEHIND:
            passing = np.exp(-film[..., None] * 1e-3 * absorbs)
            return np.asarray(0.92 * passing + 0.0008)
        # Light crosses the layer twice on its way to the ground and back.
        kept = np.exp(-2 * film[..., None] * 1e-3 * absorbs)
        face = reflects + (np.array(_GROUND, dtype=np.float32) - reflects) * kept
        return np.asarray(face + self.film.shine[..., None].astype(np.float32) * coated)

    def _wall(self, film: Array, absorbs: Array) -> Array:
        """The wall of a jar lit from inside, seen from its side: one column of film for each sine of the angle.

        Its light crosses the film aslant (Snell, index 1.5); glass and lamp glow less towards the sides.
        """
        columns = round(self.setup.width_mm * self.film.px_per_mm)
        sine = 2 * (np.arange(columns) + 0.5) / columns - 1
        turn = np.arcsin(sine)
        at = np.clip((turn / np.pi + 0.5) * film.shape[1], 0, film.shape[1] - 1).astype(int)
        aslant = np.sqrt(1 - (sine / 1.5) ** 2)
        passing = np.exp(-(film[:, at] / aslant)[..., None] * 1e-3 * absorbs)
        glow = 0.9 * (0.55 + 0.45 * np.cos(turn))
        return np.asarray(glow[None, :, None] * passing + 0.0008, dtype=np.float32)

    def photograph(self, coated: bool) -> bytes:
        """The JPEG of the piece in its place."""
        face = cv2.GaussianBlur(self._face(coated), (0, 0), 0.6)
        place = cv2.warpPerspective(face, self.matrix, self.setup.photo_px, flags=cv2.INTER_AREA)
        cover = np.ones(face.shape[:2], dtype=np.float32)
        if self.setup.disc:
            cover = self.film.inside.astype(np.float32)
        share = cv2.warpPerspective(cover, self.matrix, self.setup.photo_px, flags=cv2.INTER_LINEAR)[..., None]
        return self._expose(share * place + (1 - share) * self._ground())

    def photograph_ground(self) -> bytes:
        """The JPEG without the piece."""
        return self._expose(np.broadcast_to(self._ground(), (*self.light.shape, 3)).copy())

    def _ground(self) -> Array:
        if self.setup.lamp is Lamp.BEHIND:
            return np.array([1.0, 1.0, 1.0], dtype=np.float32)
        if self.setup.lamp is Lamp.INSIDE:
            return np.array([0.0015, 0.0015, 0.0018], dtype=np.float32)
        return np.array(_DESK[self.setup.coat], dtype=np.float32)

    def _expose(self, scene: Array) -> bytes:
        linear = scene * self.light[..., None] * self.exposure * np.array([1.0, 0.985, 0.96], dtype=np.float32)
        linear = np.asarray(linear, dtype=np.float32)
        return expose(linear, self.blur_px, 1.0, self.rng, self.setup.jpeg_quality, self.phone)
