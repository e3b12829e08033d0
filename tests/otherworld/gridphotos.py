"""A second world of grid photos, written apart from the practice bench: no plant, no law of burning, another camera.

What a cell came to is drawn, not computed: how full, how patchy, how much harm. The program is read by a few lines of
its own; marks are painted line by line, harm as shards, holes, blots, scorched seams and ragged rims. The piece lies on
a picture of scikit-image's, under a near lamp, with shadows, glare and a fingertip, before a tilted lens that bends.
"""

import re
from dataclasses import dataclass

import cv2
import numpy as np
from scipy.special import expit

from tests.otherworld.pinhole import TEXTURES, Phone, cook, draw_phone, either_way_up, rays, texture, where_seen

PX_MM = 20
BUILDING, REPORTING = range(2000, 2200), range(6000, 6400)
"""Seeds that were looked at while building, and seeds whose figures are reported."""

_LUMA = np.array([0.2126, 0.7152, 0.0722])
_FULL_L, _GAP_L = 0.80, 0.06


@dataclass(frozen=True)
class Look:
    """Ranges of linear reflectance: ground and full mark (red, green, blue), what harm shows, and the kind of harm."""

    ground: tuple[tuple[float, float, float], tuple[float, float, float]]
    mark: tuple[tuple[float, float, float], tuple[float, float, float]]
    harm: str
    see_through: bool = False


LOOKS = {
    "frost": Look(((0.020, 0.020, 0.022), (0.06, 0.06, 0.06)), ((0.33, 0.34, 0.34), (0.6, 0.6, 0.61)), "shards", True),
    "fuse": Look(((0.58, 0.57, 0.53), (0.84, 0.83, 0.81)), ((0.03, 0.03, 0.03), (0.12, 0.11, 0.10)), "spread"),
    "reveal": Look(((0.02, 0.02, 0.025), (0.07, 0.07, 0.07)), ((0.30, 0.10, 0.05), (0.7, 0.5, 0.3)), "blots"),
    "back_engrave": Look(
        ((0.02, 0.02, 0.02), (0.06, 0.06, 0.06)), ((0.38, 0.38, 0.37), (0.7, 0.7, 0.7)), "holes", True
    ),
    "protect": Look(((0.02, 0.02, 0.02), (0.06, 0.06, 0.06)), ((0.38, 0.38, 0.37), (0.7, 0.7, 0.7)), "spread", True),
    "ablate": Look(((0.01, 0.03, 0.02), (0.10, 0.14, 0.16)), ((0.36, 0.36, 0.37), (0.6, 0.6, 0.62)), "seams"),
    "resist": Look(((0.02, 0.02, 0.03), (0.06, 0.06, 0.07)), ((0.42, 0.30, 0.08), (0.6, 0.46, 0.2)), "spread"),
}


@dataclass(frozen=True)
class CellTruth:
    """What was painted: the seen mark 0…1 (cube root of luminance against a full mark), share unmarked, harm (a share
    of the area, or for what spreads its strength beside the patch), and what a careful eye says; `clear` where every
    careful eye would."""

    mark: float
    unmarked: float
    harm: float
    spreads: bool

    @property
    def verdict(self) -> str:
        """Harsh, faint or clean."""
        if self.harm >= (0.25 if self.spreads else 0.02):
            return "harsh"
        return "faint" if self.mark < _FULL_L or self.unmarked > _GAP_L else "clean"

    @property
    def clear(self) -> bool:
        """Well off every border."""
        just, much = (0.06, 0.42) if self.spreads else (0.005, 0.04)
        if self.verdict == "harsh":
            return self.harm >= much
        if self.harm > just:
            return False
        if self.verdict == "clean":
            return self.mark >= 0.9 and self.unmarked <= 0.02
        return self.mark <= 0.66 or self.unmarked >= 0.16


@dataclass(frozen=True, eq=False)
class GridShot:
    """A photo; the frame's corners in it as shares (upper left first, as the mark is seen); the truth by cell."""

    photo: bytes
    corners: np.ndarray
    cells: dict[str, CellTruth]
    phone: Phone


