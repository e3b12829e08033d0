"""Hidden materials on hidden machines, to try planners on: what the window truly is, by burning everywhere.

Kinds: *open*; *narrow* (the powers that keep 95 % clean span 8 to 34 % at the speed where they span most); *cut* (the
machine ends before the window does: its fastest good speed lies under three times its least, or its least power is
still too much over most speeds); *empty* (nothing keeps half of the pieces clean). What lies between shut and narrow
is left out: no planner could be blamed, and no hand could set it.
"""

from dataclasses import dataclass, replace
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from keencoat.bench.plant.fill import Lines
from keencoat.bench.plant.layer import Array
from keencoat.bench.plant.many import Bench, Pieces, clean_share, draw_pieces
from keencoat.bench.plant.materials import MATERIALS, Material, Way, hidden_material

WANTED = 0.95
_LEAST_WIDTH, _NARROW = 0.08, 0.34
FILL_MM = 18.0
_SPEEDS, _POWERS, _PIECES = 26, 30, 96
_SUBSTRATES = {
    "frost": "soda_lime_glass",
    "fuse": "white_glazed_tile",
    "reveal": "painted_tile",
    "back_engrave": "clear_acrylic",
    "protect": "clear_acrylic",
    "ablate": "powder_coated_steel",
    "resist": "brass",
}


class Kind(StrEnum):
    """What a hidden window is like."""

    OPEN = "open"
    NARROW = "narrow"
    CUT = "cut"
    EMPTY = "empty"


_NO_CASE = {Kind.EMPTY: Kind.OPEN, Kind.OPEN: Kind.EMPTY, Kind.NARROW: Kind.EMPTY, Kind.CUT: Kind.EMPTY}


@dataclass(frozen=True, eq=False)
class Hidden:
    """A case: the bench with its limits, and the truth about it. `fastest_mm_s` keeps the wanted share; 0 if none."""

    seed: int
    kind: Kind
    process: str
    bench: Bench
    min_speed_mm_s: float
    max_speed_mm_s: float
    min_power_pct: float
    interval_mm: float
    best_share: float
    fastest_mm_s: float

    @property
    def substrate(self) -> str:
        """What the pieces are made of."""
        return _SUBSTRATES[self.process]

    def share(self, power_pct: float, speed_mm_s: float, interval_mm: float, passes: int, pieces: Pieces) -> float:
        """True share of clean pieces of a setting, filled at full size."""
        return clean_share(self.bench, power_pct / 100, Lines(speed_mm_s, interval_mm, passes), pieces, FILL_MM)


def truth_map(case: Hidden, interval_mm: float, passes: int, pieces: Pieces) -> tuple[Array, Array, Array]:
    """Speeds, powers in per cent, and true shares of shape (powers, speeds) over the machine's reach."""
    speeds = np.geomspace(case.min_speed_mm_s, case.max_speed_mm_s, _SPEEDS)
    powers = np.geomspace(case.min_power_pct, 100.0, _POWERS)
    shares = [[case.share(float(p), float(v), interval_mm, passes, pieces) for v in speeds] for p in powers]
    return speeds, powers, np.array(shares)


def draw_hidden(seed: int) -> Hidden:
    """A case of the kind that this seed stands for: of 25, 13 open, 5 narrow, 4 cut, 3 empty."""
    kind = [Kind.OPEN] * 13 + [Kind.NARROW] * 5 + [Kind.CUT] * 4 + [Kind.EMPTY] * 3
    wanted = kind[seed % 25]
    for attempt in range(400):
        rng = np.random.default_rng([seed, attempt, 77])
        case = _judge(_draw(seed, wanted, rng))
        if case.kind is wanted:
            return case
    raise RuntimeError(f"no {wanted} case for seed {seed}")


