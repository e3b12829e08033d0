"""A second world of coat photos, written apart from the practice bench and never used to tune the measuring.

Film: passes of a can or brush summed up, with 1/f roughness; light through it in five bands, scattered by grains
(a few per cent passes whatever the film); light back from it by Kubelka and Munk's layer with scattering. The bench is
a picture of scikit-image's; glass has bright and dark edges, the light box a rim and a fall-off, tiles a bare margin,
a lamp that throws a shadow or a glare.
"""

from dataclasses import dataclass, replace

import cv2
import numpy as np
from scipy.special import expit

from tests.otherworld.pinhole import TEXTURES, Phone, cook, draw_phone, rays, texture, where_seen

PX_MM = 8
BUILDING, REPORTING = range(1000, 1200), range(5000, 5400)
"""Seeds that were looked at while building, and seeds whose figures are reported."""

_BANDS = np.array([0.85, 0.95, 1.0, 1.08, 1.2])
_BAND_TO_RGB = np.array(
    [[0.62, 0.30, 0.05, 0.02, 0.01], [0.06, 0.24, 0.48, 0.19, 0.03], [0.01, 0.03, 0.10, 0.36, 0.50]]
)


@dataclass(frozen=True)
class CoatScene:
    """What is photographed. `through`: on a light box, else under a lamp. `density` the mean OD through the coat, or
    for light back the share of the ground that shows is e^(−density)."""

    through: bool
    disc: bool
    width_mm: float
    height_mm: float
    margin_mm: float
    density: float
    fault: str
    dark_coat: bool
    ground: tuple[float, float, float]
    phone: Phone
    bench: str
    box_mm: float
    shadow: float
    glare: float
    finger: bool
    seed: int


@dataclass(frozen=True, eq=False)
class CoatTruth:
    """JPEG bytes coated and bare; the coated area's and the piece's corners (for discs: 24 points of the rim), as
    shares of the picture; true variation of the film in 1 mm squares inside 1.5 mm of the coat's edge."""

    photo: bytes
    bare: bytes
    coat_corners: np.ndarray
    piece_corners: np.ndarray
    cv: float
    scene: CoatScene


def draw_scene(seed: int, through: bool | None = None, fault: str | None = None, hard: bool = False) -> CoatScene:
    """A scene as somebody may set it up."""
    rng = np.random.default_rng([seed, 31337])
    through = bool(rng.random() < 0.6) if through is None else through
    disc = bool(rng.random() < 0.3)
    width = float(rng.uniform(60, 120))
    height = width if disc else float(width * rng.uniform(0.6, 0.95))
    dark = through or bool(rng.random() < 0.4)
    kinds = ("thin_spot", "streaks", "pool", "touch", "cracks", "pinholes")
    return CoatScene(
        through,
        disc,
        width,
        height,
        float(rng.uniform(2, 6)),
        float(rng.uniform(0.5, 1.6) if through else rng.uniform(1.15, 1.9)),
        fault if fault is not None else str(rng.choice(kinds)),
        dark,
        (0.80, 0.79, 0.76) if rng.random() < 0.7 else (0.55, 0.55, 0.57),
        draw_phone(rng, hard),
        str(rng.choice(TEXTURES)),
        float(rng.uniform(10, 40)),
        float(rng.uniform(0, 0.25)),
        float(rng.uniform(0, 0.12)),
        bool(rng.random() < 0.15),
        seed,
    )


