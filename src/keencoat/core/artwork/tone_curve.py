"""From the share of dots burned to how full the mark is, and back: what makes a middle grey come out as one.

Dots gain: a spot is wider than a dot, and heat spreads. A wedge that was burned and photographed tells by how much;
where there is none, spot, lines and window do, with their doubt. How light a place is follows from how full it is by
Murray & Davies (1936), as if full and bare parts lay side by side; where light creeps between them, by Yule & Nielsen
(1951).
"""

import math
from collections.abc import Sequence
from dataclasses import dataclass, replace

import numpy as np
from scipy.optimize import least_squares

from keencoat.core.artwork.screen import Screen
from keencoat.core.artwork.spread import DotModel, flat_fullness
from keencoat.core.errors import BadValueError, require_positive, require_within
from keencoat.core.vision import Floats, lightness, luminance_for

SHARES = np.linspace(0.0, 1.0, 17)
"""Shares of dots at which a curve is worked out."""
LEAST_STEPS = 3
_DRAWS = 60
_STEP, _STARTS = 0.1, (0.0, 1.2)
_SLOPE_LEAST = 1e-4


@dataclass(frozen=True)
class Look:
    """Luminance (0…1) of the bare ground and of a full mark, as seen on the finished piece."""

    ground_y: float
    mark_y: float

    def __post_init__(self) -> None:
        require_within(self.ground_y, 0, 1, "ground_y")
        require_within(self.mark_y, 0, 1, "mark_y")
        if abs(self.ground_y - self.mark_y) < 0.01:
            raise BadValueError(
                "Ground and mark are equally light.", field="mark_y", hint="A mark must differ from its ground."
            )

    @property
    def darkens(self) -> bool:
        """Whether a mark is darker than its ground."""
        return self.mark_y < self.ground_y

    def light_of(self, fullness: Floats) -> Floats:
        """L*/100 of places so full."""
        return np.asarray(lightness(self.ground_y + (self.mark_y - self.ground_y) * fullness) / 100)

    def fullness_of_step(self, step: float) -> float:
        """How full a place is whose L* has gone so far of the way from the ground's to a full mark's."""
        ground, mark = (float(v) for v in self.light_of(np.array([0.0, 1.0])))
        return float(
            (luminance_for(np.array(100 * (ground + step * (mark - ground)))) - self.ground_y)
            / (self.mark_y - self.ground_y)
        )

    def fullness_for(self, wanted: Floats) -> Floats:
        """How full places must be for a picture of lightness 0…1, black to white, spread over what this ground and mark
        can show."""
        dark, light = sorted(float(v) for v in self.light_of(np.array([0.0, 1.0])))
        y = luminance_for(100 * (dark + (light - dark) * wanted))
        return np.asarray(np.clip((y - self.ground_y) / (self.mark_y - self.ground_y), 0, 1))


def effective_area(y: Floats | float, paper_y: float, solid_y: float, n: float = 1.0) -> Floats:
    """The share that would have to be covered for this luminance: Murray & Davies (1936); with n above 1 Yule & Nielsen
    (1951), who let light creep under the dots.

    >>> round(float(effective_area(10**-0.30, 1.0, 10**-1.50)), 4)
    0.5151
    """
    require_positive(n, "n")
    root = 1 / n
    return np.asarray((paper_y**root - np.power(y, root)) / (paper_y**root - solid_y**root))


@dataclass(frozen=True)
class DotBelief:
    """What is known of the dots before a wedge: a model, and how far it may be off: sigma and pace by their ln, the
    margin as it is on the usual piece; `piece_sd`: how far the margin of a piece strays from that."""

    model: DotModel
    sigma_sd_ln: float = 0.3
    margin_sd: float = 0.15
    pace_sd_ln: float = 0.5
    piece_sd: float = 0.0

    def at(self, z: Floats) -> DotModel:
        """The model of a piece so many standard deviations off."""
        return replace(
            self.model,
            sigma_mm=self.model.sigma_mm * float(np.exp(self.sigma_sd_ln * z[0])),
            margin_ln=self.model.margin_ln + math.hypot(self.margin_sd, self.piece_sd) * float(z[1]),
            pace=self.model.pace * float(np.exp(self.pace_sd_ln * z[2])),
        )


@dataclass(frozen=True)
class WedgeStep:
    """A cell of the grey wedge: share of its dots that were burned, how full it came out, how well that is known."""

    share: float
    fullness: float
    sd: float = 0.03

    def __post_init__(self) -> None:
        require_within(self.share, 0, 1, "share")
        require_within(self.fullness, -0.5, 1.5, "fullness")
        require_positive(self.sd, "sd")


