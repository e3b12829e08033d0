"""A second turning bench: motors that go in steps and lose some on the way back, jaws that hold a piece off its axis,
walls that bulge. Written apart from the practice bench: a mark is followed step by step, and laid along the wall."""

import math
from dataclasses import dataclass

import numpy as np


@dataclass(frozen=True)
class Turner:
    """One device with one piece in it. `step_mm` of the axis a motor step, `slack_mm` lost where the way turns back;
    rollers of `roller_mm` (0: a chuck); the piece held `off_mm` off its axis; slip grows with the feed."""

    true_mm: float
    step_mm: float
    slack_mm: float
    roller_mm: float
    off_mm: float
    slip_per_mm_s: float
    foot_mm: float
    top_mm: float
    bulge_mm: float
    length_mm: float

    def across_mm(self, height_mm: np.ndarray | float) -> np.ndarray:
        """The wall's width at a height."""
        share = np.asarray(height_mm) / self.length_mm
        return self.foot_mm + (self.top_mm - self.foot_mm) * share + 4 * self.bulge_mm * share * (1 - share)

    @property
    def widest_mm(self) -> float:
        return float(self.across_mm(np.linspace(0, self.length_mm, 101)).max())

    def turned(self, axis_mm: np.ndarray, feed_mm_s: np.ndarray) -> np.ndarray:
        """Turns of the piece after each move of the axis."""
        went, at, turns, way = [], 0.0, 0.0, 0
        for to, feed in zip(axis_mm.tolist(), feed_mm_s.tolist(), strict=True):
            steps = round(to / self.step_mm) - round(at / self.step_mm)
            moved = steps * self.step_mm
            if moved and way and math.copysign(1, moved) != way:
                moved -= math.copysign(min(self.slack_mm, abs(moved)), moved)
            way = int(math.copysign(1, steps)) if steps else way
            once = moved / self.true_mm * (self.roller_mm / self.widest_mm if self.roller_mm else 1.0)
            turns += once * (1 - min(0.02, self.slip_per_mm_s * feed))
            at = to
            went.append(turns)
        return np.array(went)

    def taped(self, axis_mm: float, round_mm: float, rng: np.random.Generator) -> float:
        """What lies along a straight wall between two ticks, as a tape says to half a millimetre; held off its axis the
        wall swings under the head, and a tick falls beside the ridge by what it leans."""
        made = float(self.turned(np.array([axis_mm]), np.array([20.0]))[0]) * round_mm
        swing = self.off_mm * math.sin(2 * math.pi * made / round_mm)
        return round(2 * (made + swing + rng.uniform(-0.4, 0.4))) / 2


def draw_turner(seed: int) -> Turner:
    """A device and a piece: chuck or rollers, straight, tapered or bulging."""
    rng = np.random.default_rng([seed, 997])
    foot = float(rng.uniform(40, 110))
    rollers = rng.random() < 0.5
    return Turner(
        true_mm=float(rng.uniform(70, 180)),
        step_mm=float(rng.choice([0.0125, 0.025, 0.05])),
        slack_mm=float(rng.uniform(0, 0.08)),
        roller_mm=float(rng.uniform(25, 50)) if rollers else 0.0,
        off_mm=0.0 if rollers else float(rng.uniform(0, 0.25)),
        slip_per_mm_s=float(rng.uniform(0, 5e-5)) if rollers else 0.0,
        foot_mm=foot,
        top_mm=foot * float(rng.uniform(0.75, 1.0)),
        bulge_mm=float(rng.choice([0.0, 0.0, 0.4])),
        length_mm=float(rng.uniform(80, 160)),
    )