@dataclass(frozen=True)
class _Lit:
    x0: float
    y0: float
    x1: float
    y1: float


def read_program(lines: list[str]) -> tuple[dict[str, list[_Lit]], list[_Lit]]:
    """Lit moves of the cells, by code, and of frame, ticks and codes."""
    cells: dict[str, list[_Lit]] = {}
    rest: list[_Lit] = []
    into, x, y, s = rest, 0.0, 0.0, 0.0
    for line in lines:
        if line.startswith("("):
            named = re.match(r"\(cell ([A-Z]\d+):", line)
            into = cells.setdefault(named[1], []) if named else rest if line.startswith(("(frame", "(code")) else into
            continue
        words = dict(re.findall(r"([GXYSM])(-?[\d.]+)", line))
        s = float(words.get("S", s))
        to = float(words.get("X", x)), float(words.get("Y", y))
        if words.get("G") == "1" and s > 0 and to != (x, y):
            into.append(_Lit(x, y, *to))
        x, y = to
    return cells, rest


def shoot_grid(
    process: str,
    lines: list[str],
    size_mm: tuple[float, float],
    frame_mm: np.ndarray,
    mirrored: bool,
    seed: int,
    hard: bool,
) -> GridShot:
    """Paint the piece and photograph it. `frame_mm`: the frame's corners on the piece, mm from its middle, y up."""
    rng = np.random.default_rng([seed, sorted(LOOKS).index(process), 4])
    face, cells = paint(process, lines, size_mm, mirrored, rng)
    phone = either_way_up(draw_phone(rng, hard), rng)
    w, h = size_mm
    # Some show the whole piece, some the grid alone.
    grid_w, grid_h = np.ptp(frame_mm, axis=0)
    near, far = (max(x, y * phone.size[0] / phone.size[1]) for x, y in ((grid_w, grid_h), (w, h)))
    reach = float(rng.uniform(1.35 * near, 1.25 * far)) * (1.15 if hard else 1.0)
    xs, ys = rays(phone, reach)
    scene = _scene(LOOKS[process], face, size_mm, xs, ys, rng)
    return GridShot(cook(scene, phone, rng), where_seen(phone, reach, frame_mm * np.array([1, -1])), cells, phone)


def paint(process, lines, size_mm, mirrored, rng):
    """The washed piece straight on, (rows, columns, 3), and the truth of its cells."""
    look = LOOKS[process]
    w, h = size_mm
    shape = round(h * PX_MM), round(w * PX_MM)
    cells, rest = read_program(lines)
    ground, full = (_tone(pair, rng) for pair in (look.ground, look.mark))
    mark, patches, painted = np.zeros(shape, np.float32), {}, {}

    def pixel(x: float, y: float) -> tuple[float, float]:
        return (w - x if mirrored else x) * PX_MM, (h - y) * PX_MM

    frame_strength = float(rng.uniform(0.62, 1.0))
    for one in rest:
        _line(mark, pixel(one.x0, one.y0), pixel(one.x1, one.y1), rng.uniform(0.13, 0.19), frame_strength)
    for code, lit in cells.items():
        rows = [one for one in lit if abs(one.y1 - one.y0) < 1e-6]
        # The patch is the block of closely spaced long lines; what is left are its fine strokes.
        longest = max(abs(one.x1 - one.x0) for one in rows)
        fill = [one for one in rows if abs(one.x1 - one.x0) > 0.9 * longest]
        strokes = [one for one in lit if one not in fill]
        xs = [pixel(one.x0, 0)[0] for one in fill] + [pixel(one.x1, 0)[0] for one in fill]
        count = len({round(one.y0, 3) for one in fill})
        tops = [pixel(0, one.y0)[1] for one in fill]
        box = slice(round(min(tops)), round(max(tops)) + 1), slice(round(min(xs)), round(max(xs)) + 1)
        want = _want(rng)
        patches[code] = box
        painted[code] = want
        mark[box] = np.maximum(mark[box], _fill(mark[box].shape, want, count, rng))
        for one in strokes:
            _line(mark, pixel(one.x0, one.y0), pixel(one.x1, one.y1), 0.14, min(1.0, want[0] + 0.05))
    grain = rng.standard_normal(shape).astype(np.float32)
    sheen = 1 + 0.07 * cv2.GaussianBlur(grain, (0, 0), 1.8) / 0.16
    face = ground + (full * sheen[..., None] - ground) * mark[..., None]
    face *= 1 + 0.015 * cv2.GaussianBlur(grain, (0, 0), 30)[..., None] / 0.0095
    truths = {}
    for code, box in patches.items():
        seen = _seen(face[box], ground, full)
        fine = cv2.blur(seen.astype(np.float32), (7, 7))
        harmed = _HARMS[look.harm](face, box, painted[code][2], ground, full, rng)
        truths[code] = CellTruth(float(seen.mean()), float((fine < 0.4).mean()), harmed, look.harm == "spread")
    return np.clip(face, 0.002, 1), truths


