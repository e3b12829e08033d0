"""Workshops of twelve jobs: what earlier jobs are worth to later ones, on materials of other worlds.

Two machines, three coats; every job has a lot of its own, the first machine ages, and a card of another workshop may
lie. A coat is a whole material of its own, which is more than the planner takes coats to differ by.
"""

from collections import Counter
from collections.abc import Callable
from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from keencoat.core.quantities.setting import Setting
from keencoat.core.rating import Rating
from keencoat.core.window.card_hint import CardHint, lesson_of_card
from keencoat.core.window.door import Answer, fit_told
from keencoat.core.window.fit import fit_window
from keencoat.core.window.lessons import Kind, Lesson, lesson_of
from keencoat.core.window.model import RunOutcome, observe
from keencoat.core.window.priors import WindowPrior, stated_prior
from keencoat.core.window.recommend import Verdict
from keencoat.core.window.scatter import Scatter
from tests.bench.worlds import AS_OUTSIDERS, Came, World, ask_to_the_end, judged_on
from tests.otherworld.judged import judged

LOT_LN, AGES_LN, FAILS_LN, OTHER_PLATE_LN = 0.1, 0.015, 0.25, 0.15
"""How lots differ, what the first machine loses from job to job, what a failing tube loses at once, and how plates
differ: all of energy, ln."""
FAILS_AT = 7
"""Before which job the tube fails, where it does."""
DAYS_BETWEEN = 12.0
RUN = 20
"""Pieces of the batch that follows."""

Seat = tuple[int, int]
KINDS: tuple[Seat, ...] = (
    (0, 0),
    (1, 0),
    (0, 0),
    (0, 1),
    (0, 0),
    (0, 0),
    (1, 0),
    (0, 0),
    (2, 1),
    (0, 0),
    (1, 0),
    (0, 1),
)
"""Coat and machine of the twelve jobs."""


@dataclass(frozen=True)
class Done:
    """A job of a workshop: how many of its kind had been done before, whether its lot and machine left it a window, and
    what its search came to."""

    number: int
    before: int
    has_window: bool
    came: Came


def jobs_of(draw: Callable[[int], World], seed: int, fails: bool = False) -> list[World]:
    """Twelve materials on their machines, as the workshop meets them; `fails`: the first machine's tube does."""
    rng = np.random.default_rng([seed, 77])
    coats = _coats_of_one_process(draw, seed)
    plate = float(np.exp(rng.normal(0, OTHER_PLATE_LN)))
    jobs = []
    for number, (coat, machine) in enumerate(KINDS):
        world: Any = coats[coat]
        on = coats[0].machine
        lost = AGES_LN * number + FAILS_LN * (fails and number >= FAILS_AT) if machine == 0 else 0.0
        factor = float(np.exp(rng.normal(0, LOT_LN) - lost)) * (plate if machine else 1.0)
        if machine:
            on = replace(on, rated_w=1.5 * on.rated_w)
        moved = replace(
            world,
            machine=on,
            interval_mm=coats[0].interval_mm,
            told_cv=coats[0].told_cv,
            watts=(factor * world.watts[0], *world.watts[1:]),
            seed=seed * 100 + number,
        )
        jobs.append(judged(moved))
    return jobs


def _coats_of_one_process(draw: Callable[[int], World], seed: int) -> list[World]:
    found: list[World] = []
    for k in range(200):
        world = draw(seed * 211 + k)
        if not found or world.process == found[0].process:
            found.append(world)
        if len(found) == 3:
            return found
    raise RuntimeError(f"no three coats for {seed}")


def kind_of(number: int, world: World) -> Kind:
    coat, machine = KINDS[number]
    return Kind(f"coat {coat}", world.substrate, f"machine {machine}", 0.0, 0.15)


def work_through(jobs: list[World], learns: bool, liar: Callable[[World], CardHint] | None = None) -> list[Done]:
    """All searches in turn, each told what those before it found (`learns`); a liar's card comes with every job."""
    lessons: tuple[Lesson, ...] = ()
    done: list[Done] = []
    before: Counter[Seat] = Counter()
    for number, world in enumerate(jobs):
        here = kind_of(number, world)
        told = lessons if learns else ()
        if liar is not None:
            told = (*told, lesson_of_card(_stated(world), here, liar(world)))
        question, said = ask_to_the_end(world, AS_OUTSIDERS, here, told)
        done.append(
            Done(number, before[KINDS[number]], world.fastest_mm_s > 0, judged_on(world, question, said, AS_OUTSIDERS))
        )
        before[KINDS[number]] += 1
        lessons = tuple(replace(lesson, age_days=lesson.age_days + DAYS_BETWEEN) for lesson in lessons)
        if said.verdict is not Verdict.NONE:
            fit, _ = fit_told(question)
            fit = fit_window(fit.observations, fit.prior, runs=(batch_at(world, said),))
            lessons = (*lessons, lesson_of(here, *fit.prior.behind(fit.draws), fit.draws, DAYS_BETWEEN, job=number + 1))
    return done


def _stated(world: World) -> WindowPrior:
    m = world.machine
    return stated_prior(world.process, m.source, world.substrate, None, Scatter(coat_cv=0.15), m.spot_mm)


def liars_card(world: World) -> CardHint:
    """A setting twice as strong as the one that suits: full power where half would do, as far as the machine goes."""
    pieces = world.pieces(400, np.random.default_rng([world.seed, 41]))
    speed = 0.6 * world.fastest_mm_s or world.machine.max_speed_mm_s / 2
    powers = np.geomspace(world.machine.min_power_pct, 100, 60)
    best = max(powers, key=lambda p: world.share(Setting(float(p), speed, world.interval_mm), pieces))
    slower = max(world.machine.min_speed_mm_s, speed / 2)
    return CardHint(Setting(float(best), slower, world.interval_mm), world.machine)


def batch_at(world: World, said: Answer) -> RunOutcome:
    """The batch that follows a lock, as its maker counts it."""
    assert said.point is not None
    above, below = world.margins(said.point.setting, world.pieces(RUN, np.random.default_rng([world.seed, 31])))
    harsh, faint = below <= 0, (below > 0) & (above <= 0)
    at = observe(said.point.setting, world.machine, Rating.CLEAN)
    return RunOutcome(at, int(faint.sum()), int((~harsh & ~faint).sum()), int(harsh.sum()))
