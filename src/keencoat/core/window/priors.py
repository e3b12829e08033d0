"""What we believe before the first cell, by process and beam, substrate and coat: wide, and stated.

A slope near ½ is what heat conduction gives: the depth heated in a time t grows with √t, so the energy needed does too
(Carslaw & Jaeger 1959). Centres come from settings that makers report (common practice, no source) or are our own
estimates; the latter are wider. What is not told (process, substrate, coat) widens them further.

Makers report areal energies, speeds and intervals, and nobody reports a spot. So the centre is tied to speed and
interval: it is stated for a usual spot (1/e² diameter), and on a machine of another spot it is moved so that the
same speed and interval want the same energy. Only what is *known* of a spot, a cell burned under it, turns with it.
"""

from dataclasses import dataclass, field, replace
from functools import lru_cache
from typing import Any

import numpy as np
from scipy.special import expit, logit, ndtri

from keencoat.core.quantities import BeamSource
from keencoat.core.sources import SOURCES
from keencoat.core.window.lessons import Kind, Learned, Lesson, learn
from keencoat.core.window.parameters import SIZE, FloatArray, P
from keencoat.core.window.scatter import Scatter

REPORTED_SPOT_MM: dict[BeamSource, float] = {
    BeamSource.BLUE: 0.1,
    BeamSource.NEAR_INFRARED: 0.1,
    BeamSource.CO2: 0.2,
}
"""1/e² diameter of the spot for which a beam's centres are stated: what is usual, since nobody reports one."""

NOT_OF_ITS_KIND = 0.1
"""How often a job has little to do with what was learned elsewhere, whatever its name says: then the catalogue alone
counts (own estimate)."""
_STRANGE_FROM = float(ndtri(1 - NOT_OF_ITS_KIND))

LAPSE = 0.02
"""Share of ratings that say nothing: a slip of the key, a fingerprint."""

_MEANS: dict[P, float] = {
    P.BEND: 0.04,
    P.STEEP_ENOUGH: float(np.log(36.0)),
    P.STEEP_HARM: float(np.log(36.0)),
    P.CURVE: 0.0,
    P.OVERLAP: 0.45,
    P.OVERLAP_GAP: 0.1,
    P.PASSES: 0.45,
    P.PASSES_GAP: 0.15,
    P.FILM: 0.8,
    P.WEDGE: 0.03,
    P.SPARSE: 0.5,
    P.PATCH: 0.0,
    P.SHARED: 0.85,
    P.CEILING: 1.2,
}
_SDS: dict[P, float] = {
    P.SLOPE: 0.2,
    P.WIDTH: 0.5,
    P.WEDGE: 0.1,
    P.BEND: 0.03,
    P.STEEP_ENOUGH: 0.5,
    P.STEEP_HARM: 0.5,
    P.CURVE: 0.06,
    P.OVERLAP: 0.35,
    P.OVERLAP_GAP: 0.3,
    P.PASSES: 0.35,
    P.PASSES_GAP: 0.25,
    P.FILM: 0.5,
    P.SPARSE: 0.4,
    P.PATCH: 0.05,
    P.SHARED: 0.3,
    P.CEILING: 1.2,
}
_MEASURED_SCATTER = -0.1
"""Mean of ln(true scatter / measured): own estimate."""
_UNKNOWN_PROCESS_SD = 1.3
_LINE_SD = 0.4
"""How far a fill's threshold may lie from a line's: neighbours warm it, overlaps repeat it (our own estimate)."""
_UNKNOWN_SUBSTRATE_SD, _UNKNOWN_COAT_SD = 0.15, 0.2
_HARDER_SUBSTRATES = {"borosilicate_glass": 0.15}