def _tone(pair, rng) -> np.ndarray:
    share = rng.uniform(0, 1) + rng.uniform(-0.08, 0.08, 3)
    return np.clip(
        [low + s * (high - low) for (low, high), s in zip(zip(*pair, strict=True), share, strict=True)], 0.01, 1
    )


def _want(rng) -> tuple[float, float, float]:
    """Full, share bare in patches, harm against what a careful eye lets pass (1)."""
    kind = rng.random()
    if kind < 0.3:
        return (
            (float(rng.uniform(0.1, 0.7)), 0.0, 0.0)
            if rng.random() < 0.6
            else (0.95, float(rng.uniform(0.1, 0.5)), 0.0)
        )
    if kind < 0.62:
        return float(rng.uniform(0.93, 1.0)), 0.0, float(rng.uniform(0, 0.15))
    if kind < 0.9:
        return float(rng.uniform(0.95, 1.0)), 0.0, float(rng.uniform(2.2, 12))
    return float(rng.uniform(0.65, 0.95)), float(rng.uniform(0, 0.1)), float(rng.uniform(0, 2.5))


def _fill(shape, want, lines: int, rng) -> np.ndarray:
    """A patch of so many lines: a mark in bands, with patches left bare."""
    full, bare, _ = want
    ys = (np.arange(shape[0]) + 0.5) / shape[0] * lines
    bands = 1 - rng.uniform(0, 0.10) * (0.5 + 0.5 * np.cos(2 * np.pi * ys))
    level = full * bands[:, None] * np.ones(shape)
    if bare:
        islands = _rough(shape, 2.2, rng)
        level *= expit((islands - np.quantile(islands, bare)) / 0.08)
    return level.astype(np.float32)


def _rough(shape, power: float, rng) -> np.ndarray:
    f = np.hypot(np.fft.fftfreq(shape[0])[:, None], np.fft.rfftfreq(shape[1])[None, :])
    rough = np.fft.irfft2(np.fft.rfft2(rng.standard_normal(shape)) / np.maximum(f, 1.5 / max(shape)) ** power, s=shape)
    return np.asarray((rough - rough.mean()) / rough.std())


def _line(mark, start, end, width_mm: float, level: float) -> None:
    pad = round(width_mm * PX_MM) + 3
    low = np.floor(np.minimum(start, end)).astype(int) - pad
    high = np.ceil(np.maximum(start, end)).astype(int) + pad
    low, high = np.maximum(low, 0), np.minimum(high, [mark.shape[1], mark.shape[0]])
    part = mark[low[1] : high[1], low[0] : high[0]]
    ys, xs = np.mgrid[low[1] : high[1], low[0] : high[0]] + 0.5
    a, b = np.array(start), np.array(end)
    along = b - a
    run = np.clip(((xs - a[0]) * along[0] + (ys - a[1]) * along[1]) / max(1e-9, float(along @ along)), 0, 1)
    away = np.hypot(xs - a[0] - run * along[0], ys - a[1] - run * along[1]) / PX_MM
    part[...] = np.maximum(part, level * expit((width_mm / 2 - away) / 0.02))


