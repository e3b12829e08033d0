"""The two-boundary model: enough, and too much, in ln areal energy and ln dwell.

g₁ = logistic(e^c₁·(x − s − A₁)) is the chance that a cell has enough, g₂ = logistic(e^c₂·(x − ρ·s − A₂)) that it has
too much; s is the piece's own shift: a thicker coat, a weaker day. What moves one boundary need not move the other
alike: a thick coat starves the mark, and shields the piece or cooks it. ρ says how much of s it is. Two things harm:
energy, and a peak of irradiance however short it is; the one that comes first is A₂. A cell is harsh
with g₂, clean with (1 − g₂)·g₁, faint with the rest: a chipped cell is harsh whether or not coat is left on it. A small
lapse mixes in a rating that says nothing. `parameters` says what A₁ and A₂ are made of.
"""

from dataclasses import dataclass

import numpy as np

from keencoat.core.quantities import Machine, Setting, areal_energy_j_mm2, dwell_ms, overlap_lines
from keencoat.core.rating import Rating
from keencoat.core.window.parameters import SIZE, FloatArray, P
from keencoat.core.window.scatter import Scatter

MODEL_VERSION = "two-boundary-6"
OTHER_MACHINE_SD = 0.18
"""Doubt of carrying watts from one rating plate to another: each is within about a fifth (our own estimate)."""
LOT_SD = 0.08
_LEAST_REST = 0.03
_MEASURED_SD = 0.12
_RUN_ALIKE = 0.05
NODES, NODE_WEIGHTS = np.polynomial.hermite_e.hermegauss(5)
NODE_WEIGHTS = NODE_WEIGHTS / NODE_WEIGHTS.sum()
"""For averages over the pieces' own shifts (Gauss–Hermite)."""


STARVED = frozenset({"coat_left", "patchy"})
"""Defects that say: not enough. On a harsh cell they say both at once: no window there."""
STRIPED, STREAKED = "stripes", "streaks"


@dataclass(frozen=True)
class Observation:
    """One rated cell, as the model sees it; the ln figures are those of `parameters`.

    `piece`, `lot`, `machine` tell which it shares with others; machine 0 is the one the window is read for. `to_enough`
    and `to_harm`: how far beyond the boundary a photo's figures put it, in ln energy, None where they don't tell.
    """

    ln_energy: float
    ln_dwell: float
    rating: Rating
    ln_overlap: float = 0.0
    ln_passes: float = 0.0
    ln_power: float = 0.0
    ln_film: float = 0.0
    ln_patch: float = 0.0
    piece: int = 0
    lot: int = 0
    machine: int = 0
    defects: frozenset[str] = frozenset()
    to_enough: float | None = None
    to_harm: float | None = None


@dataclass(frozen=True)
class RunOutcome:
    """A run of whole pieces at one setting (that of `cell`, whose rating does not count), by what came of them."""

    cell: Observation
    faint: int
    clean: int
    harsh: int

    @property
    def pieces(self) -> int:
        """How many pieces it was."""
        return self.faint + self.clean + self.harsh

    @property
    def weight(self) -> float:
        """How much each piece counts: pieces of one run are alike (design effect; Kish 1965)."""
        return 1 / (1 + (self.pieces - 1) * _RUN_ALIKE)


@dataclass(frozen=True, eq=False)
class ModelPoints:
    """Settings as arrays of one shape (points,), in the terms of `parameters`."""

    ln_energy: FloatArray
    ln_dwell: FloatArray
    ln_overlap: FloatArray
    ln_passes: FloatArray
    ln_power: FloatArray
    ln_film: FloatArray
    ln_patch: FloatArray


@dataclass(frozen=True)
class Chances:
    """Chances of the three ratings; arrays of shape (draws, points), each triple adding up to 1."""

    faint: FloatArray
    clean: FloatArray
    harsh: FloatArray


def points_of(settings: list[Setting], machine: Machine) -> ModelPoints:
    """Settings on a machine, under the job's own film and fill, as the model takes them."""
    return ModelPoints(
        np.log([areal_energy_j_mm2(s, machine) for s in settings]),
        np.log([dwell_ms(s, machine) for s in settings]),
        np.log([overlap_lines(s, machine) for s in settings]),
        np.log([float(s.passes) for s in settings]),
        np.log([s.power_pct / 100 for s in settings]),
        np.zeros(len(settings)),
        np.zeros(len(settings)),
    )


def observe(
    setting: Setting, machine: Machine, rating: Rating, piece: int = 0, defects: frozenset[str] = frozenset()
) -> Observation:
    """A rated cell burned with `setting` on `machine`; what else is known of it is put in by `replace`."""
    p = points_of([setting], machine)
    return Observation(
        ln_energy=float(p.ln_energy[0]),
        ln_dwell=float(p.ln_dwell[0]),
        rating=rating,
        ln_overlap=float(p.ln_overlap[0]),
        ln_passes=float(p.ln_passes[0]),
        ln_power=float(p.ln_power[0]),
        piece=piece,
        defects=defects,
    )


