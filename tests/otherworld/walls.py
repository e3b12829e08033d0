"""Photos of round pieces in the second world: a wall lies level on the table, the phone close above it.

Each pixel's ray is walked to the wall by Newton's steps on its distance from it: from outside, those come to the first
place that it meets. The wall is lit by a near lamp, matt with a gloss that throws the lamp back.
"""

import cv2
import numpy as np

from tests.otherworld.gridphotos import LOOKS, PX_MM, GridShot, paint
from tests.otherworld.pinhole import TEXTURES, cook, draw_phone, either_way_up, nearest_shares, sight_lines, texture

_NEAREST_MM = 110.0
"""What a phone's main lens still focuses."""


def shoot_wall(
    process: str, lines: list[str], wall_mm: tuple[float, float, float], frame_mm: np.ndarray, seed: int
) -> GridShot:
    """Paint a wall and photograph it. `wall_mm`: across at its foot and at its top, and how high along its slant;
    `frame_mm`: the frame's corners on its face, cut as wide as the narrow end is round, mm from its middle, y up."""
    rng = np.random.default_rng([seed, sorted(LOOKS).index(process), 5])
    foot, top, slant = wall_mm
    size = np.pi * min(foot, top), slant
    face, cells = paint(process, lines, size, False, rng)
    phone = either_way_up(draw_phone(rng), rng)
    # Some show the whole piece, some the grid alone.
    across, up = phone.size[0] / max(phone.size), phone.size[1] / max(phone.size)
    near, far = (max(w, h * across / up) for w, h in (np.ptp(frame_mm, axis=0), (max(foot, top), slant)))
    eye, way = sight_lines(phone, float(rng.uniform(1.35 * near, 1.25 * far)), _NEAREST_MM)
    place, normal, x, y = _meet(eye, way, wall_mm)
    scene = _lit(LOOKS[process], face, size, place, normal, x, y, eye, rng)
    corners = nearest_shares(x, y, frame_mm * np.array([1, -1]))
    return GridShot(cook(scene, phone, rng), corners, cells, phone)


def _meet(eye, way, wall_mm):
    """Where each ray meets the wall (3, h, w), how the wall faces there, and where that is on the face, mm, y down; NaN
    where it goes by. The wall's axis runs along y, its foot towards us, its top side at z = 0 in the middle."""
    foot, top, slant = wall_mm
    grows = (foot - top) / 2 / slant
    middle = (foot + top) / 4
    upright = np.sqrt(1 - grows**2)
    lean = grows / upright
    way = way / np.sqrt((way**2).sum(axis=0))
    run = np.full(way.shape[1:], max(0.0, -eye[2] - middle))
    for _ in range(8):
        x, y, z = (eye[i] + run * way[i] for i in range(3))
        across = np.hypot(x, z - middle)
        off = across - middle - lean * y
        slope = (x * way[0] + (z - middle) * way[2]) / np.maximum(across, 1e-9) - lean * way[1]
        # A ray that no longer comes nearer goes by.
        step = np.where(slope < -1e-6, -off / np.minimum(slope, -1e-6), np.nan)
        run = run + step
    x, y, z = (eye[i] + run * way[i] for i in range(3))
    there = np.isfinite(run) & (np.abs(y) <= slant * upright / 2)
    across = np.hypot(x, z - middle)
    normal = np.stack([x / across, np.full_like(x, -lean), (z - middle) / across]) * upright
    round_mm = np.arctan2(x, middle - z) * min(foot, top) / 2
    place = np.stack([x, y, z])
    gone = ~there
    place[:, gone], normal[:, gone], round_mm[gone] = np.nan, np.nan, np.nan
    return place, normal, round_mm, np.where(there, y / upright, np.nan)


def _lit(look, face, size_mm, place, normal, x, y, eye, rng):
    w, h = size_mm
    there = np.isfinite(x)
    columns, rows = ((np.nan_to_num(at) + half) * PX_MM - 0.5 for at, half in ((x, w / 2), (y, h / 2)))
    footprint = max(1.0, PX_MM * float(np.nanmedian(np.abs(np.diff(y, axis=0)))))
    soft = cv2.GaussianBlur(face.astype(np.float32), (0, 0), 0.42 * footprint)
    wall = cv2.remap(soft, columns.astype(np.float32), rows.astype(np.float32), cv2.INTER_LINEAR)
    lamp = np.array([rng.uniform(-1, 1), rng.uniform(-1.5, 0.3), -rng.uniform(2, 4)]) * 60
    to_lamp, to_eye = (at[:, None, None] - place for at in (lamp, eye))
    far = np.sqrt((to_lamp**2).sum(axis=0))
    half = to_lamp / far + to_eye / np.sqrt((to_eye**2).sum(axis=0))
    half /= np.sqrt((half**2).sum(axis=0))
    facing = np.clip((normal * to_lamp).sum(axis=0) / far, 0, 1)
    # Half of the light is the room's own.
    matt = 0.5 + 0.5 * facing * (np.linalg.norm(lamp) / far) ** 2
    gloss = rng.uniform(0.02, 0.12) * np.clip((normal * half).sum(axis=0), 0, 1) ** rng.uniform(150, 500)
    wall = wall * np.nan_to_num(matt)[..., None] + np.nan_to_num(gloss)[..., None]
    bench = texture(
        str(rng.choice(TEXTURES)), *_table(place.shape[1:]), rng.uniform(0.08, 0.16), rng.uniform(0.08, 0.3)
    )
    share = cv2.GaussianBlur(there.astype(np.float32), (0, 0), 0.7)[..., None]
    tint = np.array([rng.uniform(0.85, 1.12), 1.0, rng.uniform(0.8, 1.12)])
    return np.asarray((share * wall + (1 - share) * bench) * tint)


def _table(shape):
    ys, xs = np.mgrid[: shape[0], : shape[1]] * 0.08
    return xs, ys
