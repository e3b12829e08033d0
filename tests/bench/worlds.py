"""From the first question to the answer on materials of other worlds, and what that comes to."""

import os
from collections.abc import Callable, Sequence
from dataclasses import dataclass
from multiprocessing import Pool
from typing import Protocol, TypeVar

import numpy as np
from numpy.typing import NDArray

from keencoat.core.quantities.setting import Machine, Setting
from keencoat.core.quantities.slice import Slice
from keencoat.core.rating import Rating
from keencoat.core.window.door import CoatTold, Question, RatedCell, answer
from keencoat.core.window.plan import Budget
from keencoat.core.window.recommend import Verdict

WANTED = 0.95
Asked = TypeVar("Asked")


class World(Protocol):
    """A hidden material on a machine."""

    seed: int
    process: str
    machine: Machine
    interval_mm: float
    told_cv: float
    fastest_mm_s: float

    @property
    def substrate(self) -> str: ...

    def pieces(self, count: int, rng: np.random.Generator) -> NDArray[np.float64]: ...

    def share(self, setting: Setting, pieces: NDArray[np.float64]) -> float: ...

    def rate(self, setting: Setting, piece: NDArray[np.float64], rng: np.random.Generator) -> str: ...


@dataclass(frozen=True)
class Came:
    """What the planner came to: its word, the true share of clean pieces (None: it said there is no setting), speed
    against the fastest that keeps the wanted share, cells burned, and how likely it said that the setting holds."""

    word: Verdict
    share: float | None
    pace: float
    cells: int
    held: float


def find_setting(world: World, measured: int) -> Came:
    """Ask, burn and rate until there is an answer. The coat is told as measured on so many pieces; at 0, as a guess."""
    rng = np.random.default_rng([world.seed, 9])
    history: list[RatedCell] = []
    left, rounds = 20, 5
    coat = CoatTold(thickness_cv=world.told_cv, thickness_pieces=measured)
    at = Slice(world.machine, world.interval_mm)
    while True:
        said = answer(Question(at, world.process, world.substrate, coat, Budget(left, rounds), tuple(history)))
        if not said.cells:
            if said.point is None:
                return Came(said.verdict, None, 0.0, len(history), said.held)
            setting = said.point.setting
            share = world.share(setting, world.pieces(4000, np.random.default_rng([world.seed, 123])))
            pace = setting.speed_mm_s / world.fastest_mm_s if world.fastest_mm_s else 0.0
            return Came(said.verdict, share, pace, len(history), said.held)
        piece = world.pieces(1, rng)
        history += [RatedCell(5 - rounds, s, Rating(world.rate(s, piece, rng))) for s in said.cells]
        left, rounds = left - len(said.cells), rounds - 1


def in_parallel(come: Callable[[Asked], Came], asked: Sequence[Asked]) -> list[Came]:
    """What the planner comes to on each of them."""
    with Pool(os.cpu_count()) as pool:
        return pool.map(come, asked, chunksize=1)


def row_of(came: list[Came]) -> dict[str, float]:
    """The figures that are reported of materials that have a window."""
    sure, found = [c for c in came if c.word is Verdict.SURE], [c for c in came if c.share is not None]
    row = {
        "materials": len(came),
        "yield ≥ 95 %": sum((c.share or 0) >= WANTED for c in found) / len(came),
        "mean yield": float(np.mean([c.share or 0 for c in came])),
        "cells": float(np.mean([c.cells for c in came])),
        "speed": float(np.mean([c.pace for c in found])) if found else 0.0,
        "false none": len(came) - len(found),
        "sure": len(sure),
        "held": sum((c.share or 0) >= WANTED for c in sure),
        "held 93": sum((c.share or 0) >= 0.93 for c in sure),
    }
    return {name: round(value, 3) for name, value in row.items()}
