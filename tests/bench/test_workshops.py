"""Workshops of twelve jobs on materials of other worlds: test pieces by how many jobs of a kind came before, and what
holds. KEENCOAT_SHOPS says how many workshops of each set, KEENCOAT_FIRST by how much seeds are moved on. Run with
-m bench -s."""

import os
from collections.abc import Callable
from functools import partial
from multiprocessing import Pool

import numpy as np
import pytest

from tests.bench.workshops import Done, jobs_of, liars_card, work_through
from tests.bench.worlds import WANTED, World
from tests.otherworld import burns, burns3
from tests.otherworld.zoo import LEFT_OUT, USUAL_KINDS, draw_animal

SHOPS = int(os.environ.get("KEENCOAT_SHOPS", "2"))
FIRST = int(os.environ.get("KEENCOAT_FIRST", "0"))


def left_out(seed: int) -> World:
    families = sorted(LEFT_OUT)
    return draw_animal(families[seed // 1000 % len(families)], seed, USUAL_KINDS[seed % len(USUAL_KINDS)])


WORLDS: dict[str, Callable[[int], World]] = {
    "left out": left_out,
    "second world": burns.draw_world,
    "third world": burns3.draw_world3,
}
SHOPS_ARE = {
    "each job alone": {"learns": False},
    "it learns": {"learns": True},
    "it learns, and a card lies": {"learns": True, "liar": True},
    "it learns, and a tube fails": {"learns": True, "fails": True},
}


def through(seed: int, of: str, learns: bool, liar: bool = False, fails: bool = False) -> list[Done]:
    return work_through(jobs_of(WORLDS[of], seed, fails), learns, liars_card if liar else None)


@pytest.mark.bench
@pytest.mark.parametrize("of", WORLDS)
def test_a_workshop_needs_fewer_pieces_from_job_to_job(of):
    pieces = {}
    for name, shop in SHOPS_ARE.items():
        with Pool(os.cpu_count()) as pool:
            shops = pool.map(partial(through, of=of, **shop), range(FIRST, FIRST + SHOPS), chunksize=1)
        # A tube counts on its machine from the job on before which it fails.
        done = [d for jobs in shops for d in jobs if "fails" not in shop or d.number in (7, 9, 10)]
        print(f"\n{of}, {name}:")
        for rank in range(6):
            came = [d.came for d in done if d.before == rank and d.has_window]
            if came:
                holds = np.mean([(c.share or 0) >= WANTED for c in came])
                print(
                    f"  job {rank + 1} of its kind: {np.mean([c.pieces for c in came]):.2f} pieces, holds {holds:.2f}, "
                    f"mean {np.mean([c.share or 0 for c in came]):.3f}, said {np.mean([c.held for c in came]):.2f}, "
                    f"cells {np.mean([c.cells for c in came]):.1f}, price {np.mean([c.price for c in came]):.0f}, "
                    f"speed {np.mean([c.pace for c in came]):.2f} ({len(came)})"
                )
        pieces[name] = float(np.mean([d.came.pieces for d in done if d.before and d.has_window]))
    assert pieces["it learns"] < pieces["each job alone"]
