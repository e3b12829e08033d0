"""What a window is told from elsewhere: by the shop's own locked windows, a card, a line test. One mechanism for all.

A lesson is what one source says, as independent readings: a row of figures, one a parameter, whose sum with the
parameters *there* comes to a value, give or take. There is not here: another coat, substrate, machine, lot or day
moves each parameter by its own doubt, and what two sources have in common moves both alike (partial pooling; Gelman et
al. 2013, chapter 5). All is Gaussian, so that the belief here follows in one step (kriging; Rasmussen & Williams 2006,
chapter 2). A source that contradicts the others counts for less (Student's t, by the weights of Lange, Little & Taylor
1989).
"""

import math
from dataclasses import dataclass

import numpy as np

from keencoat.core.window.model import (
    LOT_SD,
    OTHER_MACHINE_SD,
    ModelPoints,
    boundary_rows,
)
from keencoat.core.window.parameters import SIZE, FloatArray, P
from keencoat.core.window.scatter import ln_cv

_ALIKE = 5.0
"""Degrees of freedom: how seldom sources lie, and how far off they may be (own estimate)."""
_TELLING = 0.6
"""Share of the earlier variance below which a direction counts as learned: draws alone make others look so."""
_NEARLY_FULL = 0.95
_FADES_DAYS = 1500.0
"""Days in which a machine, a coat and a pair of hands forget by a factor of e: a tube loses about a tenth a year (own
estimate)."""


@dataclass(frozen=True)
class Kind:
    """What a window is a window of, by name; a machine's name changes when its figures do. `film_um`: 0 if unknown;
    `harder_ln`: what is known beforehand of the substrate, in ln energy."""

    coat: str
    substrate: str
    machine: str
    film_um: float = 0.0
    coat_cv: float = 0.12
    harder_ln: float = 0.0

    def is_like(self, other: "Kind") -> bool:
        """Whether it is the same job once more, but for its film."""
        return not self.apart(other)

    def apart(self, other: "Kind") -> list[str]:
        """In which of the levels that windows share they differ."""
        return [level for level in _LEVELS if getattr(self, level) != getattr(other, level)]


@dataclass(frozen=True)
class Lesson:
    """What one source tells: `rows` (readings, SIZE), the value of each, and its standard deviation. `job`: which job
    of the shop's own it is, 0 for none; `age_days` before the window that is asked for."""

    kind: Kind
    rows: tuple[tuple[float, ...], ...]
    values: tuple[float, ...]
    sds: tuple[float, ...]
    age_days: float = 0.0
    job: int = 0

    @property
    def is_own(self) -> bool:
        """Whether the shop burned it itself."""
        return self.job > 0


@dataclass(frozen=True)
class Learned:
    """A belief about all parameters: their means, and a root of their covariance (SIZE, SIZE), as plain figures so that
    it can be kept; `weights` how much each lesson counted, 0…1; `catalogue` what share of the doubt about the middle of
    the window is left of that without lessons, which is what the catalogue still counts for; `own_alike` how many own
    windows are of the same kind."""

    mean: tuple[float, ...]
    root: tuple[tuple[float, ...], ...]
    weights: tuple[float, ...]
    catalogue: float
    own_alike: int


_LEVELS = ("coat", "substrate", "machine")
_ENOUGH_SDS = {"coat": 0.25, "substrate": 0.2, "machine": OTHER_MACHINE_SD, "job": math.hypot(LOT_SD, 0.05)}
"""How far the enough boundary differs, ln energy, from coat to coat and so on: own estimates; a job has a lot and a day
of its own."""
_SHARES = {"coat": 0.2, "substrate": 0.15, "machine": 0.05, "job": 0.04}
"""The same of every other parameter, as a share of the variance that is believed in without lessons: own estimates."""


def _level_vars(sd: FloatArray) -> dict[str, FloatArray]:
    """Variances by level, (SIZE,) each; what is left is common to the process and beam."""
    levels = {name: share * sd**2 for name, share in _SHARES.items()}
    for name, own in _ENOUGH_SDS.items():
        levels[name][P.ENOUGH] = min(own**2, 0.3 * sd[P.ENOUGH] ** 2)
    levels["process"] = sd**2 - sum(levels.values())
    return levels


