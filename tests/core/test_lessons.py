"""What other windows tell, set against the textbook's joint Gaussian, and what liars, age and runs change."""

import json
from dataclasses import asdict, replace
from itertools import combinations

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from keencoat.core.quantities import BeamSource
from keencoat.core.window import RunOutcome, Scatter, fit_window, priors, stated_prior, with_lessons
from keencoat.core.window.fit import weighed_by_runs
from keencoat.core.window.lessons import Kind, Lesson, learn, lesson_of, words_of
from keencoat.core.window.parameters import SIZE, P
from keencoat.core.window.priors import prior_from
from keencoat.core.window.recommend import enough_pieces
from tests.core.test_window import CLEAN, FAINT, cell

PRIOR = stated_prior("frost", BeamSource.BLUE, "soda_lime_glass", 1.0, Scatter(), 0.1)
HERE = Kind("white", "glass", "10 W", 20.0)
FAR = Kind("black", "tile", "5 W", 20.0)
DAYS = 1500


def said(kind, enough_ln, sd=0.05, job=1, age_days=0.0):
    """A lesson on the enough boundary alone."""
    return Lesson(kind, (tuple(np.eye(SIZE)[P.ENOUGH]),), (PRIOR.mean[P.ENOUGH] + enough_ln,), (sd,), age_days, job)


def moved_to(*lessons):
    """By how much they move the enough boundary here, and its standard deviation then."""
    mean, root = with_lessons(PRIOR, HERE, lessons).gaussian
    return mean[P.ENOUGH] - PRIOR.mean[P.ENOUGH], float(np.hypot.reduce(root[P.ENOUGH]))


KINDS = [HERE, replace(HERE, coat="black"), replace(HERE, machine="5 W"), replace(HERE, substrate="tile"), FAR]
LEVELS = {"coat": 0.25, "substrate": 0.2, "machine": 0.18}


def joint(kinds, ages, weights):
    """Covariance of the enough boundary of jobs and here (last), level by level: what a job has of its own counts by
    its weight, what it shares fades with age."""
    day = 0.08**2 + 0.05**2
    shared = PRIOR.sd[P.ENOUGH] ** 2 - day
    common = shared - sum(sd**2 for sd in LEVELS.values())
    table = np.diag(shared + day / np.array(weights))
    for a, b in combinations(range(len(kinds)), 2):
        fades = np.exp(-abs(ages[a] - ages[b]) / DAYS)
        alike = [sd**2 for name, sd in LEVELS.items() if getattr(kinds[a], name) == getattr(kinds[b], name)]
        table[a, b] = table[b, a] = common + fades * sum(alike)
    return table


@settings(max_examples=60, deadline=None)
@given(
    of=st.lists(
        st.tuples(st.sampled_from(KINDS), st.floats(-0.8, 0.8), st.floats(0.05, 0.4), st.floats(0, 3000)),
        min_size=1,
        max_size=6,
    )
)
def test_sources_are_pooled_as_a_joint_gaussian_is_conditioned(of):
    """Boundaries of all jobs and here are one Gaussian; what was read of them conditions it (Gelman et al. 2013,
    appendix A, here by inverting the whole matrix)."""
    kinds, read, sds, ages = (list(v) for v in zip(*of, strict=True))
    found = with_lessons(PRIOR, HERE, tuple(said(k, v, sd, n + 1, age) for n, (k, v, sd, age) in enumerate(of)))
    weights = [*found.learned.weights, 1.0]
    information = np.diag([*(found.learned.weights / np.square(sds)), 0.0])
    after = np.linalg.inv(np.linalg.inv(joint([*kinds, HERE], [*ages, 0.0], weights)) + information)
    mean, root = found.gaussian
    expected = (after @ information @ np.array([*read, 0]))[-1]
    assert mean[P.ENOUGH] - PRIOR.mean[P.ENOUGH] == pytest.approx(expected, abs=1e-6)
    assert (root @ root.T)[P.ENOUGH, P.ENOUGH] == pytest.approx(after[-1, -1], rel=1e-4)


def test_what_differs_and_what_is_old_tells_less():
    near, doubt = moved_to(said(HERE, 0.6))
    for other in (replace(HERE, coat="black"), replace(HERE, machine="5 W"), replace(HERE, substrate="tile")):
        assert 0 < moved_to(said(other, 0.6))[0] < near
        assert moved_to(said(other, 0.6))[1] > doubt
    assert moved_to(said(HERE, 0.6, age_days=2000))[0] < near
    assert moved_to(said(replace(HERE, film_um=40.0), 0.6))[0] < near
    # What is known of a substrate beforehand is not learned anew: only what differs from it is.
    easier = replace(HERE, harder_ln=-0.15)
    assert moved_to(said(easier, 0.45))[0] == pytest.approx(near)
    # Pieces that differ by 20 % where 10 % were told differ by more than told where 10 % are told here.
    scatter = Lesson(replace(HERE, coat_cv=0.24), (tuple(np.eye(SIZE)[P.SCATTER]),), (0.0,), (0.1,))
    apart, _ = with_lessons(PRIOR, HERE, (scatter,)).gaussian
    same, _ = with_lessons(PRIOR, HERE, (replace(scatter, kind=HERE),)).gaussian
    assert apart[P.SCATTER] > same[P.SCATTER] + 0.5
    assert with_lessons(PRIOR, HERE, ()).learned is None


