"""Faulty pieces of the second world: grains under a disc of light, faults laid into its own G-code and coat, and a
maker who judges by ninths of the mark and tells faults of place the surer the larger they are.

Shares neither code nor law with the practice bench: another drawing, other coats, another eye, other slips.
"""

from dataclasses import dataclass, replace

import numpy as np
from scipy import ndimage

from keencoat.core.quantities.setting import Setting
from tests.otherworld.artburns import PX_PER_MM, Seen, blurred, burn_gcode
from tests.otherworld.burns import World

SIDE_MM = 36.0
FAULTS = (
    "coat_thick", "coat_thin", "coat_streaked", "coat_pooled", "coat_touched", "coat_cracked", "out_of_focus",
    "weak_beam", "strong_beam", "too_fast", "too_slow", "lines_wide", "lines_close", "extra_pass", "moved", "backlash",
    "off_origin", "set_askew", "axis_size",
)  # fmt: skip
"""By the cause that is right."""
HARM_WORDS = {"frost": ("chips",), "fuse": ("detail_lost",), "reveal": ("base_damaged",), "back_engrave": ("pinholes",)}
_COAT = {"coat_streaked": "streaked", "coat_pooled": "pooled", "coat_touched": "touched", "coat_cracked": "cracked"}


@dataclass(frozen=True, eq=False)
class Washed:
    """A piece with a fault put in: what it looks like, the mark that was meant, mean ln film, ln of the time it took,
    and the size of what is out of place, mm."""

    seen: Seen
    meant: np.ndarray
    ln_film: float
    ln_time: float
    off_mm: float


def triangles(turn_deg: float = 0.0) -> np.ndarray:
    """The drawing at PX_PER_MM, the lowest row first: five leaflets on a midrib, turned about the middle."""
    n = round(SIDE_MM * PX_PER_MM)
    y, x = (np.mgrid[0:n, 0:n] + 0.5) / PX_PER_MM - SIDE_MM / 2
    t = np.deg2rad(turn_deg)
    x, y = x * np.cos(t) + y * np.sin(t), -x * np.sin(t) + y * np.cos(t)
    face = (np.abs(y) < 0.6) & (np.abs(x) < 13)
    for k in range(5):
        at, up = -10 + 5 * k, 1 if k % 2 else -1
        face |= (np.abs(x - at) < 2.6 * (1 - (up * y - 0.4) / 8)) & (up * y > 0.4) & (up * y < 8)
    return face


def program(
    fault: str, setting: Setting, size: float, way: tuple[float, float], when: float
) -> tuple[list[str], float]:
    """G-code of the drawing with the fault in it, and ln of its time over what it should take."""
    step = setting.interval_mm * (size if fault in ("lines_wide", "lines_close") else 1.0)
    face = triangles(size if fault == "set_askew" else 0.0)
    lines, lit, plain = [], 0.0, 0.0
    for k, y in enumerate(np.arange(6, SIDE_MM - 6, step)):
        ends = np.flatnonzero(np.diff(np.pad(face[int(y * PX_PER_MM)].astype(int), 1))) / PX_PER_MM
        for a, b in ends.reshape(-1, 2):
            dx = dy = 0.0
            if fault == "off_origin" or (fault == "moved" and y > 6 + when * (SIDE_MM - 12)):
                dx, dy = size * way[0], size * way[1]
            if fault == "backlash" and k % 2:
                dx = size
            if fault == "axis_size":
                a, b = (SIDE_MM / 2 + size * (v - SIDE_MM / 2) for v in (a, b))
            lines += [f"G0 X{a + dx:.3f} Y{y + dy:.3f} S0", f"G1 X{b + dx:.3f} S500", "G1 S0"]
            lit += b - a
        plain += 1
    ln = -np.log(step / setting.interval_mm)
    return lines, float(ln)


