"""Finding a setting on a hidden material: the planner through its open door, and three habits of today."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from keencoat.bench.hidden import FILL_MM, WANTED, Hidden, Kind
from keencoat.bench.plant.fill import Lines
from keencoat.bench.plant.many import Pieces, burn_many, draw_pieces
from keencoat.core.quantities.setting import BeamSource, Machine, Setting
from keencoat.core.quantities.slice import Slice
from keencoat.core.rating import Rating
from keencoat.core.window.door import Answer, CoatTold, Question, RatedCell, answer
from keencoat.core.window.plan import USUAL_BUDGET, Budget

BATCH = 400
_EYE_HARM, _EYE_MARK, _SLIP = 0.2, 0.015, 0.01


@dataclass(frozen=True)
class Outcome:
    """What a way of working came to: true share of clean pieces (None: it said there is no setting), speed against the
    fastest that keeps the wanted share, cells and pieces burned, and the last answer if it was the planner's."""

    share: float | None
    pace: float
    cells: int
    pieces: int
    last: Answer | None = None


Way = Callable[[Hidden], Outcome]


def machine_of(case: Hidden) -> Machine:
    """The machine as its maker knows it: by its plate."""
    source = BeamSource.CO2 if case.bench.wavelength_nm > 5000 else BeamSource.BLUE
    return Machine(
        source,
        case.bench.rated_w,
        case.bench.material.spot_mm,
        case.min_speed_mm_s,
        case.max_speed_mm_s,
        case.min_power_pct,
        case.bench.accel_mm_s2,
        400,
        400,
    )


def rate(case: Hidden, setting: Setting, piece: Pieces, rng: np.random.Generator) -> Rating:
    """Burn a patch of the planned size on this piece, and look at it: eyes are not even, and keys slip."""
    here = Pieces(piece.film, piece.power, piece.focus_mm, 1 + rng.normal(0, 0.05, piece.cloud.shape))
    lines = Lines(setting.speed_mm_s, setting.interval_mm, setting.passes)
    came = burn_many(case.bench, setting.power_pct / 100, lines, here, FILL_MM)
    if rng.random() < _SLIP:
        return list(Rating)[rng.integers(3)]
    if came.harmed[0] * np.exp(rng.normal(0, _EYE_HARM)) >= 0.02:
        return Rating.HARSH
    full = came.mark[0] + rng.normal(0, _EYE_MARK) >= 0.80 and came.unmarked[0] <= 0.06
    return Rating.CLEAN if full else Rating.FAINT


def judge(case: Hidden, setting: Setting | None, cells: int, pieces: int, last: Answer | None = None) -> Outcome:
    """Run a batch at the setting."""
    if setting is None:
        return Outcome(None, 0.0, cells, pieces, last)
    batch = draw_pieces(case.bench.material, BATCH, np.random.default_rng([case.seed, 123]))
    share = case.share(setting.power_pct, setting.speed_mm_s, setting.interval_mm, setting.passes, batch)
    pace = setting.speed_mm_s / case.fastest_mm_s if case.fastest_mm_s else 0.0
    return Outcome(share, pace, cells, pieces, last)


def ask(case: Hidden, told: bool = True) -> tuple[Question, Answer]:
    """The planner's last question and answer; `told` False keeps process, substrate and coat from it."""
    rng = np.random.default_rng([case.seed, 9])
    history: list[RatedCell] = []
    left, rounds = USUAL_BUDGET.cells_left, USUAL_BUDGET.rounds_left
    while True:
        question = Question(
            Slice(machine_of(case), case.interval_mm),
            case.process if told else None,
            case.substrate if told else None,
            CoatTold(thickness_cv=case.bench.material.film_cv),
            Budget(left, rounds),
            tuple(history),
        )
        said = answer(question)
        if not said.cells:
            return question, said
        piece = draw_pieces(case.bench.material, 1, rng)
        history += [RatedCell(rounds, s, rate(case, s, piece, rng)) for s in said.cells]
        left, rounds = left - len(said.cells), rounds - 1


def plan(case: Hidden, told: bool = True) -> Outcome:
    """What the planner comes to, from its first question to its answer."""
    question, said = ask(case, told)
    rounds = USUAL_BUDGET.rounds_left - question.budget.rounds_left
    return judge(case, said.point.setting if said.point else None, len(question.history), rounds, said)


def _rated_grid(case: Hidden, powers: np.ndarray, speeds: np.ndarray, rng: np.random.Generator) -> np.ndarray:
    """Ratings of a grid on one piece, shape (powers, speeds)."""
    piece = draw_pieces(case.bench.material, 1, rng)

    def at(power: float, speed: float) -> Rating:
        return rate(case, Setting(min(100.0, power), speed, case.interval_mm), piece, rng)

    return np.array([[at(float(p), float(v)) for v in speeds] for p in powers])


