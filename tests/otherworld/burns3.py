"""A third world: harm that is not in the order of energy, browning, a laser that swallows short pulses, and dust.

It shares no law with the practice plant, the zoo or the second world. A mark needs a dose above a threshold
of irradiance; a slow head browns the piece by time at heat; near one speed the gantry sings, and its lines harm what
others would not; below a power that grows with speed the tube does not fire in full; and specks of dust spoil a cell
here and there, whatever it was burned with.
"""

from dataclasses import dataclass, replace

import numpy as np

from keencoat.core.quantities.setting import BeamSource, Machine, Setting
from tests.otherworld.judged import WANTED, judged

BUILDING, REPORTING = range(11_000, 11_200), range(12_000, 13_000)
"""Seeds that were looked at while building, and seeds whose figures are reported."""

_DOSE = {"frost": 1.9, "fuse": 2.2, "reveal": 0.35, "back_engrave": 1.1, "ablate": 2.6}
"""J/mm² in the middle of what makers report or may be guessed: common practice, no source."""
_ON = {"frost": "soda_lime_glass", "fuse": "white_glazed_tile", "reveal": "painted_tile",
       "back_engrave": "clear_acrylic", "ablate": "powder_coated_steel"}  # fmt: skip
_DUST = 0.006


@dataclass(frozen=True, eq=False)
class World3:
    """One material on one machine. `told_cv` is what is said of its coat, `true_cv` how films differ."""

    seed: int
    process: str
    machine: Machine
    interval_mm: float
    told_cv: float
    true_cv: float
    dose: float
    sinks: float
    browns: float
    browns_slow: float
    sings_mm_s: float
    sings_ln: float
    swallowed: float
    by_film: tuple[float, float]
    by_passes: float
    best_share: float = 0.0
    fastest_mm_s: float = 0.0

    @property
    def substrate(self) -> str:
        """What the pieces are made of."""
        return _ON[self.process]

    def pieces(self, count: int, rng: np.random.Generator) -> np.ndarray:
        """ln film and ln watts, uneven to the thick side, and a die for dust, shape (count, 3)."""
        film = self.true_cv * (rng.gamma(9.0, 1 / 3.0, count) - 3.0)
        return np.column_stack([film, rng.normal(0, 0.025, count), rng.random(count)])

    def margins(self, setting: Setting, pieces: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
        """How far, in ln energy, each piece lies above what marks and below what harms."""
        film, watts, _ = pieces.T
        dead = self.swallowed * np.sqrt(setting.speed_mm_s / self.machine.max_speed_mm_s)
        fires = max((setting.power_pct / 100 - dead) / (1 - dead), 1e-4)
        sent = np.log(self.machine.rated_w * fires) + watts
        ln_v = np.log(setting.speed_mm_s)
        line = sent - ln_v - np.log(setting.interval_mm)
        needs = np.log(self.dose) - self.sinks * (ln_v - np.log(60.0)) + self.by_film[0] * film
        marks = line + self.by_passes * np.log(setting.passes) - needs
        # Heat of a moving line goes with watts over the root of speed; a slow one has longer to brown.
        heat = sent - 0.5 * ln_v + 0.3 * np.log(setting.passes) - 0.25 * np.log(setting.interval_mm / self.interval_mm)
        slow = self.browns_slow * np.maximum(0.0, np.log(30.0) - ln_v) ** 2
        sung = self.sings_ln * np.exp(-(((ln_v - np.log(self.sings_mm_s)) / 0.2) ** 2))
        return marks, self.browns - slow - sung + self.by_film[1] * film - heat

    def share(self, setting: Setting, pieces: np.ndarray) -> float:
        """True share of pieces that come out clean; a speck on one in some hundred is no fault of the setting's, and
        counts."""
        above, below = self.margins(setting, pieces)
        return float(((above > 0) & (below > 0) & (pieces[:, 2] > _DUST)).mean())

    def rate(self, setting: Setting, piece: np.ndarray, rng: np.random.Generator) -> str:
        """What an eye says of a cell: a speck, or what it sees, unevenly."""
        if rng.random() < 2 * _DUST:
            return "faint"
        above, below = (float(m[0]) + rng.normal(0, 0.035) for m in self.margins(setting, piece))
        return "harsh" if below < 0 else "clean" if above > 0 else "faint"


def draw_world3(seed: int) -> World3:
    """A material that has a window somewhere in the machine's reach."""
    for attempt in range(300):
        world = judged(_draw(seed, np.random.default_rng([seed, attempt, 3331])))
        if world.best_share >= WANTED + 0.01:
            return world
    raise RuntimeError(f"no window for seed {seed}")


def draw_empty3(seed: int) -> World3:
    """A material that browns before it marks: nowhere half of the pieces come out clean."""
    world = draw_world3(seed)
    while world.best_share >= 0.5:
        world = judged(replace(world, browns=world.browns - 0.1))
    return world


def _draw(seed: int, rng: np.random.Generator) -> World3:
    process = str(rng.choice(sorted(_DOSE)))
    rated = float(rng.choice([5.0, 10.0, 20.0]))
    slowest, fastest = float(rng.choice([2.0, 5.0])), float(rng.choice([150.0, 300.0, 600.0]))
    machine = Machine(
        BeamSource.BLUE, rated, float(rng.uniform(0.07, 0.12)), slowest, fastest, float(rng.choice([1.0, 5.0])),
        float(rng.choice([1500, 3500])), 400, 400,
    )  # fmt: skip
    interval = float(rng.choice([0.08, 0.1, 0.12]))
    dose, sinks = _DOSE[process] * float(np.exp(rng.normal(-0.3, 0.4))), float(rng.uniform(0.1, 0.5))
    film = float(rng.uniform(0.4, 1.1))
    # Where it just marks at a middling speed, and so much hotter it browns.
    marks_at = np.log(dose * interval * 60.0)
    cv = float(rng.uniform(0.05, 0.15))
    return World3(
        seed, process, machine, interval, 0.15, cv, dose, sinks,
        float(marks_at - 0.5 * np.log(60.0) + rng.uniform(0.3, 1.1)),
        float(rng.uniform(0.0, 0.12)),
        float(np.exp(rng.uniform(np.log(20.0), np.log(200.0)))),
        float(rng.uniform(0.0, 0.5)),
        float(rng.uniform(0.0, 0.12)),
        (film, film * float(rng.uniform(-0.2, 0.8))),
        float(rng.uniform(0.3, 0.9)),
    )  # fmt: skip