@dataclass(frozen=True)
class WindowPrior:
    """Beliefs in figures that a maker can read; `mean` and `sd` give them as independent Gaussians.

    centre_j_mm2: middle of the clean band at 1 ms dwell under a spot (1/e² diameter) of REPORTED_SPOT_MM. width_ln:
    ln(too much / enough) there. `scatter`: how much the shop's pieces differ. `spot_ratio`: the machine's spot over
    the one for which the centre is stated.
    """

    centre_j_mm2: float
    centre_sd_ln: float
    width_ln: float
    slope: float
    source: str
    scatter: Scatter = field(default_factory=Scatter)
    lapse: float = LAPSE
    spot_ratio: float = 1.0
    learned: Learned | None = None

    @property
    def switches(self) -> int:
        """How many normals besides the parameters' own `believed` takes, from the last column on."""
        return 0 if self.learned is None else 1

    def believed(self, z: FloatArray) -> FloatArray:
        """Parameters (n, SIZE) for standard normals (n, ≥ SIZE + switches): independent Gaussians, or what was learned
        from elsewhere, but for the few that are not of their kind."""
        stated = self.mean + self.sd * z[:, :SIZE]
        if self.learned is None:
            return stated
        learned = np.array(self.learned.mean) + z[:, :SIZE] @ np.array(self.learned.root).T
        return np.where(z[:, -1:] > _STRANGE_FROM, stated, learned)

    @property
    def mean(self) -> FloatArray:
        """Means of the parameters, in their order."""
        mean = np.zeros(SIZE)
        for place, value in _MEANS.items():
            mean[place] = value
        mean[P.SLOPE], mean[P.WIDTH] = self.slope, self.width_ln
        mean[P.ENOUGH] = np.log(self.centre_j_mm2) - self.width_ln / 2
        # What another spot does to dwell, overlap and irradiance at one power, speed and interval is taken back.
        ln_spot = float(np.log(self.spot_ratio))
        less_enough = (self.slope + mean[P.OVERLAP]) * ln_spot
        less_width = (mean[P.WEDGE] + mean[P.OVERLAP_GAP]) * ln_spot + mean[P.SPARSE] * min(ln_spot, 0.0)
        mean[P.ENOUGH] -= less_enough
        mean[P.WIDTH] -= less_width
        mean[P.CEILING] -= 2 * ln_spot - less_enough - less_width
        mean[P.SCATTER] = _MEASURED_SCATTER if self.scatter.is_measured else self.scatter.guess_off_ln
        return mean

    @property
    def sd(self) -> FloatArray:
        """Their standard deviations."""
        sd = np.zeros(SIZE)
        for place, value in _SDS.items():
            sd[place] = value
        # The centre is what is known of a process; the enough boundary also shares the doubt of half the width.
        sd[P.ENOUGH] = np.hypot(self.centre_sd_ln, _SDS[P.WIDTH] / 2)
        sd[P.SCATTER] = self.scatter.doubt_ln
        return sd

    @property
    def believed_centre_j_mm2(self) -> float:
        """Middle of the clean band at 1 ms dwell under this machine's own spot, by all that is known beforehand."""
        mean, _ = self.gaussian
        return float(np.exp(mean[P.ENOUGH] + mean[P.WIDTH] / 2))

    @property
    def gaussian(self) -> tuple[FloatArray, FloatArray]:
        """Mean and root of the covariance, strangers apart."""
        if self.learned is None:
            return self.mean, np.diag(self.sd)
        return np.array(self.learned.mean), np.array(self.learned.root)

    def behind(self, draws: FloatArray) -> tuple[FloatArray, FloatArray]:
        """Mean and root of the covariance of that belief, learned or stated, from which draws (n, SIZE) of a posterior
        mostly came."""
        stated = self.mean, np.diag(self.sd)
        if self.learned is None:
            return stated
        strange = logit(NOT_OF_ITS_KIND) + _ln_density(draws, *stated) - _ln_density(draws, *self.gaussian)
        return stated if expit(strange).mean() > 0.5 else self.gaussian

    @property
    def source_text(self) -> str:
        """Where the centre comes from, in words."""
        return SOURCES[self.source].text


def _reported(centre_j_mm2: float, width_ln: float, slope: float) -> WindowPrior:
    return WindowPrior(centre_j_mm2, 0.6, width_ln, slope, "common-practice")


def _guessed(centre_j_mm2: float, width_ln: float = 0.8, slope: float = 0.4) -> WindowPrior:
    return WindowPrior(centre_j_mm2, 0.9, width_ln, slope, "own-estimate")


def _ln_density(at: FloatArray, mean: FloatArray, root: FloatArray) -> FloatArray:
    """ln of a Gaussian's density, (n,), but for a constant that all share."""
    away = np.linalg.solve(root, (at - mean).T)
    return np.asarray(-0.5 * (away**2).sum(axis=0) - np.linalg.slogdet(root)[1])


BLUE, NIR, CO2 = BeamSource.BLUE, BeamSource.NEAR_INFRARED, BeamSource.CO2

