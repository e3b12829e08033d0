"""What the photo of a washed piece says is wrong with it: words with figures, and the signs that these are.

From which size on a figure counts as a sign was chosen on photos of both practice worlds, so that of faultless pieces
hardly any shows one; docs/inspect.md has the shares.
"""

import math
from collections.abc import Iterator
from dataclasses import dataclass

from keencoat.core.artwork import Doubled, Flaws, Patch
from keencoat.core.substrate import Process

_SHIFT_MM, _ASKEW_DEG, _SIZE_PCT = 0.7, 1.0, 1.5
_PATCH_MM2, _STRANGE_MM2, _PARTWAY = 3.0, 2.0, 0.5
_STREAK_DEPTH, _STREAK_COHERENCE = 0.02, 0.5
_COMBED_MM, _COMBED_SHARE = 0.35, 1.35
_SPOTS_SHARE, _HAZE_L, _BROWN_SHARE = 0.025, 3.0, 0.1
_LEAST_TOLD_MM = 0.15


@dataclass(frozen=True)
class SeenFlaw:
    """A flaw in words, and the key of the sign that it is, "" for one that only eyes can name."""

    sign: str
    words: str


def out_of_place(
    shift_mm: tuple[float, float] | None, askew_deg: float | None, size_pct: tuple[float, float] | None
) -> set[str]:
    """The signs of place that a photo shows: its mark moved right and up, turned, wider and higher than meant."""
    found = set()
    if shift_mm is not None and math.hypot(*shift_mm) > _SHIFT_MM:
        found.add("off_place")
    if askew_deg is not None and abs(askew_deg) > _ASKEW_DEG:
        found.add("askew")
    if size_pct is not None and max(map(abs, size_pct)) > _SIZE_PCT:
        found.add("wrong_size")
    return found


def signs_seen(lies: set[str], flaws: Flaws | None, process: Process) -> set[str]:
    """The signs that a photo shows, from how the mark lies (`out_of_place`) and its flaws. A mark that jumped has no
    one place, and one with a patch missing no size or turn that could be told."""
    if flaws is None:
        return lies
    found = {flaw.sign for flaw in flaws_seen(flaws, process) if flaw.sign}
    if _jumped(flaws.doubled):
        return found
    return found | (lies - {"wrong_size", "askew"} if "patch_missing" in found else lies)


def flaws_seen(flaws: Flaws, process: Process) -> list[SeenFlaw]:
    """The flaws of a mark, the heaviest first. What a process cannot have is no sign of it."""
    told = [*_doubled(flaws), *_missing(flaws), *_strange(flaws), *_streaks(flaws), *_edges(flaws)]
    told += [*_spots(flaws), *_haze(flaws), *_brown(flaws)]
    own = {"stripes", "streaks", "haze", "brown"}
    return [flaw for flaw in told if flaw.sign not in own or flaw.sign in process.defects]


def patches_seen(flaws: Flaws) -> list[tuple[Patch, bool]]:
    """What is framed on the photo: patches, each with whether a mark is missing there. Of a mark that jumped none: what
    is missing here lies there."""
    if _jumped(flaws.doubled):
        return []
    return [(patch, True) for patch in flaws.missing] + [(patch, False) for patch in flaws.extra]


def _doubled(flaws: Flaws) -> Iterator[SeenFlaw]:
    if flaws.doubled is None:
        return
    by, share = flaws.doubled, f"{100 * flaws.doubled.share:.0f} % of the mark"
    if by.gone >= _PARTWAY:
        yield SeenFlaw("doubled", f"It jumped partway: {share} lies {_way(by.right_mm, by.up_mm)} of the rest.")
    else:
        yield SeenFlaw("doubled", f"A second image, {share}, lies {_way(by.right_mm, by.up_mm)} of the first.")