def _draw(seed: int, kind: Kind, rng: np.random.Generator) -> Hidden:
    process = str(rng.choice(sorted(MATERIALS)))
    gas = process == "protect"
    material = hidden_material(process, int(rng.integers(2**31)))
    spot = float(rng.uniform(0.11, 0.2) if gas else rng.uniform(0.06, 0.13))
    rated = float(rng.choice([30.0, 40.0, 60.0, 80.0]) if gas else rng.choice([5.0, 10.0, 12.0, 20.0, 33.0]))
    interval = 0.085 if process == "reveal" else 0.08 if material.way is Way.REMOVAL else 0.1
    slowest = float(rng.choice([1.0, 4.0, 8.0]))
    if kind is Kind.NARROW:
        material = _narrowed(material, rng.uniform(0.15, 0.7))
    elif kind is Kind.CUT:
        rated *= float(rng.uniform(0.08, 0.5))
    elif kind is Kind.EMPTY:
        # A third is shut for good, a third out of a weak machine's reach, a third scanned with lines too far apart.
        why = rng.random()
        if why < 1 / 3:
            material = _narrowed(material, rng.uniform(0.0, 0.2))
        elif why < 2 / 3:
            rated, slowest = rated * float(rng.uniform(0.05, 0.4)), 8.0
        else:
            interval = spot * float(rng.uniform(1.4, 2.6))
    bench = Bench(
        replace(material, spot_mm=spot),
        rated,
        10_600.0 if gas else 450.0,
        float(rng.choice([1000, 3000, 6000])),
        float(rng.uniform(3, 6)),
    )
    return Hidden(
        seed,
        kind,
        process,
        bench,
        slowest,
        float(rng.choice([100.0, 166.0, 300.0, 500.0])),
        float(rng.choice([1.0, 2.0, 5.0, 10.0])),
        interval,
        0.0,
        0.0,
    )


def _narrowed(material: Material, share: float) -> Material:
    return replace(material, harm_ratio=1 + share * (material.harm_ratio - 1))


def _judge(case: Hidden) -> Hidden:
    pieces = draw_pieces(case.bench.material, _PIECES, np.random.default_rng([case.seed, 5]))
    speeds, powers, share = truth_map(case, case.interval_mm, 1, pieces)
    good = share >= WANTED
    best = float(share.max())
    if best < 0.5:
        return replace(case, kind=Kind.EMPTY, best_share=best)
    width = _width(case, pieces, speeds, powers, share)
    if width < _LEAST_WIDTH or not good.any():
        return replace(case, kind=_NO_CASE[case.kind], best_share=best)
    column = int(np.flatnonzero(good.any(axis=0)).max())
    fastest = _finer_fastest(case, pieces, speeds, powers, good, column)
    cut = fastest < 3 * case.min_speed_mm_s or (good[0].mean() > 0.3 and good[0].sum() > good[1:].any(axis=0).sum() / 2)
    kind = Kind.CUT if cut else Kind.NARROW if width < _NARROW else Kind.OPEN
    return replace(case, kind=kind, best_share=best, fastest_mm_s=fastest)


def _width(case: Hidden, pieces: Pieces, speeds: Array, powers: Array, share: Array) -> float:
    """Largest span in ln power that keeps the wanted share, over the few best speeds."""
    widest = 0.0
    for column in np.argsort(-(share >= WANTED).sum(axis=0) - share.max(axis=0))[:3]:
        middle = powers[share[:, column].argmax()]
        near = np.geomspace(max(case.min_power_pct, middle * 0.6), min(100.0, middle / 0.6), 41)
        good = [case.share(float(p), float(speeds[column]), case.interval_mm, 1, pieces) >= WANTED for p in near]
        widest = max(widest, float(sum(good) * np.log(near[1] / near[0])))
    return widest


def _finer_fastest(
    case: Hidden, pieces: Pieces, speeds: Array, powers: Array, good: NDArray[np.bool_], column: int
) -> float:
    """The fastest good speed between this column and the next, to 2 %."""
    if column == len(speeds) - 1:
        return float(speeds[-1])
    rows = np.flatnonzero(good[:, column])
    near = np.geomspace(powers[max(0, rows.min() - 1)], powers[min(len(powers) - 1, rows.max() + 2)], 14)
    low, high = float(speeds[column]), float(speeds[column + 1])
    while high / low > 1.02:
        middle = float(np.sqrt(low * high))
        if any(case.share(float(p), middle, case.interval_mm, 1, pieces) >= WANTED for p in near):
            low = middle
        else:
            high = middle
    return low