def boundaries(theta: FloatArray, at: ModelPoints) -> tuple[FloatArray, FloatArray]:
    """A₁ and A₂ in nominal ln energy, shape (draws, points), for theta (draws, ≥ SIZE); the power's curve is in it."""
    return _Terms.of(at).boundaries(theta)


def harm_limits(theta: FloatArray, at: ModelPoints) -> tuple[FloatArray, FloatArray]:
    """Where energy harms and where irradiance does, in nominal ln energy, (draws, points) each; A₂ is the lower."""
    return _Terms.of(at).harm_limits(theta)


def boundary_rows(theta: FloatArray, at: ModelPoints) -> tuple[FloatArray, FloatArray, FloatArray]:
    """A₁ and A₂ of one theta as sums over its parameters: a row for each, (points, SIZE), and what no parameter changes
    of A₂, (points,); A₂ is that limit which is the lower one for this theta."""
    terms = _Terms.of(at)
    by_energy, by_irradiance = (limit[0] for limit in terms.harm_limits(theta[None, :]))
    energy_first = by_energy <= by_irradiance
    too_much = np.where(energy_first, terms.by_energy, terms.by_irradiance)
    return terms.by_enough.T, too_much.T, np.where(energy_first, 0.0, terms.irradiance_at)


@dataclass(frozen=True, eq=False)
class _Terms:
    """What each parameter contributes to A₁ and to both limits whose lower one is A₂: of energy, and of irradiance;
    each of shape (SIZE, points). `irradiance_at` is what no parameter changes of the last, shape (points,)."""

    by_enough: FloatArray
    by_energy: FloatArray
    by_irradiance: FloatArray
    irradiance_at: FloatArray

    @classmethod
    def of(cls, at: ModelPoints) -> "_Terms":
        by_enough = np.zeros((SIZE, len(at.ln_dwell)))
        by_enough[P.CURVE] = -at.ln_power
        by_enough[P.FILM], by_enough[P.PATCH] = at.ln_film, at.ln_patch
        by_irradiance = by_enough.copy()
        by_irradiance[[P.ENOUGH, P.WIDTH, P.CEILING]] = 1.0
        by_enough[P.ENOUGH] = 1.0
        by_enough[P.SLOPE], by_enough[P.BEND] = at.ln_dwell, at.ln_dwell**2
        by_enough[P.OVERLAP], by_enough[P.PASSES] = at.ln_overlap, at.ln_passes
        by_energy = by_enough.copy()
        by_energy[P.WIDTH] = 1.0
        by_energy[P.WEDGE] = at.ln_dwell
        by_energy[P.OVERLAP_GAP], by_energy[P.PASSES_GAP] = at.ln_overlap, at.ln_passes
        by_energy[P.SPARSE] = np.minimum(at.ln_overlap, 0.0)
        return cls(by_enough, by_energy, by_irradiance, at.ln_dwell + at.ln_overlap + at.ln_passes)

    def harm_limits(self, theta: FloatArray) -> tuple[FloatArray, FloatArray]:
        core = theta[:, :SIZE]
        return core @ self.by_energy, core @ self.by_irradiance + self.irradiance_at

    def boundaries(self, theta: FloatArray) -> tuple[FloatArray, FloatArray]:
        return theta[:, :SIZE] @ self.by_enough, np.minimum(*self.harm_limits(theta))


def piece_sd(theta: FloatArray, scatter: Scatter) -> FloatArray:
    """Spread of the pieces' own shifts in ln energy, shape (draws,)."""
    rest = max(_LEAST_REST, np.hypot(scatter.power_cv, scatter.focus_cv))
    explained = np.hypot(theta[:, P.FILM] * scatter.coat_cv, rest)
    return np.asarray(explained * np.exp(theta[:, P.SCATTER]))


def logistic(x: FloatArray) -> FloatArray:
    """1/(1 + e^−x), safe at both ends; by tanh, which takes half of the time of scipy's expit."""
    return np.asarray(0.5 + 0.5 * np.tanh(0.5 * x))


def transitions(theta: FloatArray, beyond_enough: FloatArray, beyond_harm: FloatArray) -> tuple[FloatArray, FloatArray]:
    """g₁ and g₂, the chances of enough and of too much, shape (draws, points), so far beyond each boundary."""
    return (
        logistic(np.exp(theta[:, P.STEEP_ENOUGH, None]) * beyond_enough),
        logistic(np.exp(theta[:, P.STEEP_HARM, None]) * beyond_harm),
    )


def chances(theta: FloatArray, at: ModelPoints, own: FloatArray | float = 0.0, common: float = 0.0) -> Chances:
    """Chances of each rating, shape (draws, points), for theta (draws, ≥ SIZE), a piece's own shift, and one that both
    boundaries have in common."""
    enough_at, harm_at = boundaries(theta, at)
    x = at.ln_energy - common
    enough, too_much = transitions(theta, x - own - enough_at, x - theta[:, P.SHARED, None] * own - harm_at)
    clean = (1 - too_much) * enough
    return Chances(1 - too_much - clean, clean, too_much)