def coat(fault: str, size: float, rng: np.random.Generator) -> np.ndarray:
    """ln film over the usual one, at PX_PER_MM, the upper left first."""
    n = round(SIDE_MM * PX_PER_MM)
    cloud = blurred(rng.standard_normal((n, n)), 4 * PX_PER_MM)
    film = 0.04 * cloud / cloud.std()
    y, x = (np.mgrid[0:n, 0:n] + 0.5) / PX_PER_MM
    at = rng.uniform(12, SIDE_MM - 12, 2)
    if fault in ("coat_thick", "coat_thin"):
        film = film + size
    elif fault == "coat_streaked":
        film = film + size * (2 * ((x + 0.1 * y) / rng.uniform(2.5, 5) % 1) - 1)
    elif fault == "coat_pooled":
        film = film + size * (np.hypot(x - at[0], y - at[1]) < rng.uniform(4.5, 7.5))
    elif fault == "coat_touched":
        film = film - size * (np.hypot((x - at[0]) / 1.2, y - at[1]) < rng.uniform(4, 6.5))
    elif fault == "coat_cracked":
        web = np.zeros((n, n))
        for _ in range(7):
            walk = np.cumsum(rng.normal(0, 0.5, (120, 2)) + rng.normal(0, 0.6, 2), axis=0) + at * PX_PER_MM
            kept = walk[((walk > 1) & (walk < n - 2)).all(axis=1)].astype(int)
            web[kept[:, 1], kept[:, 0]] = 1
        film = film - 3 * ndimage.binary_dilation(web, iterations=2)
    return film


_SIZES = {
    "coat_thick": (0.35, 0.7), "coat_thin": (-2.0, -1.3), "coat_streaked": (0.35, 0.7), "coat_pooled": (0.7, 1.1),
    "coat_touched": (1.5, 3.0), "out_of_focus": (0.5, 1.6), "weak_beam": (-0.8, -0.3), "strong_beam": (0.3, 0.8),
    "too_fast": (1.35, 2.2), "too_slow": (0.45, 0.7), "lines_wide": (1.5, 2.4), "lines_close": (0.45, 0.65),
    "moved": (1.0, 3.5), "backlash": (0.3, 0.9), "off_origin": (1.2, 6.0), "set_askew": (2.0, 7.0),
    "axis_size": (1.04, 1.1),
}  # fmt: skip


def wash(world: World, setting: Setting, fault: str | None, seed: int) -> Washed:
    """Burn the drawing on a fresh piece with this fault, or none."""
    rng = np.random.default_rng([world.seed, seed, 501])
    name = fault or ""
    size = float(rng.uniform(*_SIZES.get(name, (0.0, 0.0))))
    angle = rng.uniform(0, 2 * np.pi)
    lines, ln_time = program(name, setting, size, (np.cos(angle), np.sin(angle)), rng.uniform(0.3, 0.7))
    own, (_, ln_power) = world.pieces(1, rng)[0], world.pieces(1, rng)[0]
    film = own[0] + coat(name, size, rng)
    did = setting
    if name in ("too_fast", "too_slow"):
        did, ln_time = replace(setting, speed_mm_s=setting.speed_mm_s * size), ln_time - np.log(size)
    if name == "extra_pass":
        did, ln_time = replace(setting, passes=setting.passes + 1), ln_time + np.log(1 + 1 / setting.passes)
    ln_power += size if name in ("weak_beam", "strong_beam") else -size if name == "out_of_focus" else 0.0
    seen = burn_gcode(world, did, lines, SIDE_MM, film, float(ln_power), seed)
    # Where hardly any coat is left there is nothing to turn; under a top coat that is gone lies the bare base.
    coated = np.clip((film + 2.0) / 0.9, 0, 1)
    spares = np.ones_like(coated) if world.process == "reveal" else coated
    seen = Seen(seen.y, seen.turned * coated, seen.harmed * spares)
    if name == "out_of_focus":
        seen = Seen(seen.y, blurred(seen.turned, 0.2 * size * PX_PER_MM), seen.harmed)
    reach = {"set_askew": np.deg2rad(size) * 13, "axis_size": 13 * (size - 1), "backlash": size / 2}
    off = reach.get(name, size if name in ("moved", "off_origin") else 0.0)
    return Washed(seen, np.flipud(triangles()), float(film.mean()), float(ln_time), float(off))