PRIORS: dict[tuple[str, BeamSource], WindowPrior] = {
    ("frost", BLUE): _reported(1.85, 1.25, 0.48),
    ("frost", NIR): _guessed(2.5),
    ("frost", CO2): _guessed(0.8),
    ("fuse", BLUE): _reported(1.45, 0.9, 0.4),
    ("fuse", NIR): _guessed(2.0),
    ("fuse", CO2): _guessed(1.2),
    ("reveal", BLUE): _reported(0.22, 0.9, 0.25),
    ("reveal", NIR): _guessed(0.5),
    ("reveal", CO2): _reported(0.26, 0.9, 0.25),
    ("back_engrave", BLUE): _guessed(1.0, width_ln=0.9),
    ("protect", CO2): _guessed(0.8),
    ("ablate", BLUE): _guessed(3.0, width_ln=0.9),
    ("ablate", NIR): _guessed(1.5, width_ln=0.9),
    ("ablate", CO2): _guessed(1.2, width_ln=0.9),
    ("resist", BLUE): _guessed(1.5, width_ln=1.0),
    ("resist", NIR): _guessed(1.0, width_ln=1.0),
}

UNKNOWN = WindowPrior(1.4, _UNKNOWN_PROCESS_SD, 0.8, 0.4, "own-estimate")
"""Any process under any beam."""


def prior_from(facts: dict[str, Any]) -> WindowPrior:
    """A prior that was kept as plain figures (`asdict`). Raises TypeError where they are not those of one."""
    kept = facts.get("learned")
    learned = kept and Learned(
        tuple(kept["mean"]),
        tuple(tuple(row) for row in kept["root"]),
        tuple(kept["weights"]),
        kept["catalogue"],
        kept["own_alike"],
    )
    return WindowPrior(**(facts | {"scatter": Scatter(**facts["scatter"]), "learned": learned}))


def prior_for(process_key: str, source: BeamSource) -> WindowPrior:
    """The prior of a process under a beam; KeyError cannot happen for pairs that `assess` lets through (tested)."""
    return PRIORS[(process_key, source)]


@dataclass(frozen=True)
class LineHint:
    """What a line test says of the enough boundary: its peak fluence just marks at this dwell, ln J/mm² and ln ms."""

    ln_energy: float
    ln_dwell: float


def hint_from_lines(threshold_w: float, waist_mm: float, speed_mm_s: float) -> LineHint:
    """A line's peak fluence √(2/π)·P/(w·v) at the power that just marks; a fill of overlapping lines marks about where
    its mean fluence reaches the same (our own estimate)."""
    peak = np.sqrt(2 / np.pi) * threshold_w / (waist_mm * speed_mm_s)
    return LineHint(float(np.log(peak)), float(np.log(2000 * waist_mm / speed_mm_s)))


def lesson_of_lines(here: Kind, hint: LineHint) -> Lesson:
    """What a line test into this coat tells of the enough boundary, one line of it, ± _LINE_SD."""
    row = np.zeros(SIZE)
    row[P.ENOUGH], row[P.SLOPE], row[P.BEND] = 1.0, hint.ln_dwell, hint.ln_dwell**2
    return Lesson(here, (tuple(float(v) for v in row),), (hint.ln_energy,), (_LINE_SD,))


@lru_cache(maxsize=256)
def with_lessons(prior: WindowPrior, here: Kind, lessons: tuple[Lesson, ...]) -> WindowPrior:
    """The prior by what was learned elsewhere as well; the last few hundred are kept."""
    return replace(prior, learned=learn(prior.mean, prior.sd, here, lessons))


def harder_ln(substrate_key: str | None) -> float:
    """How much more energy a substrate is known to want than usual, as ln."""
    return _HARDER_SUBSTRATES.get(substrate_key or "", 0.0)


def stated_prior(
    process_key: str | None,
    source: BeamSource,
    substrate_key: str | None,
    film_share: float | None,
    scatter: Scatter,
    spot_mm: float | None = None,
) -> WindowPrior:
    """The prior for what is told, on a machine of that spot (a usual one if None). `film_share`: the film against what
    is usual for this coat; None if unknown.

    A film that is thicker than usual needs more, by the model's own guess; what is not told widens the centre.
    """
    base = PRIORS.get((process_key or "", source), UNKNOWN)
    doubts = [base.centre_sd_ln]
    shift = harder_ln(substrate_key)
    if substrate_key is None:
        doubts.append(_UNKNOWN_SUBSTRATE_SD)
    if film_share is None:
        doubts.append(_UNKNOWN_COAT_SD)
    else:
        shift += _MEANS[P.FILM] * float(np.log(film_share))
        doubts.append(_SDS[P.FILM] * abs(float(np.log(film_share))))
    return replace(
        base,
        centre_j_mm2=base.centre_j_mm2 * float(np.exp(shift)),
        centre_sd_ln=float(np.linalg.norm(doubts)),
        scatter=scatter,
        spot_ratio=spot_mm / REPORTED_SPOT_MM[source] if spot_mm else 1.0,
    )