def _film(scene: CoatScene, rng: np.random.Generator) -> np.ndarray:
    """Relative film over the coated area, mean about 1, shape (rows, columns) at PX_MM: overlapping passes, roughness,
    and the fault."""
    w, h = scene.width_mm - 2 * scene.margin_mm, scene.height_mm - 2 * scene.margin_mm
    rows, columns = round(h * PX_MM), round(w * PX_MM)
    ys, xs = (np.mgrid[0:rows, 0:columns] + 0.5) / PX_MM
    film = np.zeros((rows, columns))
    for turn in (0.0, np.pi / 2):
        angle = turn + rng.normal(0, 0.05)
        across = xs * np.cos(angle) + ys * np.sin(angle)
        pitch = rng.uniform(9, 16)
        for place in np.arange(-pitch, max(w, h) * 1.5, pitch):
            film += rng.normal(1, 0.05) / (1 + ((across - place - rng.normal(0, 0.5)) / (0.55 * pitch)) ** 4)
    film /= film.mean()
    spectrum = np.fft.rfft2(rng.standard_normal((rows, columns)))
    f = np.hypot(np.fft.fftfreq(rows)[:, None], np.fft.rfftfreq(columns)[None, :]) * PX_MM
    rough = np.fft.irfft2(spectrum / np.maximum(f, 0.02) ** 1.3, s=(rows, columns))
    film = 1 + 0.6 * (film - 1) + rng.uniform(0.025, 0.05) * rough / rough.std()
    cx, cy = rng.uniform(0.3, 0.7) * w, rng.uniform(0.3, 0.7) * h
    away = np.hypot((xs - cx) / rng.uniform(0.8, 1.3), ys - cy)
    if scene.fault == "thin_spot":
        film *= 1 - rng.uniform(0.5, 0.65) / (1 + (away / rng.uniform(5, 8)) ** 6)
    elif scene.fault == "pool":
        film *= 1 + rng.uniform(0.9, 1.4) / (1 + (away / rng.uniform(5, 8)) ** 6)
    elif scene.fault == "touch":
        film *= 1 - np.clip(1.4 - away / rng.uniform(5, 7), 0, 1) * 0.93
    elif scene.fault == "streaks":
        angle, pitch = rng.uniform(-0.2, 0.2) + rng.choice([0, np.pi / 2]), rng.uniform(3, 6.5)
        phase = (xs * np.sin(angle) + ys * np.cos(angle)) / pitch
        film *= 1 + rng.uniform(0.16, 0.28) * (2 / np.pi) * np.arcsin(np.sin(2 * np.pi * phase))
    elif scene.fault == "cracks":
        film *= 1 - _cracks(xs, ys, w, h, rng)
    elif scene.fault == "pinholes":
        for _ in range(int(rng.integers(15, 45))):
            x, y, r = rng.uniform(0.1, 0.9) * w, rng.uniform(0.1, 0.9) * h, rng.uniform(0.2, 0.45)
            film *= 1 - 0.97 * expit((r - np.hypot(xs - x, ys - y)) / 0.04)
    return np.maximum(film, 0.0)


def _cracks(xs: np.ndarray, ys: np.ndarray, w: float, h: float, rng: np.random.Generator) -> np.ndarray:
    """Cracks as borders between the cells of a few scattered points, where those are drawn apart."""
    points = rng.uniform([0, 0], [w, h], (7, 2))
    away = np.sort(np.stack([np.hypot(xs - x, ys - y) for x, y in points]), axis=0)
    return (
        0.98 * ((away[1] - away[0]) < rng.uniform(0.25, 0.45)) * (np.hypot(xs - w / 2, ys - h / 2) < 0.33 * max(w, h))
    )


def _variation(film: np.ndarray, scene: CoatScene) -> float:
    rows, columns = film.shape[0] // PX_MM, film.shape[1] // PX_MM
    squares = film[: rows * PX_MM, : columns * PX_MM].reshape(rows, PX_MM, columns, PX_MM).mean(axis=(1, 3))
    y, x = np.mgrid[0:rows, 0:columns] + 0.5
    if scene.disc:
        keep = np.hypot(x - columns / 2, y - rows / 2) < columns / 2 - 2.2
    else:
        keep = (np.minimum(x, columns - x) > 2) & (np.minimum(y, rows - y) > 2)
    return float(squares[keep].std() / squares[keep].mean())


def _corners(scene: CoatScene, inset: float) -> np.ndarray:
    w, h = scene.width_mm / 2 - inset, scene.height_mm / 2 - inset
    if scene.disc:
        ring = np.linspace(0, 2 * np.pi, 24, endpoint=False)
        return w * np.stack([np.sin(ring), -np.cos(ring)], axis=1)
    return np.array([[-w, -h], [w, -h], [w, h], [-w, h]])


def photograph(scene: CoatScene) -> CoatTruth:
    """Both photos with their truth."""
    rng = np.random.default_rng([scene.seed, 99])
    film = _film(scene, rng)
    reach = max(scene.width_mm, scene.height_mm * scene.phone.size[0] / scene.phone.size[1]) * 1.42
    xs, ys = rays(scene.phone, reach)
    coated, bare = (_light(scene, film if on else np.zeros_like(film), xs, ys) for on in (True, False))
    # Held fixed for both, so that neither burns out.
    exposure = 0.85 / max(float(np.quantile(one, 0.99)) for one in (bare, coated))
    return CoatTruth(
        cook(coated, scene.phone, rng, exposure),
        cook(bare, scene.phone, rng, exposure),
        where_seen(scene.phone, reach, _corners(scene, scene.margin_mm)),
        where_seen(scene.phone, reach, _corners(scene, 0.0)),
        _variation(film, scene),
        scene,
    )


