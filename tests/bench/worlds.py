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
from keencoat.core.window.door import Answer, CoatTold, Question, RatedCell, answer
from keencoat.core.window.lessons import Kind, Lesson
from keencoat.core.window.plan import USUAL_BUDGET, Budget
from keencoat.core.window.price import patch_minutes
from keencoat.core.window.recommend import Verdict
from tests.bench.rival import Rival

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

    def margins(
        self, setting: Setting, pieces: NDArray[np.float64]
    ) -> tuple[NDArray[np.float64], NDArray[np.float64]]: ...

    def share(self, setting: Setting, pieces: NDArray[np.float64]) -> float: ...

    def rate(self, setting: Setting, piece: NDArray[np.float64], rng: np.random.Generator) -> str: ...


@dataclass(frozen=True)
class Came:
    """What a search came to: its word, the true share of clean pieces (None: it said there is no setting), speed
    against the fastest that keeps the wanted share, cells burned, how likely it said that the setting holds, how long
    patches of the usual fill burned, and on how many test pieces."""

    word: Verdict
    share: float | None
    pace: float
    cells: int
    held: float
    minutes: float
    pieces: int = 0

    @property
    def price(self) -> float:
        """What it cost: each piece a blank, twelve minutes of hands and an hour of drying, and the burning."""
        return self.pieces * _PIECE_PRICE + self.minutes * _MINUTE_PRICE


_PIECE_PRICE, _MINUTE_PRICE = 3 + 12 / 60 * 40 + 2, 0.05
"""€: a blank 3, hands 40 an hour, drying 2 an hour, a machine 0.05 a minute."""


@dataclass(frozen=True)
class Told:
    """How the door is asked: what may be spent, and what is said of the coat; None for its own variation, as it is."""

    budget: Budget = USUAL_BUDGET
    thickness_cv: float | None = None
    measured: int = 0
    photos: bool = False


AS_OUTSIDERS = Told(Budget(96, 6), 0.15)


@dataclass(frozen=True)
class Camera:
    """What a photo tells of a cell of a world: how fast its marks fill and harm grows with ln energy is the world's own
    affair, drawn by its seed; as blurred as photos of simulated grids were read."""

    fills_per_ln: float
    harms_per_ln: float

    @classmethod
    def at(cls, world: World) -> "Camera":
        rng = np.random.default_rng([world.seed, 17])
        return cls(float(rng.uniform(1.2, 4.0)), float(rng.uniform(5.0, 16.0)))

    def see(
        self, world: World, setting: Setting, piece: NDArray[np.float64], rng: np.random.Generator
    ) -> tuple[float, float]:
        """How full the mark is, and its worst harm against the limit."""
        above, below = (float(m[0]) for m in world.margins(setting, piece))
        # Four fifths full at the boundary; the last fifth comes the more slowly.
        full = 1 - 0.2 * np.exp(-min(max(self.fills_per_ln * above / 0.2, -1.6), 50))
        harm = np.exp(np.clip(-self.harms_per_ln * below, -6, 6))
        return float(np.clip(full + rng.normal(0, 0.05), 0, 1)), float(harm * np.exp(rng.normal(0, 0.3)))


def ask_to_the_end(
    world: World, told: Told, kind: Kind | None = None, lessons: tuple[Lesson, ...] = ()
) -> tuple[Question, Answer]:
    """Ask, burn and rate until there is an answer: the last question with it. With photos each cell's figures are told
    beside its rating."""
    camera = Camera.at(world)
    rng = np.random.default_rng([world.seed, 9])
    history: list[RatedCell] = []
    left, rounds = told.budget.cells_left, told.budget.rounds_left
    cv = world.told_cv if told.thickness_cv is None else told.thickness_cv
    coat = CoatTold(thickness_cv=cv, thickness_pieces=told.measured)
    at = Slice(world.machine, world.interval_mm)
    while True:
        budget = Budget(left, rounds)
        question = Question(
            at, world.process, world.substrate, coat, budget, tuple(history), kind=kind, lessons=lessons
        )
        said = answer(question)
        if not said.cells:
            return question, said
        piece = world.pieces(1, rng)
        for setting in said.cells:
            rating = Rating(world.rate(setting, piece, rng))
            figures = camera.see(world, setting, piece, rng) if told.photos else (None, None)
            history.append(RatedCell(rounds, setting, rating, (), *figures))
        left, rounds = left - len(said.cells), rounds - 1


def find_setting(world: World, told: Told) -> Came:
    """What the planner comes to, asked as above, and what that is worth in the world's own truth."""
    return judged_on(world, *ask_to_the_end(world, told), told)


def judged_on(world: World, question: Question, said: Answer, told: Told) -> Came:
    """What an answer is worth in the world's own truth."""
    burned = [c.setting for c in question.history]
    pieces = told.budget.rounds_left - question.budget.rounds_left
    return _judged(world, said.point and said.point.setting, said.verdict, said.held, burned, pieces)


def rival_finds(world: World) -> Came:
    """What the rival comes to."""
    rival, rng = Rival(world.machine, world.interval_mm, world.process), np.random.default_rng([world.seed, 9])
    burned: list[Setting] = []
    pieces = 0
    while cells := rival.cells(pieces):
        piece = world.pieces(1, rng)
        rival.rated(cells, [Rating(world.rate(c, piece, rng)) for c in cells])
        burned, pieces = burned + cells, pieces + 1
    setting = rival.setting()
    return _judged(world, setting, Verdict.NOT_SURE if setting else Verdict.NONE, 0.0, burned, pieces)


def _judged(
    world: World, setting: Setting | None, word: Verdict, held: float, burned: list[Setting], pieces: int
) -> Came:
    minutes = sum(patch_minutes(c) for c in burned)
    if setting is None:
        return Came(word, None, 0.0, len(burned), held, minutes, pieces)
    share = world.share(setting, world.pieces(4000, np.random.default_rng([world.seed, 123])))
    pace = setting.speed_mm_s / world.fastest_mm_s if world.fastest_mm_s else 0.0
    return Came(word, share, pace, len(burned), held, minutes, pieces)


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
        "pieces": float(np.mean([c.pieces for c in came])),
        "cells": float(np.mean([c.cells for c in came])),
        "price": float(np.mean([c.price for c in came])),
        "minutes": float(np.median([c.minutes for c in came])),
        "speed": float(np.mean([c.pace for c in found])) if found else 0.0,
        "false none": len(came) - len(found),
        "sure": len(sure),
        "held": sum((c.share or 0) >= WANTED for c in sure),
        "held 93": sum((c.share or 0) >= 0.93 for c in sure),
    }
    return {name: round(value, 3) for name, value in row.items()}