def _seen(face, ground, full) -> np.ndarray:
    root = np.cbrt(face @ _LUMA)
    g, f = np.cbrt(ground @ _LUMA), np.cbrt(full @ _LUMA)
    return np.asarray((root - g) / (f - g))


def _shards(face, box, amount, ground, full, rng) -> float:
    """Chips: triangles and quarrels, a bright flank and a dark one."""
    part = face[box]
    hit = np.zeros(part.shape[:2], np.uint8)
    target = 0.02 * amount
    while hit.mean() < target:
        x, y = rng.uniform(0, part.shape[1]), rng.uniform(0, part.shape[0])
        corners = rng.integers(3, 6)
        angles = np.sort(rng.uniform(0, 2 * np.pi, corners))
        radii = rng.uniform(0.1, 0.32, corners) * PX_MM
        points = np.stack([x + radii * np.cos(angles), y + radii * np.sin(angles)], axis=1).round().astype(np.int32)
        one = cv2.fillPoly(np.zeros_like(hit), [points], 1) > 0
        flank = one & (np.mgrid[0 : hit.shape[0], 0 : hit.shape[1]][1] > x + rng.uniform(-2, 2))
        part[one] = np.clip(np.array([0.9, 0.9, 0.92]) * rng.uniform(0.75, 1.0), 0, 1)
        part[flank] = 0.5 * ground
        hit |= one.astype(np.uint8)
    return float(hit.mean())


def _holes(face, box, amount, ground, full, rng) -> float:
    """Clear pinholes, and browning where there are many."""
    part = face[box]
    ys, xs = np.mgrid[0 : part.shape[0], 0 : part.shape[1]]
    hit = np.zeros(part.shape[:2])
    while hit.mean() < 0.02 * amount:
        x, y = rng.uniform(0, part.shape[1]), rng.uniform(0, part.shape[0])
        hit = np.maximum(hit, expit((rng.uniform(0.07, 0.2) * PX_MM - np.hypot(xs - x, ys - y)) / 0.7))
    if amount > 6:
        part *= np.array([0.9, 0.74, 0.52])
    part += (ground - part) * hit[..., None]
    return float(hit.mean())


def _blots(face, box, amount, ground, full, rng) -> float:
    """Blots where the base is burnt: lighter or darker than it, with soft rims."""
    part = face[box]
    level = _rough(part.shape[:2], 1.6, rng)
    share = min(0.6, 0.02 * amount)
    hit = expit((level - np.quantile(level, 1 - share)) / 0.06) if share > 0.001 else np.zeros(level.shape)
    tone = np.array([0.12, 0.09, 0.07]) if rng.random() < 0.5 else np.array([0.78, 0.76, 0.72])
    part += (tone - part) * hit[..., None]
    return float(hit.mean())


def _seams(face, box, amount, ground, full, rng) -> float:
    """Scorched residue in short seams along the lines."""
    part = face[box]
    hit = np.zeros(part.shape[:2], np.uint8)
    while hit.mean() < min(0.6, 0.02 * amount):
        x, y = int(rng.uniform(-4, part.shape[1])), int(rng.uniform(0, part.shape[0]))
        cv2.line(hit, (x, y), (x + int(rng.uniform(4, 22)), y), 1, int(rng.integers(3, 6)))
    part[hit > 0] = np.array([0.09, 0.055, 0.03]) * rng.uniform(0.6, 1.5)
    return float(hit.mean())


