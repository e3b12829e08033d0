"""How likely the evidence is under each cause: naive Bayes, one cause at a time (Good 1950).

Each piece of evidence counts by itself, given the cause. Signs that are ticked are those that were there and noticed;
what comes along with a rating anyway counts as the rating's. The rating comes from the window, moved by what the cause
does to energy and film, or from the cause's own table.
"""

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from keencoat.core.inspect.asking import TESTS
from keencoat.core.inspect.case import Case, Measured
from keencoat.core.inspect.causes import Cause, Shift
from keencoat.core.inspect.signs import FOLLOWS, OF_COATS, ON_PIECES
from keencoat.core.rating import Rating
from keencoat.core.substrate import DEFECTS
from keencoat.core.window import points_of, shares

Floats = NDArray[np.float64]

_NOTICED, _MISNOTED = 0.87, 0.006
_BY_ITSELF, _OF_PIECES = 0.02, 0.004
_FILM_SD, _TIME_SD = 0.12, 0.02
_SPOILT_ANYHOW, _ANY_RATING = 0.01, 0.04
_FAILS_BY_ITSELF, _BEFORE = 0.06, 0.45
_NODES = ((-1.73, 1 / 6), (0.0, 2 / 3), (1.73, 1 / 6))
"""Three-point Gauss–Hermite."""


@dataclass(frozen=True)
class Clue:
    """A piece of evidence, in words, and its chance under each cause, shape (causes,)."""

    words: str
    chance: Floats


def clues_of(case: Case, causes: Sequence[Cause]) -> Iterator[Clue]:
    """All that the case has."""
    yield Clue(f"came out {case.rating}" if case.rating else "spoilt otherwise", _rated(case, causes))
    for sign, there in case.signs.items():
        chance = np.array([_NOTICED * _of_sign(cause, sign, case.rating) + _MISNOTED for cause in causes])
        yield Clue(_seen(DEFECTS.get(sign) or ON_PIECES[sign], there), chance if there else 1 - chance)
    for sign, there in case.coat.items():
        chance = np.array([cause.tells.get(sign, 0.05) for cause in causes])
        words = f"the photo of its coat {'shows' if there else 'does not show'} {OF_COATS[sign]}"
        yield Clue(words, chance if there else 1 - chance)
    if case.ln_film is not None:
        words = f"photo of the coat: film {100 * math.expm1(case.ln_film.value):+.0f} %"
        yield Clue(words, np.array([_of_film(cause, case.ln_film) for cause in causes]))
    if case.ln_time is not None:
        by_pct = 100 * math.expm1(case.ln_time.value)
        words = f"it burned {abs(by_pct):.0f} % {'longer' if by_pct > 0 else 'shorter'} than expected"
        yield Clue(words, np.array([_of_time(cause, case.ln_time) for cause in causes]))
    yield from _of_neighbours(case, causes)
    for key, answer in case.answers.items():
        test = TESTS[key]
        chance = test.chances([cause.key for cause in causes])[list(test.answers).index(answer)]
        yield Clue(f"{test.question} {test.answers[answer]}", chance)
    for n, cause in enumerate(causes):
        for weigh in cause.leanings:
            if leaning := weigh(case):
                chance = np.ones(len(causes))
                chance[n] = math.exp(leaning.ln_odds)
                yield Clue(leaning.words, chance)


def _seen(words: str, there: bool) -> str:
    return words if there else f"not seen: {words}"


def _of_sign(cause: Cause, sign: str, rating: Rating | None) -> float:
    if sign in cause.tells:
        return cause.tells[sign]
    by_itself = _OF_PIECES if sign in ON_PIECES else _BY_ITSELF
    return FOLLOWS.get(rating, {}).get(sign, by_itself) if rating else by_itself


def _rated(case: Case, causes: Sequence[Cause]) -> Floats:
    """Chance of the rating under each cause."""
    order = [Rating.FAINT, Rating.CLEAN, Rating.HARSH, None]
    column = order.index(case.rating)
    through = [cause.shift for cause in causes if cause.rated is None and cause.shift is not None]
    shifted = iter(_through_window(case, through))
    found = []
    for cause in causes:
        if cause.rated is not None:
            r = cause.rated
            own = np.array([r.faint, r.clean, r.harsh, r.spoilt])
        else:
            own = np.append((1 - _SPOILT_ANYHOW) * next(shifted), _SPOILT_ANYHOW)
        found.append((1 - _ANY_RATING) * own[column] + _ANY_RATING / 4)
    return np.array(found)


def _through_window(case: Case, shifts: Sequence[Shift]) -> Floats:
    """Shares of faint, clean and harsh pieces under each shift, shape (shifts, 3)."""
    burned, nodes = case.burned, [(a, b, v * w) for a, v in _NODES for b, w in _NODES]
    at = points_of([burned.setting] * (len(shifts) * len(nodes)), burned.machine)
    energy = np.array([s.energy + a * s.energy_sd for s in shifts for a, _, _ in nodes])
    film = np.array([s.film + b * s.film_sd for s in shifts for _, b, _ in nodes])
    found = shares(burned.fit, replace(at, ln_energy=at.ln_energy + energy, ln_film=at.ln_film + film))
    each = np.stack([found[rating].mean(axis=0) for rating in (Rating.FAINT, Rating.CLEAN, Rating.HARSH)], axis=1)
    weights = np.array([w for _, _, w in nodes])
    return np.asarray((each.reshape(len(shifts), len(nodes), 3) * weights[:, None]).sum(axis=1))


def _normal(x: float, mean: float, sd: float) -> float:
    return math.exp(-0.5 * ((x - mean) / sd) ** 2) / sd


def _of_film(cause: Cause, film: Measured) -> float:
    mean, sd = (cause.shift.film, cause.shift.film_sd) if cause.shift else (0.0, 0.0)
    return 0.97 * _normal(film.value, mean, math.hypot(sd or _FILM_SD, film.sd)) + 0.03


def _of_time(cause: Cause, took: Measured) -> float:
    mean, sd = cause.ln_time
    return 0.97 * _normal(took.value, mean, math.hypot(sd or _TIME_SD, took.sd)) + 0.03


def _of_neighbours(case: Case, causes: Sequence[Cause]) -> Iterator[Clue]:
    stays = np.array([cause.stays for cause in causes])
    after = _FAILS_BY_ITSELF + (1 - _FAILS_BY_ITSELF) * stays
    before = _FAILS_BY_ITSELF + (1 - _FAILS_BY_ITSELF) * stays * _BEFORE
    near = [(n, after) for n in case.after] + ([(case.before, before)] if case.before else [])
    for one, chance in near:
        words = f"piece {one.number} {'failed alike' if one.failed else 'came out clean'}"
        yield Clue(words, chance if one.failed else 1 - chance)


def refined(shift: Shift | None, case: Case) -> Shift:
    """The shift as it is believed to be once the photo of the coat is known: normal by normal."""
    if shift is None:
        return Shift()
    if case.ln_film is None or not shift.film_sd:
        return shift
    seen = case.ln_film
    weight = shift.film_sd**2 / (shift.film_sd**2 + seen.sd**2)
    mean = shift.film + weight * (seen.value - shift.film)
    return replace(shift, film=mean, film_sd=math.sqrt(weight) * seen.sd)
