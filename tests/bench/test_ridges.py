"""How wide a mark a fixed head can make: what the job's own window says, against strips burned beside the ridge, on the
practice plant and on rays traced over a second world, which share no code and no law. Seeds from 40 (plant) and 7600
(second world) on were never looked at while building. Run with -s to see the figures."""

import os
from dataclasses import dataclass
from multiprocessing import Pool

import numpy as np
import pytest

from keencoat.bench.batch import BatchSetting
from keencoat.bench.hidden import Kind, draw_hidden
from keencoat.bench.plant.many import draw_pieces
from keencoat.bench.ridge import clean_beside
from keencoat.core.placing.beam import Beam, usual_beam
from keencoat.core.placing.fixed_head import UnderHead, fixed_head
from keencoat.core.quantities.setting import BeamSource, Machine, Setting
from keencoat.core.window.door import Answer, Question, fit_told
from tests.bench.planners import ask, machine_of
from tests.bench.worlds import Told, ask_to_the_end
from tests.otherworld.burns import draw_world
from tests.otherworld.ridges import depth_of, shares_beside

RADII_MM = (18.0, 30.0)
WANTED = 0.9
_STEPS = np.linspace(0, 1, 41)


@dataclass(frozen=True)
class Width:
    """A mark as wide as the window says, mm straight across, and the true width where the share falls under 0.9."""

    said_mm: float
    true_mm: float
    at_edge: float


def widths(said: Answer, question: Question, beam: Beam, share_at) -> list[Width]:
    """What is said and what is true on each radius; nothing where no setting was found, or it does not hold flat."""
    if said.point is None or share_at(RADII_MM[0], 0.0, np.zeros(1))[0] < WANTED:
        return []
    fit, found = fit_told(question)[0], []
    for radius in RADII_MM:
        head = fixed_head(UnderHead(fit, said.point.setting, question.at.machine, beam, radius), WANTED)
        aside = 0.96 * radius * _STEPS
        shares = np.minimum.accumulate(share_at(radius, head.focus_below_mm, aside))
        true = 2 * float(np.interp(-WANTED, -shares, aside))
        found.append(Width(head.widest_mm, true, float(np.interp(head.widest_mm / 2, aside, shares))))
    return found


def on_plant(seed: int) -> list[Width]:
    case = draw_hidden(seed)
    if case.kind is Kind.EMPTY or machine_of(case).source is not BeamSource.BLUE:
        return []
    question, said = ask(case)
    machine: Machine = machine_of(case)
    pieces = draw_pieces(case.bench.material, 300, np.random.default_rng([seed, 51]))

    def share_at(radius, below, aside):
        s: Setting = said.point.setting
        told = BatchSetting(s.power_pct / 100, s.speed_mm_s, s.interval_mm, s.passes)
        return clean_beside(case.bench, told, pieces, radius, below, aside)

    return widths(said, question, usual_beam(machine), share_at)


def on_rays(seed: int) -> list[Width]:
    world = draw_world(seed)
    question, said = ask_to_the_end(world, Told(measured=8))
    pieces = world.pieces(1500, np.random.default_rng([seed, 53]))
    depth = depth_of(world, np.random.default_rng([seed, 61]))

    def share_at(radius, below, aside):
        return shares_beside(world, said.point.setting, radius, below, aside, pieces)

    # A focus ladder was burned: its depth is known to a tenth.
    measured = depth * float(np.exp(np.random.default_rng([seed, 67]).normal(0, 0.1)))
    return widths(said, question, Beam(world.machine.spot_mm / 2, measured, True), share_at)


def figures(name, come, seeds):
    with Pool(os.cpu_count()) as pool:
        found = [w for some in pool.map(come, seeds, chunksize=1) for w in some]
    said, true = np.array([w.said_mm for w in found]), np.array([w.true_mm for w in found])
    wide = (said > 0) & (true > 0)
    row = {
        "walls": len(found),
        "said to take none": int((said == 0).sum()),
        "said within what is true": round(float((said <= 1.05 * true).mean()), 3),
        "said over true, in the middle": round(float(np.median(said[wide] / true[wide])), 3),
        "share at the edge that is said, mean": round(float(np.mean([w.at_edge for w in found])), 3),
        "… at least 0.75": round(float(np.mean([w.at_edge >= 0.75 for w in found])), 3),
    }
    print("\n", name, row)
    return row


@pytest.mark.bench
def test_how_wide_a_fixed_head_marks():
    plant = figures("practice plant", on_plant, range(40, 100))
    rays = figures("second world, rays", on_rays, range(7600, 7640))
    for row in (plant, rays):
        assert row["walls"] >= 30
        assert row["said within what is true"] >= 0.75
        assert 0.5 <= row["said over true, in the middle"] <= 1.05