def _spread(face, box, amount, ground, full, rng) -> float:
    """Tone that goes over the patch's rim, ragged; its mean strength within 0.6 mm beside the patch."""
    reach = round(1.6 * PX_MM)
    rows = slice(max(0, box[0].start - reach), box[0].stop + reach)
    columns = slice(max(0, box[1].start - reach), box[1].stop + reach)
    part = face[rows, columns]
    beside = np.ones(part.shape[:2], np.uint8)
    top, side = box[0].start - rows.start, box[1].start - columns.start
    beside[top : top + box[0].stop - box[0].start, side : side + box[1].stop - box[1].start] = 0
    away = cv2.distanceTransform(beside, cv2.DIST_L2, 5) / PX_MM
    strength = min(0.95, 0.25 * amount) if amount else 0.0
    ragged = 1 + 0.25 * _rough(part.shape[:2], 1.2, rng)
    value = np.clip(strength * 1.6 * np.exp(-((away / (0.75 * ragged.clip(0.3))) ** 1.5)), 0, 1) * beside
    part += (full - part) * value[..., None]
    near = (beside > 0) & (away < 0.6)
    seen = _seen(part, ground, full)
    return float(np.clip(seen, 0, 1)[near].mean())


_HARMS = {"shards": _shards, "holes": _holes, "blots": _blots, "seams": _seams, "spread": _spread}


def _scene(look: Look, face, size_mm, xs, ys, rng) -> np.ndarray:
    """The table as the lamp shows it, at each pixel's place (mm, y down)."""
    w, h = size_mm
    rows, columns = (ys + h / 2) * PX_MM - 0.5, (xs + w / 2) * PX_MM - 0.5
    # What one pixel sees of the painted piece is a spot, not a point.
    footprint = max(1.0, PX_MM * float(np.median(np.abs(np.gradient(xs, axis=1)))))
    soft = cv2.GaussianBlur(face.astype(np.float32), (0, 0), 0.42 * footprint)
    piece = cv2.remap(soft, columns.astype(np.float32), rows.astype(np.float32), cv2.INTER_LINEAR)
    inside = np.minimum(w / 2 - np.abs(xs), h / 2 - np.abs(ys))
    bench = texture(str(rng.choice(TEXTURES)), xs, ys, rng.uniform(0.08, 0.16), rng.uniform(0.08, 0.3))
    if look.see_through:
        # Dark cloth under glass, and its edges, one bright and one dark.
        piece = piece + 0.04 * bench * np.clip(inside, 0, 1)[..., None]
        rim = np.exp(-((inside - 0.5) ** 2) / 0.08) * np.where(xs + ys > 0, 0.25, -0.01)
        piece = np.maximum(piece + rim[..., None], 0.004)
    cover = np.clip(inside * 5 + 0.5, 0, 1)[..., None]
    scene = cover * piece + (1 - cover) * bench
    if rng.random() < 0.25:
        tip = np.clip((9 - np.hypot(xs - rng.uniform(-0.3, 0.3) * w, (ys - h / 2 - 7.5) / 1.3)) * 3, 0, 1)[..., None]
        scene = scene * (1 - tip) + tip * np.array([0.34, 0.2, 0.15])
    lamp_x, lamp_y, high = rng.uniform(-1.2, 1.2) * w, rng.uniform(-1.5, 0.2) * h, rng.uniform(1.8, 3.5) * w
    light = (high**2 / ((xs - lamp_x) ** 2 + (ys - lamp_y) ** 2 + high**2)) ** 1.5
    if rng.random() < 0.3:
        edge = (xs - rng.uniform(-0.4, 0.4) * w) * rng.choice([-1, 1]) + rng.uniform(-0.7, 0.7) * ys
        light = light * (1 - rng.uniform(0.1, 0.3) * expit(edge / rng.uniform(4, 15)))
    if rng.random() < 0.25:
        x, y = rng.uniform(-0.5, 0.5) * w, rng.uniform(-0.5, 0.5) * h
        glow = rng.uniform(0.01, 0.05) * np.exp(-((xs - x) ** 2 + (ys - y) ** 2) / rng.uniform(12, 25) ** 2)
        scene = scene + (glow * (inside > 0))[..., None]
    tint = np.array([rng.uniform(0.85, 1.12), 1.0, rng.uniform(0.8, 1.12)])
    return np.asarray(scene * light[..., None] * tint)