def average_chances(theta: FloatArray, at: ModelPoints, scatter: Scatter, shift: float = 0.0) -> Chances:
    """Shares of pieces with each rating, shape (draws, points): chances averaged over the pieces' own shifts, all of
    which are moved by `shift`."""
    sd = piece_sd(theta, scatter)[:, None]
    total = np.zeros((3, len(theta), len(at.ln_energy)))
    for node, weight in zip(NODES, NODE_WEIGHTS, strict=True):
        p = chances(theta, at, node * sd, shift)
        total += weight * np.stack([p.faint, p.clean, p.harsh])
    return Chances(*total)


def run_log_likelihood(
    theta: FloatArray, runs: tuple[RunOutcome, ...], scatter: Scatter, shift: float = 0.0
) -> FloatArray:
    """Log-likelihood of runs, shape (draws,): every piece of them with a shift of its own, moved by `shift`."""
    share = average_chances(theta, points_of_cells(tuple(r.cell for r in runs)), scatter, shift)
    shares = np.stack([share.faint, share.clean, share.harsh])
    counts = np.array([[r.weight * r.faint, r.weight * r.clean, r.weight * r.harsh] for r in runs]).T
    return np.asarray((counts[:, None, :] * np.log(0.98 * shares + 0.02 / 3)).sum(axis=(0, 2)))


def points_of_cells(cells: tuple[Observation, ...]) -> ModelPoints:
    """Where cells were burned, as the model takes it."""
    names = ("ln_energy", "ln_dwell", "ln_overlap", "ln_passes", "ln_power", "ln_film", "ln_patch")
    return ModelPoints(*(np.array([getattr(o, name) for o in cells]) for name in names))


class Likelihood:
    """The ratings' log-likelihood. Theta has SIZE parameters and then one standard normal for each effect: of every
    piece, of lots beyond the first, of machines other than 0."""

    def __init__(self, observations: tuple[Observation, ...], scatter: Scatter, lapse: float) -> None:
        self._scatter = scatter
        self._points = points_of_cells(observations)
        self._terms = _Terms.of(self._points)
        pieces = sorted({o.piece for o in observations})
        lots = sorted({o.lot for o in observations})[1:]
        machines = sorted({o.machine for o in observations} - {0})
        self._on_piece = np.array([[o.piece == p for o in observations] for p in pieces], dtype=float)
        self._fixed = np.array(
            [[LOT_SD * (o.lot == lot) for o in observations] for lot in lots]
            + [[OTHER_MACHINE_SD * (o.machine == m) for o in observations] for m in machines],
            dtype=float,
        ).reshape(-1, len(observations))
        self.effects = len(pieces) + len(self._fixed)
        self._pieces = len(pieces)
        # A coat's streaks say nothing of the setting; stripes say that the lines are too far apart, not too weak.
        self._slip = np.array([0.6 if STREAKED in o.defects else lapse for o in observations])
        self._starved = np.array([o.rating is Rating.HARSH and bool(o.defects & STARVED) for o in observations])
        striped = [o.rating is Rating.FAINT and STRIPED in o.defects and not o.defects & STARVED for o in observations]
        harsh = np.array([o.rating is Rating.HARSH for o in observations])
        self._weights = np.stack(
            [
                np.array([o.rating is Rating.FAINT for o in observations], dtype=float),
                np.array([o.rating is Rating.CLEAN for o in observations]) | np.array(striped),
                harsh.astype(float),
            ]
        )
        self._eights = np.arange(0, len(observations), 8)
        self._measured = [
            (
                np.array([getattr(o, name) is not None for o in observations]),
                np.array([getattr(o, name) or 0.0 for o in observations]),
            )
            for name in ("to_enough", "to_harm")
        ]

    def __call__(self, theta: FloatArray) -> FloatArray:
        """Log-likelihood, shape (draws,)."""
        own = theta[:, SIZE : SIZE + self._pieces] @ self._on_piece
        shift = piece_sd(theta, self._scatter)[:, None] * own
        x = self._points.ln_energy
        if len(self._fixed):
            x = x - theta[:, SIZE + self._pieces :] @ self._fixed
        enough_at, harm_at = self._terms.boundaries(theta)
        beyond = x - shift - enough_at, x - theta[:, P.SHARED, None] * shift - harm_at
        enough, harm = transitions(theta, *beyond)
        faint_w, clean_w, harsh_w = self._weights
        too_much = harsh_w * harm
        if self._starved.any():
            too_much[:, self._starved] *= 1 - enough[:, self._starved]
        p = (1 - harm) * (faint_w + (clean_w - faint_w) * enough) + too_much
        p = (1 - self._slip) * p + self._slip / 3
        # Eight at a time: none is below a slip's third, so their product is far from underflow, and logs are dear.
        total = np.log(np.multiply.reduceat(p, self._eights, axis=1)).sum(axis=1)
        for (measured, seen), modelled in zip(self._measured, beyond, strict=True):
            if measured.any():
                off = (modelled - seen)[:, measured] / _MEASURED_SD
                # Student's t with four degrees: a photo may be wrong about a cell.
                total = total - 2.5 * np.log1p(off**2 / 4).sum(axis=1)
        return np.asarray(total)