_PLACE = {
    "moved": "doubled",
    "backlash": "combed",
    "off_origin": "off_place",
    "set_askew": "askew",
    "axis_size": "wrong_size",
}


def judge(world: World, fault: str | None, washed: Washed, rng: np.random.Generator) -> tuple[str | None, set[str]]:
    """A word, None for spoilt, and what is ticked. Faults of place are told by a chance that grows with their size, and
    taken for another now and then; faults of tone by ninths."""
    signs: set[str] = set()
    bent = fault in _PLACE
    lit = washed.seen.turned > 0.15 if bent else washed.meant
    inner = ndimage.binary_erosion(lit, iterations=2)
    turned = np.where(inner, washed.seen.turned, np.nan)
    mean = float(np.nanmean(turned)) if inner.any() else 0.0
    harmed = float(washed.seen.harmed[inner].mean()) if inner.any() else 0.0
    word: str | None = "harsh" if harmed > 0.02 else "faint" if mean < 0.78 else "clean"
    if bent and rng.random() < 1 - np.exp(-washed.off_mm / (0.15 if fault == "backlash" else 0.4)):
        signs.add(_PLACE[fault] if rng.random() < 0.9 else str(rng.choice(["doubled", "off_place", "askew"])))
        word = None if rng.random() < 0.5 else word
    if word == "harsh":
        signs |= set(HARM_WORDS[world.process])
    if not bent:
        signs |= _tone(fault, turned, mean, rng)
        gaps = float(np.nanmean(turned < 0.4)) if inner.any() else 1.0
        word = "faint" if word == "clean" and gaps > 0.07 else word
    # In one order: a set of words has another in every process.
    return word, {s for s in sorted(signs) if rng.random() < 0.88}


def _tone(fault: str | None, turned: np.ndarray, mean: float, rng: np.random.Generator) -> set[str]:
    if mean < 0.06:
        return {"no_mark"}
    found = {"coat_left"} if mean < 0.7 else set()
    bands = [np.array_split(band, 3, 1) for band in np.array_split(turned, 3)]
    ninths = np.array([[np.nanmean(p) if not np.isnan(p).all() else np.nan for p in band] for band in bands])
    rel = ninths / max(0.05, float(np.nanmax(ninths)))
    low = rel < 0.6
    if 1 <= low.sum() <= 3 and np.nanmedian(rel) > 0.8:
        found.add("patch_missing")
    elif min(np.nanmean(rel[:, 0]) / np.nanmean(rel[:, 2]), np.nanmean(rel[0]) / np.nanmean(rel[2])) < 0.65:
        found.add("fades")
    if float(np.nanstd(turned)) > 0.28:
        found.add("patchy")
    columns = np.nanmean(turned[:, ~np.isnan(turned).all(axis=0)], axis=0)
    swing = np.abs(np.fft.rfft(columns - ndimage.uniform_filter(columns, 60)))[3:]
    if len(swing) and swing.max() / len(columns) > 0.05 and swing.max() > 5 * np.median(swing):
        found.add("streaks")
    if fault == "lines_wide" and rng.random() < 0.85:
        found.add("stripes")
    thin = np.nan_to_num(turned, nan=1.0) < 0.4
    fine = thin & ~ndimage.binary_opening(thin, iterations=4)
    if mean > 0.6 and fine.mean() > 0.002 and "patch_missing" not in found:
        found.add("fine_lines")
    if fault == "out_of_focus" and mean > 0.1 and rng.random() < 0.5:
        found.add("soft")
    return found


def says_of_coat(fault: str | None, rng: np.random.Generator) -> dict[str, bool]:
    """What a photo of the coat shows: eight in ten of what is there, one in twelve of what is not."""
    return {key: bool(rng.random() < (0.8 if cause == fault else 0.08)) for cause, key in _COAT.items()}
