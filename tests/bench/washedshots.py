"""Photos of washed pieces with known faults, from two worlds that share no code: the practice bench's pieces under its
own camera, and the second world's under scikit-image's; each laid onto what was meant."""

import io

import cv2
import numpy as np
from PIL import Image
from skimage.transform import ProjectiveTransform, warp

from keencoat.bench.faulty import Fault, draw_fault
from keencoat.bench.gridshots import GridCamera, draw_pose
from keencoat.bench.plant.materials import Look as Skin
from keencoat.bench.plant.materials import draw_piece
from keencoat.bench.plant.piece import BurnedPiece
from keencoat.core.artwork import PX_PER_MM, ArtShot, Look, read_art_shot
from keencoat.core.inspect import out_of_place, signs_seen
from keencoat.core.substrate import find_process
from keencoat.core.vision import EdgeKind, SeenFace
from tests.bench import faultycases as fc
from tests.bench.artburned import OtherSide, other_side
from tests.otherworld import artburns
from tests.otherworld import faultypieces as fp

PLANT = {
    "none": None, "coat_streaked": Fault.STREAKED, "coat_touched": Fault.TOUCHED, "coat_pooled": Fault.POOLED,
    "moved": Fault.MOVED, "backlash": Fault.BACKLASH, "lines_wide": Fault.WIDE_LINES, "off_origin": Fault.OFF,
    "coat_thick": Fault.THICK,
}  # fmt: skip
_LUMINANCE = np.array([0.2126, 0.7152, 0.0722])
_PHOTO = (2400, 1800)


def plant_shot(process: str, cause: str, seed: int, number: int) -> ArtShot:
    """A piece of the practice bench's n-th open material of a process."""
    at, rng = fc.place(process, number), np.random.default_rng([seed, 7, list(PLANT).index(cause)])
    fault = PLANT[cause]
    drawn = draw_piece(at.hidden.bench.material, rng)
    piece, _ = fc.burn(at, at.setting, draw_fault(fault, rng) if fault else None, drawn, seed)
    return shot_of_piece(piece, at.hidden.bench.material.look, seed, rng)


def shot_of_piece(piece: BurnedPiece, look: Skin, seed: int, rng: np.random.Generator) -> ArtShot:
    """A piece of the practice bench under its own camera."""
    size = round(fc.WIDE_MM * PX_PER_MM), round(fc.HIGH_MM * PX_PER_MM)
    meant = cv2.resize(fc.drawing(), size, interpolation=cv2.INTER_AREA)
    face = SeenFace(EdgeKind.CORNERS, fc.WIDE_MM, fc.HIGH_MM)
    photo = GridCamera(piece, draw_pose(rng), seed).shoot()
    return read_art_shot(
        photo, face, meant, Look(*(float(_LUMINANCE @ tone) for tone in (look.ground, look.mark))), None
    )


def other_shot(process: str, cause: str, seed: int, first: int) -> ArtShot:
    """A piece of the second world, on one of its first two materials of a process from `first` on."""
    side = other_side(process, seed % 2, first)
    return shot_of_washed(side, fp.wash(side.world, side.setting, None if cause == "none" else cause, seed), seed)


def shot_of_washed(side: OtherSide, washed: fp.Washed, seed: int) -> ArtShot:
    """A piece of the second world under a camera of its own."""
    skin = artburns.skin_of(side.world)
    light = artburns.light_of(skin, washed.seen.turned, washed.seen.harmed > 0.5)
    size = round(fp.SIDE_MM * PX_PER_MM)
    meant = cv2.resize(washed.meant.astype(np.float32), (size, size), interpolation=cv2.INTER_AREA)
    photo = _photographed(light, 0.02 if skin.ground_y > 0.2 else 0.12, np.random.default_rng([seed, 61]))
    face = SeenFace(EdgeKind.CORNERS, fp.SIDE_MM, fp.SIDE_MM)
    return read_art_shot(photo, face, meant, Look(skin.ground_y, skin.mark_y), None)


def _photographed(light: np.ndarray, bench: float, rng: np.random.Generator) -> bytes:
    """Aslant, under a lamp to one side, tinted, soft and grainy."""
    wide, high = _PHOTO
    corners = np.array([[500, 200], [1900, 200], [1900, 1600], [500, 1600]]) + rng.uniform(-90, 90, (4, 2))
    n = len(light)
    way = ProjectiveTransform.from_estimate(corners, np.array([[0, 0], [n, 0], [n, n], [0, n]]) - 0.5)
    inside = warp(np.ones_like(light), way, output_shape=(high, wide))
    scene = inside * warp(light, way, output_shape=(high, wide), mode="edge") + (1 - inside) * bench
    x, y = np.linspace(-1, 1, wide), np.linspace(-0.75, 0.75, high)[:, None]
    a, b, fall = rng.uniform(-0.2, 0.2), rng.uniform(-0.2, 0.2), rng.uniform(0, 0.12)
    scene = scene * 0.85 * (1 + a * x + b * y - fall * (x**2 + y**2))
    code = np.clip(scene, 0, 1) ** (1 / 2.2) + rng.normal(0, rng.uniform(0.004, 0.012), scene.shape)
    soft = cv2.GaussianBlur(code, (0, 0), rng.uniform(0.7, 2.0))[..., None] * (1 + rng.uniform(-0.06, 0.06, 3))
    out = io.BytesIO()
    Image.fromarray(np.rint(255 * np.clip(soft, 0, 1)).astype(np.uint8)).save(out, "JPEG", quality=88)
    return out.getvalue()


def signs_of_shot(shot: ArtShot, process: str) -> set[str] | None:
    """What the photo shows, None where it cannot be read."""
    like = shot.likeness
    if like is None or like.flaws is None:
        return None
    lies = out_of_place(like.shift_mm, like.askew_deg, like.size_pct)
    return signs_seen(lies, like.flaws, find_process(process))