def test_a_liar_counts_for_little_beside_others_and_tails_let_cells_contradict(monkeypatch):
    honest = tuple(said(HERE, v, job=n + 1) for n, v in enumerate((0.28, 0.33, 0.3, 0.31)))
    liar = said(HERE, -0.9, job=0)
    together = with_lessons(PRIOR, HERE, (*honest, liar))
    assert together.learned.weights[-1] < 0.2
    assert min(together.learned.weights[:-1]) > 0.9
    assert moved_to(*honest, liar)[0] == pytest.approx(moved_to(*honest)[0], abs=0.05)
    # Twelve cells on two pieces say otherwise: the belief gives way, further than a Gaussian's would.
    learned = with_lessons(PRIOR, HERE, honest)
    faint = tuple(replace(cell(float(x), FAINT), piece=n % 2) for n, x in enumerate(np.linspace(1.0, 2.2, 12)))
    gives_way = fit_window(faint, learned).draws[:, P.ENOUGH].mean()
    monkeypatch.setattr(priors, "_STRANGE_FROM", 99.0)
    stays = fit_window(faint, learned, seed=2).draws[:, P.ENOUGH].mean()
    assert gives_way > stays + 0.3


def test_a_window_tells_no_more_than_its_cells_did():
    """Draws of a known Gaussian posterior give back what was seen: two sums of parameters, ± 0.1 and ± 0.2."""
    rng = np.random.default_rng(3)
    rows = np.zeros((2, SIZE))
    rows[0, [P.ENOUGH, P.SLOPE]], rows[1, P.WIDTH] = [1, 1.5], 1
    read, sds = rows @ PRIOR.mean + [0.4, -0.5], np.array([0.1, 0.2])
    prior = np.diag(PRIOR.sd**2)
    precision = np.linalg.inv(prior) + rows.T @ np.diag(1 / sds**2) @ rows
    after = np.linalg.inv(precision)
    mean = after @ (np.linalg.solve(prior, PRIOR.mean) + rows.T @ (read / sds**2))
    draws = rng.multivariate_normal(mean, after, 60_000)
    told = lesson_of(HERE, *PRIOR.gaussian, draws)
    assert len(told.values) == 2
    found = np.linalg.inv(prior) + np.array(told.rows).T @ np.diag(1 / np.square(told.sds)) @ np.array(told.rows)
    assert np.linalg.inv(found) == pytest.approx(after, abs=0.01)
    back = np.linalg.solve(
        found,
        np.linalg.solve(prior, PRIOR.mean) + np.array(told.rows).T @ (np.array(told.values) / np.square(told.sds)),
    )
    assert back == pytest.approx(mean, abs=0.02)
    assert not lesson_of(HERE, *PRIOR.gaussian, rng.multivariate_normal(PRIOR.mean, prior, 320)).values


def test_a_job_that_was_not_of_its_kind_teaches_what_its_cells_did():
    """Seven jobs agreed; then a tube fails, and two pieces say that far more is wanted. The next job hears of it."""
    learned = with_lessons(PRIOR, HERE, tuple(said(HERE, 0.3, job=n + 1) for n in range(7)))
    cells = (
        *(cell(float(x), FAINT) for x in np.linspace(0.6, 1.5, 6)),
        *(cell(float(x), CLEAN) for x in (1.6, 1.7, 1.8)),
    )
    fit = fit_window((*cells, *(replace(c, piece=1) for c in cells)), learned)
    told = lesson_of(HERE, *learned.behind(fit.draws), fit.draws, job=8)
    assert learned.behind(fit.draws)[0][P.ENOUGH] == PRIOR.mean[P.ENOUGH]
    assert moved_to(told)[0] > 0.8
    assert learned.behind(fit_window((), learned).draws)[0][P.ENOUGH] == learned.gaussian[0][P.ENOUGH]


def test_runs_weigh_what_a_window_tells():
    draws = fit_window((cell(0.5, CLEAN),), PRIOR).draws
    failed = RunOutcome(cell(0.5, CLEAN), 18, 2, 0)
    after = weighed_by_runs(draws, (failed,), Scatter())
    assert after[:, P.ENOUGH].mean() > draws[:, P.ENOUGH].mean() + 0.1
    assert len(np.unique(after[:, 0])) >= 15
    assert weighed_by_runs(draws, (), Scatter()) is draws


def test_one_piece_is_enough_only_where_an_own_window_of_the_kind_is_known():
    for lesson, enough in ((said(HERE, 0.1), 1), (said(HERE, 0.1, job=0), 2), (said(FAR, 0.1), 2)):
        assert enough_pieces(fit_window((), with_lessons(PRIOR, HERE, (lesson,)))) == enough
    assert enough_pieces(fit_window((), PRIOR)) == 2


def test_a_belief_is_read_back_as_it_was_kept_and_says_where_it_began():
    lessons = (said(HERE, 0.1), said(FAR, 0.2, job=2), said(HERE, 0.0, sd=0.35, job=0))
    prior = with_lessons(PRIOR, HERE, lessons)
    assert prior_from(json.loads(json.dumps(asdict(prior)))) == prior
    assert prior_from(json.loads(json.dumps(asdict(PRIOR)))) == PRIOR
    learned = learn(PRIOR.mean, PRIOR.sd, HERE, lessons)
    assert words_of(learned, lessons) == (
        "Begun from 1 earlier window of yours of the same kind and 1 of another coat, substrate or machine and what "
        f"cards and line tests say; the catalogue counts for {100 * learned.catalogue:.0f} in 100."
    )
    assert 0 < learned.catalogue < learn(PRIOR.mean, PRIOR.sd, HERE, lessons[1:]).catalogue < 1
