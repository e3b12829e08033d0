"""A turning device and a round piece on it, as they truly are: it turns by another figure than it says, rollers let the
piece slip and creep aside, walls are not as wide as told."""

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from keencoat.bench.bed import Array

_TAPE_MM, _CALLIPER_MM = 0.3, 0.1


@dataclass(frozen=True)
class TrueDevice:
    """What a device does: mm of its axis for a turn of its chuck or roller, the share of a turn that a piece loses by
    slipping, how far it creeps along the axis in a turn, mm. `roller_mm` is 0 for a chuck."""

    mm_per_turn: float
    slips: float
    creeps_mm: float
    roller_mm: float

    def turns(self, axis_mm: Array, widest_mm: float) -> Array:
        """Turns of the piece for travel of the axis."""
        rolled = self.roller_mm / widest_mm if self.roller_mm else 1.0
        return np.asarray(axis_mm / self.mm_per_turn * rolled * (1 - self.slips))


def draw_device(seed: Sequence[int], roller_mm: float) -> TrueDevice:
    """A device of the practice bench: a chuck, or rollers so wide."""
    rng = np.random.default_rng([*seed, 811])
    per_turn = float(rng.uniform(95, 125))
    if not roller_mm:
        return TrueDevice(per_turn, 0.0, 0.0, 0.0)
    return TrueDevice(per_turn, float(rng.uniform(0, 0.006)), float(rng.normal(0, 0.15)), roller_mm)


@dataclass(frozen=True)
class TrueWall:
    """A wall as it is: diameters at its foot and its top, mm, its length, and how far off level its support leaves
    it, degrees."""

    below_mm: float
    above_mm: float
    length_mm: float
    off_level_deg: float

    def diameter_mm(self, height_mm: Array | float) -> Array:
        """At a height over its foot."""
        return np.asarray(self.below_mm + (self.above_mm - self.below_mm) * np.asarray(height_mm) / self.length_mm)

    @property
    def half_angle_deg(self) -> float:
        """How far its side leans; below zero where it narrows upwards."""
        return math.degrees(math.atan((self.above_mm - self.below_mm) / 2 / self.length_mm))


def draw_wall(seed: Sequence[int], below_mm: float, above_mm: float, length_mm: float) -> TrueWall:
    """A piece of that kind: as wide as told to a few per cent."""
    rng = np.random.default_rng([*seed, 733])
    kind, taper = 1 + rng.normal(0, 0.02), rng.normal(0, 0.004)
    return TrueWall(float(below_mm * kind), float(above_mm * (kind + taper)), length_mm, float(rng.normal(0, 0.08)))


def girth_of(wall: TrueWall, height_mm: float, by_tape: bool, seed: Sequence[int]) -> float:
    """What a tape or a calliper says at a height, mm, to a half and to a tenth."""
    rng = np.random.default_rng([*seed, 61])
    across = float(wall.diameter_mm(height_mm))
    if by_tape:
        return round(2 * (math.pi * across + rng.normal(0, _TAPE_MM))) / 2
    return round(across + float(rng.normal(0, _CALLIPER_MM)), 1)


def tape_between(device: TrueDevice, axis_mm: float, asked_turns: float, round_mm: float, seed: Sequence[int]) -> float:
    """What a tape says along a straight wall between two ticks for that travel of the axis: between them below a turn,
    and from whole turns what is left over (below zero: an overlap); mm."""
    rng = np.random.default_rng([*seed, 29])
    made = float(device.turns(np.array(axis_mm), round_mm / math.pi)) * round_mm + float(rng.normal(0, _TAPE_MM))
    whole = asked_turns >= 1 and asked_turns == int(asked_turns)
    return round(2 * (asked_turns * round_mm - made if whole else made)) / 2


@dataclass(frozen=True)
class TurnedMark:
    """A mark as it came out on a wall: round it at its own height and along it, mm; how much further along one side of
    it lies than the other, by creeping; how far the wall rises under the head along the mark."""

    round_mm: float
    along_mm: float
    sloped_mm: float
    rise_mm: float


def turned_mark(
    lit: Array, device: TrueDevice, wall: TrueWall, on_x: bool, middle_mm: float, level_deg: float
) -> TurnedMark:
    """A mark from the lit moves of its program, shape (moves, 2, 2); `on_x`: whether the device stands in for X;
    `middle_mm`: the mark's middle up the wall; `level_deg`: what its shim should have taken away."""
    axis, along = (lit[..., 0], lit[..., 1]) if on_x else (lit[..., 1], lit[..., 0])
    widest = max(wall.below_mm, wall.above_mm)
    turns = device.turns(axis, widest)
    high = float(np.ptp(along))
    wide = float(np.ptp(turns)) * math.pi * float(wall.diameter_mm(middle_mm))
    leans = abs(wall.half_angle_deg) * (2 if device.roller_mm else 1)
    rise = high * math.tan(math.radians(leans - level_deg + wall.off_level_deg))
    return TurnedMark(wide, high, device.creeps_mm * float(np.ptp(turns)), abs(rise))