def _common(a: Kind, b: Kind, apart_days: float, levels: dict[str, FloatArray]) -> FloatArray:
    """Covariance, parameter by parameter, of two different windows."""
    common = levels["process"].copy()
    kept = float(np.exp(-abs(apart_days) / _FADES_DAYS))
    apart = a.apart(b)
    for level in _LEVELS:
        if level not in apart:
            common += kept * levels[level]
    return common


def told_by(mean: FloatArray, root: FloatArray, draws: FloatArray) -> tuple[FloatArray, FloatArray, FloatArray]:
    """What draws (n, SIZE) of a posterior say beyond the belief they began from: rows, values and standard deviations.

    In the directions of that belief's own units, the posterior's variance λ is that of the belief, 1, and of what was
    seen, 1/(1/λ − 1); the value seen follows from the means alike.
    """
    z = np.linalg.solve(root, (draws - mean).T).T
    variances, directions = np.linalg.eigh(np.cov(z.T))
    told = variances < _TELLING
    information = 1 / np.maximum(variances[told], 1e-4) - 1
    centre = z.mean(axis=0) @ directions[:, told] * (1 + 1 / information)
    rows = np.linalg.solve(root.T, directions[:, told]).T
    return rows, centre + rows @ mean, 1 / np.sqrt(information)


def lesson_of(
    kind: Kind, mean: FloatArray, root: FloatArray, draws: FloatArray, age_days: float = 0.0, job: int = 0
) -> Lesson:
    """What a window that was burned elsewhere tells, by its belief before the first cell and its draws."""
    rows, values, sds = told_by(mean, root, draws)
    return Lesson(
        kind,
        tuple(tuple(float(v) for v in row) for row in rows),
        tuple(float(v) for v in values),
        tuple(float(v) for v in sds),
        age_days,
        job,
    )


def lesson_at(
    kind: Kind, believed: FloatArray, at: ModelPoints, place: float, ln_energy: float, doubt_ln: float
) -> Lesson:
    """That one point, by its terms, lies so far between enough (0) and too much (1) at an energy, give or take: a
    reading of the boundaries there, as they are believed to run (whether energy or irradiance harms)."""
    enough, too_much, fixed = (side[0] for side in boundary_rows(believed, at))
    row = (1 - place) * enough + place * too_much
    value = ln_energy - place * float(fixed)
    return Lesson(kind, (tuple(float(v) for v in row),), (value,), (doubt_ln,))


def learn(mean: FloatArray, sd: FloatArray, here: Kind, lessons: tuple[Lesson, ...]) -> Learned | None:
    """The belief here, by that without lessons (independent Gaussians) and all lessons; None where none tells."""
    lessons = tuple(lesson for lesson in lessons if lesson.values)
    if not lessons:
        return None
    levels = _level_vars(sd)
    number = np.concatenate([np.full(len(lesson.values), n) for n, lesson in enumerate(lessons)])
    rows = np.concatenate([_as_here(lesson, here) for lesson in lessons])
    values = np.concatenate([_values_here(lesson, here) for lesson in lessons])
    own = np.zeros((len(rows), len(rows)))
    shared = np.zeros_like(own)
    for a, one in enumerate(lessons):
        for b, other in enumerate(lessons):
            block = np.ix_(number == a, number == b)
            if a == b:
                its = rows[number == a]
                shared[block] = (its * (sd**2 - levels["job"])) @ its.T
                own[block] = (its * levels["job"]) @ its.T + np.diag(np.square(one.sds))
            else:
                between = _common(one.kind, other.kind, one.age_days - other.age_days, levels)
                shared[block] = (rows[number == a] * between) @ rows[number == b].T
    to_here = np.concatenate(
        [rows[number == n] * _common(lesson.kind, here, lesson.age_days, levels) for n, lesson in enumerate(lessons)]
    )
    off = values - rows @ mean
    weights = _weights(shared, own, off, number, len(lessons))
    gain = np.linalg.solve(shared + own / np.sqrt(np.outer(weights[number], weights[number])), to_here).T
    after = mean + gain @ off
    covariance = np.diag(sd**2) - gain @ to_here
    covariance = (covariance + covariance.T) / 2
    least, axes = np.linalg.eigh(covariance)
    root = np.linalg.cholesky((axes * np.maximum(least, 1e-8)) @ axes.T)
    middle = np.zeros(SIZE)
    middle[P.ENOUGH], middle[P.WIDTH] = 1.0, 0.5
    return Learned(
        tuple(float(v) for v in after),
        tuple(tuple(float(v) for v in row) for row in root),
        tuple(float(w) for w in weights),
        float(np.clip(middle @ covariance @ middle / (middle**2 @ sd**2), 0, 1)),
        sum(lesson.is_own and lesson.kind.is_like(here) for lesson in lessons),
    )