@dataclass(frozen=True, eq=False)
class ToneCurve:
    """Fullness at SHARES: what is expected, and the range that holds it nine times in ten. `steps`: the wedge behind
    it, empty for a prediction. `model`: the dots that explain it best; `left_over`: what they leave unexplained."""

    screen: Screen
    fullness: Floats
    low: Floats
    high: Floats
    steps: tuple[WedgeStep, ...]
    model: DotModel
    left_over: Floats

    def shares_for(self, fullness: Floats) -> Floats:
        """Shares of dots that come out so full; what is fuller than a fill gets all dots."""
        # A touch of slope, so that a flat part of the curve has a way back.
        rising = self.fullness + _SLOPE_LEAST * SHARES
        return np.asarray(np.interp(fullness, rising, SHARES), dtype=np.float32)

    def fullness_at(self, shares: Floats) -> Floats:
        """How full so many dots come out."""
        return np.asarray(np.interp(shares, SHARES, self.fullness))


def predicted_curve(screen: Screen, belief: DotBelief, seed: int = 1) -> ToneCurve:
    """The curve that spot, lines and window lead one to expect."""
    nothing = np.zeros_like(SHARES)
    return _curve(screen, belief, np.zeros(3), np.eye(3), (), (nothing, nothing), seed)


def tells_a_curve(steps: Sequence[WedgeStep]) -> bool:
    """Whether a wedge has enough different steps between no dots and all."""
    return _inner_steps(steps) >= LEAST_STEPS


def _inner_steps(steps: Sequence[WedgeStep]) -> int:
    return len({round(s.share, 3) for s in steps if 0.01 < s.share < 0.99})


def calibrated_curve(
    screen: Screen, wedge_screen: Screen, steps: Sequence[WedgeStep], belief: DotBelief, seed: int = 1
) -> ToneCurve:
    """The curve that a wedge leads to on the next piece.

    The dots' model is drawn to the steps against what was believed (least squares); of what the wedge's own piece has
    more or less of a margin, only as much is taken over as is likelier the material's than that piece's. What the model
    leaves over at the steps is added between them, since the wedge knows and the model does not. Raises BadValueError
    for fewer than three different shares between none and all.
    """
    if not tells_a_curve(steps):
        raise BadValueError(
            f"The wedge has {_inner_steps(steps)} steps between no dots and all.",
            field="wedge",
            hint=f"Burn and photograph at least {LEAST_STEPS} greys, 25, 50 and 75 %, say.",
        )
    shares, seen, sd = (np.array([getattr(s, name) for s in steps]) for name in ("share", "fullness", "sd"))

    def off(z: Floats) -> Floats:
        return np.concatenate([(flat_fullness(shares, wedge_screen, belief.at(z)) - seen) / sd, z])

    def slopes(z: Floats) -> Floats:
        # Wide steps: dots are either on or off, and fullness comes in small steps.
        return np.column_stack([(off(z + step) - off(z - step)) / (2 * _STEP) for step in _STEP * np.eye(3)])

    # Small spots fill in steps, so that one start may stay where it is.
    starts = (least_squares(off, np.array([z, 0.0, 0.0]), jac=slopes, max_nfev=40) for z in _STARTS)
    found = min(starts, key=lambda f: float(f.cost))
    slope = slopes(found.x)
    spread = np.linalg.inv(slope.T @ slope)
    left_over = seen - flat_fullness(shares, wedge_screen, belief.at(found.x))
    order = np.argsort(shares)
    knots = np.concatenate([[0.0], shares[order], [1.0]])
    rest = np.interp(SHARES, knots, np.concatenate([[0.0], left_over[order], [left_over[order][-1]]]))
    noise = np.interp(SHARES, knots, np.concatenate([[0.0], sd[order], [0.0]]))
    kept = belief.margin_sd**2 / (belief.margin_sd**2 + belief.piece_sd**2)
    only = np.diag([1.0, kept, 1.0])
    fresh = only @ spread @ only + np.diag([0.0, 1 - kept**2, 0.0])
    return _curve(screen, belief, only @ found.x, fresh, tuple(steps), (rest, noise), seed)


def _curve(
    screen: Screen,
    belief: DotBelief,
    z: Floats,
    covariance: Floats,
    steps: tuple[WedgeStep, ...],
    left_over: tuple[Floats, Floats],
    seed: int,
) -> ToneCurve:
    rest, noise = left_over
    model = belief.at(z)
    draws = np.random.default_rng(seed).multivariate_normal(z, covariance, _DRAWS)
    likely = np.array([flat_fullness(SHARES, screen, belief.at(draw)) + rest for draw in draws])
    low, usual, high = np.quantile(likely, [0.05, 0.5, 0.95], axis=0)
    middle = flat_fullness(SHARES, screen, model) + rest
    # The draws say how wide, the best model where: a bent model's draws lie to one side of it. What steps leave over
    # is taken as it was seen, with its own noise.
    low, high = (middle + way * np.hypot(off - usual, 1.645 * noise) for way, off in ((-1, low), (1, high)))
    low, middle, high = (np.clip(np.maximum.accumulate(c), 0, 1) for c in (low, middle, high))
    return ToneCurve(screen, middle, low, high, steps, model, rest)
