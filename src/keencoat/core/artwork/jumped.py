"""A mark that jumped partway, since the piece moved while it burned: one part of it lies in its place, the other beside
it. The line between the two is searched for, along the scan lines and across them."""

import math
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace

import numpy as np

from keencoat.core.artwork.landing import ShiftRoom, pushed
from keencoat.core.vision import Floats

_SPLITS = np.linspace(0.1, 0.9, 13)
_LEAST_JUMP_MM, _LEAST_PART = 0.5, 0.08
_BETTER = 0.75
"""A jump is believed where it leaves so much less unlike than one landing of the whole does."""


@dataclass(frozen=True)
class Jump:
    """The larger part lies right_px and down_px of where it was meant; the rest (share of the mark) further by
    jump_right_px and jump_down_px. like: how well the two together look like what was expected, as a correlation."""

    right_px: float
    down_px: float
    jump_right_px: float
    jump_down_px: float
    share: float
    like: float


def jump_of(seen: Floats, meant: Floats, inside: np.ndarray, px_per_mm: float, most_mm: float) -> Jump | None:
    """The likeliest jump of a mark in `seen` against `meant`, both (rows, columns), the more the more mark, without a
    slope; each part at most `most_mm` off its place. None where a jump would be under half a millimetre."""
    if not (meant > meant.max() / 2).any():
        return None
    most_px, least_px = most_mm * px_per_mm, _LEAST_JUMP_MM * px_per_mm
    ways = [*_splits(seen, meant, inside, most_px)]
    ways += [_turned(jump) for jump in _splits(seen.T, meant.T, inside.T, most_px)]
    far = [way for way in ways if math.hypot(way.jump_right_px, way.jump_down_px) >= least_px]
    return max(far, key=lambda way: way.like, default=None)


def is_jump(jump: Jump, like_as_one: float) -> bool:
    """Whether a jump tells the picture better than one landing of the whole, which is so much like it."""
    return 1 - jump.like < _BETTER * (1 - like_as_one)


def _turned(jump: Jump) -> Jump:
    """Of a picture whose rows were taken for its columns."""
    return replace(
        jump,
        right_px=jump.down_px,
        down_px=jump.right_px,
        jump_right_px=jump.jump_down_px,
        jump_down_px=jump.jump_right_px,
    )


def _splits(seen: Floats, meant: Floats, inside: np.ndarray, most_px: float) -> Iterator[Jump]:
    """One jump for each row at which the mark may be parted."""
    marked = np.flatnonzero((meant > meant.max() / 2).any(axis=1))
    weight = (meant - meant.min()).sum(axis=1)
    seen, meant = ((face - face[inside].mean()) / face[inside].std() for face in (seen, meant))
    off_within = _unlike_within(seen, meant, math.floor(most_px))
    whole = off_within(inside)
    for row in np.unique(np.round(marked[0] + _SPLITS * (marked[-1] - marked[0])).astype(int)):
        share = float(weight[:row].sum() / weight.sum())
        if min(share, 1 - share) < _LEAST_PART:
            continue
        upper = np.array(inside, copy=True)
        upper[row:] = False
        off = off_within(upper)
        above, below = _least(off), _least(whole - off)
        both = np.concatenate([pushed(meant, *above)[:row], pushed(meant, *below)[row:]])
        like = float(np.corrcoef(seen[inside], both[inside])[0, 1])
        first, then, rest = (above, below, 1 - share) if share >= 0.5 else (below, above, share)
        yield Jump(*first, then[0] - first[0], then[1] - first[1], rest, like)


def _unlike_within(seen: Floats, meant: Floats, reach: int) -> Callable[[np.ndarray], Floats]:
    """How much `meant`, moved by each shift up to `reach`, differs from `seen` within a part of it, by squares; but for
    what no shift changes. Parts that share no pixel add up."""
    room = ShiftRoom(meant.shape, reach)
    squared, plain = (np.conj(room.spectrum(face)) for face in (meant**2, meant))

    def off(part: np.ndarray) -> Floats:
        return room.sums(room.spectrum(part) * squared - 2 * room.spectrum(seen * part) * plain)

    return off


def _least(off: Floats) -> tuple[float, float]:
    """The shift (right, down) that differs least, px."""
    down, right = np.unravel_index(int(off.argmin()), off.shape)
    reach = len(off) // 2
    return (_finer(off[down], int(right)) - reach, _finer(off[:, right], int(down)) - reach)


def _finer(off: Floats, at: int) -> float:
    """Where the parabola through three neighbours is lowest."""
    if not 0 < at < len(off) - 1:
        return float(at)
    before, here, after = off[at - 1 : at + 2]
    bend = before - 2 * here + after
    return float(at + 0.5 * (before - after) / bend) if bend > 0 else float(at)