def _weights(shared: FloatArray, own: FloatArray, off: FloatArray, number: FloatArray, lessons: int) -> FloatArray:
    """How much each lesson counts, 0…1: by how far it lies from what all others say of it."""
    weights = np.ones(lessons)
    for _ in range(4 if lessons > 1 else 0):
        spread = np.sqrt(np.outer(weights[number], weights[number]))
        covariance = shared + own / spread
        found = weights.copy()
        for n in range(lessons):
            its, rest = number == n, number != n
            gain = np.linalg.solve(covariance[np.ix_(rest, rest)], covariance[np.ix_(rest, its)]).T
            left = shared[np.ix_(its, its)] + own[np.ix_(its, its)] - gain @ covariance[np.ix_(rest, its)]
            away = off[its] - gain @ off[rest]
            found[n] = min(1.0, (_ALIKE + its.sum()) / (_ALIKE + away @ np.linalg.solve(left, away)))
        weights = found
    return weights


def _as_here(lesson: Lesson, here: Kind) -> FloatArray:
    """The lesson's rows in terms of the film here: a boundary there is one here, moved by the films' ratio."""
    rows = np.array(lesson.rows)
    if lesson.kind.film_um > 0 and here.film_um > 0:
        rows[:, P.FILM] += rows[:, P.ENOUGH] * np.log(lesson.kind.film_um / here.film_um)
    return rows


def _values_here(lesson: Lesson, here: Kind) -> FloatArray:
    """Its values in terms of the scatter that is told here, against which pieces differ, and of what is known of either
    substrate."""
    rows = np.array(lesson.rows)
    apart = ln_cv(lesson.kind.coat_cv) - ln_cv(here.coat_cv)
    harder = here.harder_ln - lesson.kind.harder_ln
    return np.asarray(np.array(lesson.values) + rows[:, P.SCATTER] * apart + rows[:, P.ENOUGH] * harder)


def apart_words(lesson: Lesson, here: Kind) -> str:
    """What differs there, for people."""
    differs = [f"another {level}" for level in lesson.kind.apart(here)]
    return " and ".join(differs) if differs else f"same {', '.join(_LEVELS[:-1])} and {_LEVELS[-1]}"


def weight_words(weight: float) -> str:
    """How much a source counted, for people."""
    if weight >= _NEARLY_FULL:
        return "counts in full"
    return f"counts for {100 * weight:.0f} in 100, as the others say otherwise"


def words_of(learned: Learned, lessons: tuple[Lesson, ...]) -> str:
    """Where a window begins, for people."""
    own, alike = sum(lesson.is_own for lesson in lessons), learned.own_alike
    told = []
    if alike:
        told.append(f"{alike} earlier window{'s' if alike > 1 else ''} of yours of the same kind")
    if own > alike:
        told.append(f"{own - alike} of another coat, substrate or machine")
    if len(lessons) > own:
        told.append("what cards and line tests say" if own else "what a card or a line test says")
    return f"Begun from {' and '.join(told)}; the catalogue counts for {100 * learned.catalogue:.0f} in 100."
