"""What is believed of a job's window: before its first cell, by all that the workshop knows; and after, by its fit."""

import json
from dataclasses import asdict, dataclass, replace
from datetime import datetime
from functools import lru_cache
from hashlib import sha256
from typing import Any

import numpy as np

from keencoat.core.coat import can_hold_up
from keencoat.core.exchange import SettingCard
from keencoat.core.quantities import Art, BeamSource
from keencoat.core.substrate import find_substrate
from keencoat.core.window import (
    MODEL_VERSION,
    CardHint,
    Kind,
    Lesson,
    LineHint,
    RunOutcome,
    Scatter,
    WindowFit,
    WindowPrior,
    apart_words,
    fit_window,
    harder_ln,
    hint_from_lines,
    lesson_of,
    lesson_of_card,
    lesson_of_lines,
    prior_from,
    stated_prior,
    weighed_by_runs,
    weight_words,
    with_lessons,
    words_of,
)
from keencoat.jobs.evidence import gather_evidence, observations_of, runs_of
from keencoat.jobs.job.services import burned_grids
from keencoat.jobs.models import Job, LockedSetting
from keencoat.shop.models import Machine

_MOST_LESSONS = 20
_DAY_S = 86_400.0


@dataclass(frozen=True)
class Place:
    """Where a window is asked for: on which machine, under how many times the job's film."""

    machine: Machine
    film_share: float = 1.0


@dataclass(frozen=True)
class Heard:
    """A lesson with whose it is; `job_id` 0 for none of the workshop's own."""

    lesson: Lesson
    name: str
    job_id: int = 0


@dataclass(frozen=True)
class BegunFrom:
    """One source that a window began from: what differs there, and how much it counts."""

    name: str
    job_id: int
    words: str


def prior_of(job: Job, place: Place | None = None) -> WindowPrior:
    """What is believed of a job before its first cell; elsewhere, if a place is given, by its own window too."""
    lessons = tuple(h.lesson for h in heard_by(job, place))
    return with_lessons(_stated(job, place), kind_of(job, place), lessons)


def begun_from(job: Job) -> tuple[str, tuple[BegunFrom, ...]]:
    """Where a job's window began, in words, and each source; empty where only the catalogue told."""
    heard, here = heard_by(job), kind_of(job)
    lessons = tuple(h.lesson for h in heard)
    learned = with_lessons(_stated(job, None), here, lessons).learned
    if learned is None:
        return "", ()
    told = [
        BegunFrom(h.name, h.job_id, f"{apart_words(h.lesson, here)}; {weight_words(weight)}")
        for h, weight in zip(heard, learned.weights, strict=True)
    ]
    return words_of(learned, lessons), tuple(told)


def _stated(job: Job, place: Place | None) -> WindowPrior:
    film_um, usual_um = job.layer_um(), job.recipe().usual_um
    # The arms of a comparison start alike, so that they burn the same grid.
    film_known = film_um > 0 and usual_um > 0 and job.experiment_id is None
    machine = place.machine if place else job.machine
    share = (place.film_share if place else 1.0) * (film_um / usual_um if film_known else 1.0)
    return stated_prior(job.process, BeamSource(machine.source), job.substrate, share, scatter_of(job), machine.spot_mm)


def kind_of(job: Job, place: Place | None = None) -> Kind:
    """What a job's window is a window of; a coat that was changed, or a machine of other watts, is another one."""
    machine = place.machine if place else job.machine
    return Kind(
        _coat_name(job.coat, asdict(job.recipe())),
        job.substrate,
        _machine_name(machine.pk, machine.rated_w),
        job.layer_um() * (place.film_share if place else 1.0),
        scatter_of(job).coat_cv,
        harder_ln(job.substrate),
    )


def _coat_name(key: str, facts: dict[str, Any]) -> str:
    mixed = json.dumps([facts["parts"], facts["carrier"]], default=str, sort_keys=True)
    return f"{key} {sha256(mixed.encode()).hexdigest()[:12]}"


def _machine_name(pk: int, rated_w: float) -> str:
    return f"{pk} of {rated_w:g} W"


def heard_by(job: Job, place: Place | None = None) -> tuple[Heard, ...]:
    """All that tells of a job's window besides its own cells: the workshop's locked windows of that process and beam,
    as they stood when its first grid was burned (none for an arm of a comparison, nor where the job says so); the job
    that it was carried from; a card; a line test. At another place also its own window."""
    heard = _own_windows(job) if job.learns and job.experiment_id is None else []
    whole = job if place else job.carried_from
    if whole is not None:
        fit = fit_of(whole)
        told = lesson_of(kind_of(whole), *fit.prior.behind(fit.draws), fit.draws, job=whole.pk)
        heard = [h for h in heard if h.job_id != whole.pk] + [Heard(told, whole.name, whole.pk)]
    if place is None:
        heard += _from_outside(job)
    return tuple(h for h in heard if h.lesson.values)