def _light(scene: CoatScene, film: np.ndarray, xs: np.ndarray, ys: np.ndarray) -> np.ndarray:
    inside = (
        scene.width_mm / 2 - np.hypot(xs, ys)
        if scene.disc
        else np.minimum(scene.width_mm / 2 - np.abs(xs), scene.height_mm / 2 - np.abs(ys))
    )
    on_coat = np.clip((inside - scene.margin_mm) * 6 + 0.5, 0, 1)
    rows = (ys + scene.height_mm / 2 - scene.margin_mm) * PX_MM - 0.5
    columns = (xs + scene.width_mm / 2 - scene.margin_mm) * PX_MM - 0.5
    layer = on_coat * cv2.remap(
        film.astype(np.float32),
        columns.astype(np.float32),
        rows.astype(np.float32),
        cv2.INTER_LINEAR,
        borderMode=cv2.BORDER_REPLICATE,
    )
    bench = texture(scene.bench, xs, ys, 0.12, 0.14 if scene.through else 0.25)
    light = (
        _through(scene, layer, inside, xs, ys, bench) if scene.through else _back(scene, layer, inside, xs, ys, bench)
    )
    if scene.finger:
        # A fingertip holds the bare rim at the lower edge.
        away = np.hypot(xs - 0.2 * scene.width_mm, (ys - scene.height_mm / 2 - 9) / 1.2)
        tip = np.clip((8 - away) * 3 + 0.5, 0, 1)[..., None]
        light = light * (1 - tip) + tip * np.array([0.32, 0.19, 0.14]) * (0.25 if scene.through else 1)
    return light


def _through(scene, layer, inside, xs, ys, bench):  # arrays of one shape
    lit = 1 / (1 + ((xs - 11) ** 2 + (ys + 7) ** 2) / (1.9 * scene.width_mm) ** 2)
    box = np.minimum(scene.width_mm / 2 + scene.box_mm - np.abs(xs), scene.height_mm / 2 + scene.box_mm - np.abs(ys))
    field = np.clip(box * 4 + 0.5, 0, 1)
    rim = np.clip((box + 9) * 4 + 0.5, 0, 1) * (1 - field)
    bands = np.exp(-np.log(10) * scene.density * layer[..., None] * _BANDS)
    # Grains scatter a little light past any film, and the glass itself takes and gives.
    passed = 0.985 * bands + 0.015 * bands**0.5
    glass = np.where(inside > 0, 0.91, 1.0)
    edge = np.where(np.abs(inside) < 0.5, 0.35, 1.0) * np.where(np.abs(inside + 1.0) < 0.4, 1.12, 1.0)
    through = (lit * glass * edge)[..., None] * (passed @ _BAND_TO_RGB.T)
    dark = np.array([0.012, 0.012, 0.013])
    return field[..., None] * through + rim[..., None] * dark + (1 - field - rim)[..., None] * bench


def _back(scene, layer, inside, xs, ys, bench):  # arrays of one shape
    lamp = 1 / (1 + ((xs - 0.9 * scene.width_mm) ** 2 + (ys + 60) ** 2) / (2.4 * scene.width_mm) ** 2)
    shade = 1 - scene.shadow * expit((0.15 * scene.width_mm - xs - 0.4 * ys) / 12.0)
    ground = np.array(scene.ground)
    reflects = np.array([0.048, 0.046, 0.045]) if scene.dark_coat else np.array([0.90, 0.895, 0.88])
    # Kubelka–Munk over a ground: R = (1 − Rg·(a − b·coth(bSd)))/(a − Rg + b·coth(bSd)), (1 − R∞)²/2R∞ = K/S.
    a = (1 + reflects**2) / (2 * reflects)
    b = np.sqrt(a**2 - 1)
    scale = scene.density / (2 * b)
    coth = 1 / np.tanh(np.maximum(b * scale * np.maximum(layer, 1e-4)[..., None], 1e-6))
    face = (1 - ground * (a - b * coth)) / (a - ground + b * coth)
    edge = np.where((inside < 0.8) & (inside > 0), 0.7, 1.0)[..., None]
    glare = scene.glare * np.exp(-(((xs + 0.2 * scene.width_mm) / 25) ** 2 + ((ys - 0.1 * scene.height_mm) / 18) ** 2))
    piece = face * edge + glare[..., None]
    cover = np.clip(inside * 6 + 0.5, 0, 1)[..., None]
    drop = 1 - 0.5 * np.exp(-np.maximum(-inside, 0) / 3.0)
    return (lamp * shade)[..., None] * (cover * piece + (1 - cover) * bench * drop[..., None])


def even(scene: CoatScene) -> CoatScene:
    """The same scene with a good coat."""
    return replace(scene, fault="")