def _missing(flaws: Flaws) -> Iterator[SeenFlaw]:
    if _jumped(flaws.doubled) or not flaws.missing or flaws.missing[0].area_mm2 < _PATCH_MM2:
        return
    share = f"{100 * flaws.missing_share:.0f} % of the mark is missing"
    yield SeenFlaw("patch_missing", f"{share}: the largest patch, {_lies(flaws.missing[0])}.")


def _strange(flaws: Flaws) -> Iterator[SeenFlaw]:
    if flaws.doubled is None and flaws.extra and flaws.extra[0].area_mm2 >= _STRANGE_MM2:
        words = f"{flaws.extra_mm2:.0f} mm² are marked where nothing was meant: the largest, {_lies(flaws.extra[0])}."
        yield SeenFlaw("", words)


def _streaks(flaws: Flaws) -> Iterator[SeenFlaw]:
    streaks = flaws.streaks
    if streaks is None or flaws.doubled is not None or flaws.missing or _speckled(flaws):
        return
    if streaks.depth < _STREAK_DEPTH or streaks.coherence < _STREAK_COHERENCE:
        return
    every = f", one every {streaks.spacing_mm:.1f} mm" if streaks.spacing_mm else ""
    figures = f"at {streaks.direction_deg:.0f}°{every}, the mark {100 * streaks.depth:.0f} % fuller and emptier"
    if streaks.along_lines:
        yield SeenFlaw("stripes", f"Stripes along the scan lines, {figures}: the lines, or a brush drawn along them.")
    else:
        yield SeenFlaw("streaks", f"Streaks across the scan lines, {figures}: the coat's, not the lines'.")


def _edges(flaws: Flaws) -> Iterator[SeenFlaw]:
    edges = flaws.edges
    if edges is None or flaws.doubled is not None:
        return
    if edges.combed_mm >= _COMBED_MM and edges.upright_mm >= _COMBED_SHARE * edges.level_mm:
        words = f"Upright edges are {edges.upright_mm:.1f} mm wide, level ones {edges.level_mm:.1f}: lines to and fro"
        yield SeenFlaw("combed", f"{words} end about {edges.combed_mm:.1f} mm apart.")


def _spots(flaws: Flaws) -> Iterator[SeenFlaw]:
    if _speckled(flaws) and flaws.spots is not None:
        spots = flaws.spots
        words = f"{spots.count} spots unlike the mark in {spots.in_cm2:.1f} cm² of it, up to {spots.most_mm:.1f} mm"
        yield SeenFlaw("", f"{words}: chips, pinholes or cracks.")


def _speckled(flaws: Flaws) -> bool:
    return flaws.spots is not None and flaws.spots.share >= _SPOTS_SHARE


def _haze(flaws: Flaws) -> Iterator[SeenFlaw]:
    if flaws.haze_l is not None and abs(flaws.haze_l) >= _HAZE_L:
        how = "lighter" if flaws.haze_l > 0 else "darker"
        yield SeenFlaw("haze", f"The ground close to the mark is {abs(flaws.haze_l):.0f} L* {how} than far from it.")


def _brown(flaws: Flaws) -> Iterator[SeenFlaw]:
    if flaws.brown_share is not None and flaws.brown_share >= _BROWN_SHARE:
        yield SeenFlaw("brown", f"{100 * flaws.brown_share:.0f} % of the full mark is yellow to brown.")


def _jumped(doubled: Doubled | None) -> bool:
    return doubled is not None and doubled.gone >= _PARTWAY


def _way(right_mm: float, up_mm: float) -> str:
    ways = [(right_mm, "right", "left"), (up_mm, "up", "down")]
    parts = [f"{abs(mm):.1f} mm {more if mm > 0 else less}" for mm, more, less in ways if abs(mm) >= _LEAST_TOLD_MM]
    return " and ".join(parts)


def _lies(patch: Patch) -> str:
    way = _way(patch.x_mm, patch.y_mm)
    where = f"{way} of the middle" if way else "in the middle"
    return f"{patch.width_mm:.0f} × {patch.height_mm:.0f} mm, {where}"