def _fastest_clean(ratings: np.ndarray, powers: np.ndarray, speeds: np.ndarray) -> tuple[float, float] | None:
    rows, columns = np.nonzero(ratings == Rating.CLEAN)
    if not len(rows):
        return None
    best = max(range(len(rows)), key=lambda n: (speeds[columns[n]], -powers[rows[n]]))
    return min(100.0, float(powers[rows[best]])), float(speeds[columns[best]])


def blind_linear(case: Hidden) -> Outcome:
    """81 cells in even steps, 60–100 % and the upper two fifths of the speeds; the fastest clean cell."""
    rng = np.random.default_rng([case.seed, 11])
    top = min(case.max_speed_mm_s, 10_000 / 60)
    powers, speeds = np.linspace(60, 100, 9), np.linspace(max(case.min_speed_mm_s, 0.6 * top), top, 9)
    found = _fastest_clean(_rated_grid(case, powers, speeds, rng), powers, speeds)
    return judge(case, Setting(*found, case.interval_mm) if found else None, 81, 1)


def zoomed(case: Hidden) -> Outcome:
    """25 cells in even steps over the machine's whole reach, 25 more around the fastest clean one, on a fresh piece."""
    rng = np.random.default_rng([case.seed, 12])
    low_p, low_v = case.min_power_pct, case.min_speed_mm_s
    powers, speeds = np.linspace(max(10, low_p), 100, 5), np.linspace(low_v, case.max_speed_mm_s, 5)
    found = _fastest_clean(_rated_grid(case, powers, speeds, rng), powers, speeds)
    if found is None:
        return judge(case, None, 25, 1)
    step_p, step_v = powers[1] - powers[0], speeds[1] - speeds[0]
    near_p = np.linspace(max(low_p, found[0] - step_p), min(100, found[0] + step_p), 5)
    near_v = np.linspace(max(low_v, found[1] - step_v), min(case.max_speed_mm_s, found[1] + step_v), 5)
    again = _fastest_clean(_rated_grid(case, near_p, near_v, rng), near_p, near_v)
    return judge(case, Setting(*(again or found), case.interval_mm), 50, 2)


def log_patch(case: Hidden) -> Outcome:
    """81 cells in even log steps over the machine's whole reach; the middle of the clean patch, in ln power at the
    fastest speed where three clean cells stand together."""
    rng = np.random.default_rng([case.seed, 13])
    powers = np.geomspace(case.min_power_pct, 100, 9)
    speeds = np.geomspace(case.min_speed_mm_s, case.max_speed_mm_s, 9)
    clean = _rated_grid(case, powers, speeds, rng) == Rating.CLEAN
    if not clean.any():
        return judge(case, None, 81, 1)
    # The centre of the patch: the clean cell with most clean neighbours along the diagonal of like energy.
    padded = np.pad(clean.astype(float), 1)
    around = sum(padded[1 + i : 10 + i, 1 + j : 10 + j] for i, j in ((0, 0), (1, 1), (-1, -1), (1, 0), (-1, 0)))
    best = np.where(clean, around + 1e-3 * np.arange(9)[None, :], -1)
    _, column = np.unravel_index(best.argmax(), best.shape)
    rows = np.flatnonzero(clean[:, column])
    power = min(100.0, float(np.exp(np.log(powers[rows]).mean())))
    return judge(case, Setting(power, float(speeds[column]), case.interval_mm), 81, 1)


def table(cases: list[Hidden], outcomes: list[Outcome]) -> dict[str, dict[str, float]]:
    """Figures by kind of window, and over all that have one ("all")."""
    rows: dict[str, dict[str, float]] = {}
    for name in ("all", *Kind):
        mine = [
            o
            for c, o in zip(cases, outcomes, strict=True)
            if (c.kind is not Kind.EMPTY if name == "all" else c.kind == name)
        ]
        if not mine:
            continue
        found = [o for o in mine if o.share is not None]
        rows[str(name)] = {
            "n": len(mine),
            "none": sum(o.share is None for o in mine),
            "good": float(np.mean([(o.share or 0) >= WANTED for o in mine])),
            "mean": float(np.mean([o.share or 0 for o in mine])),
            "cells": float(np.mean([o.cells for o in mine])),
            "most": max(o.cells for o in mine),
            "pace": float(np.mean([o.pace for o in found])) if found else 0.0,
        }
    return rows