def _from_outside(job: Job) -> list[Heard]:
    heard, here = [], kind_of(job)
    if job.card is not None:
        card = job.card.to_core()
        told = lesson_of_card(_stated(job, None), here, card_hint(card), card.film_um)
        heard.append(Heard(told, f"card “{card.title}”"))
    hint = _line_hint(job)
    if hint is not None:
        heard.append(Heard(lesson_of_lines(here, hint), "line test on this machine"))
    return heard


def _own_windows(job: Job) -> list[Heard]:
    if job.is_practice and job.practice.hidden:
        return []
    began_at = min((g.burned_at for g in burned_grids(job) if g.burned_at), default=None)
    locks = (
        LockedSetting.objects.filter(
            job__workshop=job.workshop, job__process=job.process, job__machine__source=job.machine.source
        )
        .exclude(job=job)
        .exclude(job__practice__hidden=True)
        .defer("evidence", "settings")
        .select_related("job__machine")
        .prefetch_related("job__runs")
        .order_by("-at", "-pk")
    )
    if began_at is not None:
        locks = locks.filter(at__lt=began_at)
    newest: dict[int, LockedSetting] = {}
    for lock in locks[: 3 * _MOST_LESSONS]:
        newest.setdefault(lock.job_id, lock)
    heard = []
    for lock in list(newest.values())[:_MOST_LESSONS]:
        lock.job.workshop = job.workshop
        later = tuple(o for r, o in runs_of(lock.job) if r.at > lock.at and (began_at is None or r.at < began_at))
        told = _lesson_of_lock(lock.pk, lock.at, lock.job.layer_um(), later)
        if told is not None:
            days = ((began_at or job.created_at) - lock.at).total_seconds() / _DAY_S
            heard.append(Heard(replace(told, age_days=max(0.0, days)), lock.job.name, lock.job_id))
    return heard


@lru_cache(maxsize=512)
def _lesson_of_lock(pk: int, at: datetime, film_um: float, later: tuple[RunOutcome, ...]) -> Lesson | None:
    """What a locked window tells, and the runs after it; None where another model read it. A lock never changes, so
    that what it tells can be kept."""
    lock = LockedSetting.objects.select_related("job").get(pk=pk, at=at)
    facts = lock.evidence
    fit = facts["fits"][Art.FILLS]
    if fit["model_version"] != MODEL_VERSION:
        return None
    prior = prior_from(fit["prior"])
    draws = weighed_by_runs(np.array(fit["draws"]), later, prior.scatter)
    kind = Kind(
        _coat_name(facts["coat"], facts["coat_facts"]),
        facts["substrate"],
        _machine_name(lock.job.machine_id, facts["machine"]["rated_w"]),
        film_um,
        prior.scatter.coat_cv,
        harder_ln(facts["substrate"]),
    )
    return lesson_of(kind, *prior.behind(draws), draws, job=lock.job_id)


def card_hint(card: SettingCard) -> CardHint:
    """What a card of another workshop says."""
    return CardHint(card.setting(), card.machine(), proven=card.evidence != "guess")


def _line_hint(job: Job) -> LineHint | None:
    """What the newest line test on this machine, into this process and coat, says."""
    for test in job.machine.spot_tests.all():
        if test.speed_mm_s and (test.process, test.coat) == (job.process, job.coat):
            watts = job.machine.rated_w * test.result["threshold_pct"]["mid"] / 100
            return hint_from_lines(watts, test.result["radius_um"]["mid"] / 1000, test.speed_mm_s)
    return None


def fit_of(job: Job, with_last_run: bool = True, art: Art = Art.FILLS) -> WindowFit:
    """The job's window, fitted to everything rated and run so far; runs are of filled art."""
    gather_evidence(job)
    runs = tuple(outcome for _, outcome in runs_of(job)) if art is Art.FILLS else ()
    if not with_last_run:
        runs = runs[:-1]
    return fit_window(observations_of(job, art=art), prior_of(job), runs=runs)


def scatter_of(job: Job) -> Scatter:
    """How much the job's pieces vary: the workshop's own values, which are guesses, the coat's drawn to what was
    measured on this job."""
    usual = replace(job.workshop.scatter(), photos_tell=can_hold_up(find_substrate(job.substrate)))
    if job.coat_cv is None:
        return usual
    return usual.with_coats(job.coat_cv, job.coat_cv_pieces)
