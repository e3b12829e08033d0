"""Pieces with a fault put in, on the practice plant, as the causes' table sees them: what a maker ticked, what a photo
of the coat said, how long it burned, the pieces beside it; and the remedy burned."""

from dataclasses import dataclass, replace
from functools import lru_cache

import cv2
import numpy as np

from keencoat.bench.eye import Looked, look_over
from keencoat.bench.faulty import Fault, Faulty, draw_fault
from keencoat.bench.filmfield import AS_MEANT
from keencoat.bench.hidden import Hidden
from keencoat.bench.plant.exposure import Hatch
from keencoat.bench.plant.materials import Piece, draw_piece
from keencoat.bench.plant.piece import PX_PER_MM, BurnedPiece, Sheet
from keencoat.core.inspect import TESTS, Action, BurnedAs, Case, Conditions, Measured, Neighbour, signs_of
from keencoat.core.quantities.setting import Machine, Setting
from keencoat.core.rating import Rating
from keencoat.core.substrate import find_process, find_substrate
from keencoat.core.window.door import fit_told
from keencoat.core.window.fit import WindowFit
from tests.bench.artburned import plant_side
from tests.bench.planners import ask

WIDE_MM, HIGH_MM = 44.0, 34.0
CAUSE_OF = {
    Fault.THICK: "coat_thick", Fault.THIN: "coat_thin", Fault.STREAKED: "coat_streaked", Fault.POOLED: "coat_pooled",
    Fault.TOUCHED: "coat_touched", Fault.CRACKED: "coat_cracked", Fault.BARE: "wrong_layer",
    Fault.FOCUS: "out_of_focus", Fault.WEAK: "weak_beam", Fault.STRONG: "strong_beam", Fault.FAST: "too_fast",
    Fault.SLOW: "too_slow", Fault.WIDE_LINES: "lines_wide", Fault.CLOSE_LINES: "lines_close",
    Fault.EXTRA_PASS: "extra_pass", Fault.MOVED: "moved", Fault.BACKLASH: "backlash", Fault.OFF: "off_origin",
    Fault.ASKEW: "set_askew", Fault.STRETCHED: "axis_size",
}  # fmt: skip
PROCESSES = ("frost", "fuse", "reveal", "back_engrave")
IN_COAT = {Fault.STREAKED: "streaked", Fault.POOLED: "pooled", Fault.TOUCHED: "touched", Fault.CRACKED: "cracked"}
_NEW_LOT = {Fault.THICK: 0.3, Fault.THIN: 0.3, Fault.BARE: 0.7}
_LASTING = {
    **dict.fromkeys((Fault.WEAK, Fault.STRONG, Fault.BACKLASH, Fault.STRETCHED), 0.97),
    **dict.fromkeys((Fault.FAST, Fault.SLOW, Fault.WIDE_LINES, Fault.CLOSE_LINES, Fault.EXTRA_PASS), 0.8),
    **dict.fromkeys((Fault.FOCUS, Fault.OFF, Fault.ASKEW, Fault.THICK, Fault.THIN, Fault.BARE), 0.4),
}
_TYPED = {
    Fault.FAST: "speed",
    Fault.SLOW: "speed",
    Fault.WIDE_LINES: "lines",
    Fault.CLOSE_LINES: "lines",
    Fault.EXTRA_PASS: "passes",
}
_SAYS = {
    "frame_again": {Fault.MOVED: "no"},
    "gauge": {Fault.FOCUS: "no"},
    "figures": _TYPED,
    "corner_patch": dict.fromkeys((*_TYPED, Fault.WEAK, Fault.STRONG, Fault.BACKLASH), "yes"),
    "to_the_light": {Fault.THICK: "darker", Fault.THIN: "lighter", Fault.BARE: "lighter"},
    "against_the_lamp": {
        Fault.STREAKED: "brush",
        Fault.TOUCHED: "finger",
        Fault.CRACKED: "crack",
        Fault.POOLED: "run",
        Fault.WIDE_LINES: "lines",
    },
    "fingertip": {},
    "stripes_both_ways": {Fault.BACKLASH: "yes"},
    "measure": {Fault.STRETCHED: "size", Fault.OFF: "place", Fault.ASKEW: "turn"},
    "warm": {},
    "small_patch": dict.fromkeys((Fault.MOVED, Fault.OFF, Fault.ASKEW), "yes"),
}
_USUAL = {
    "frame_again": "yes",
    "gauge": "yes",
    "figures": "none",
    "to_the_light": "alike",
    "against_the_lamp": "nothing",
    "measure": "none",
}
"""What a test truly comes to; of those that are not named, no."""


@dataclass(frozen=True, eq=False)
class Place:
    """A material at its locked setting, with the window that it was chosen from."""

    hidden: Hidden
    setting: Setting
    machine: Machine
    fit: WindowFit

    @property
    def burned(self) -> BurnedAs:
        return BurnedAs(
            find_process(self.hidden.process),
            find_substrate(self.hidden.substrate),
            self.setting,
            self.machine,
            self.fit,
        )


@lru_cache(maxsize=64)
def place(process: str, number: int) -> Place:
    side = plant_side(process, number)
    return Place(side.hidden, side.setting, side.machine, fit_told(ask(side.hidden)[0])[0])


@lru_cache(maxsize=1)
def drawing() -> np.ndarray:
    """A leaf with its stalk, a ring and four bars, lying across: 1 where it is marked, upper left first."""
    px = PX_PER_MM
    face = np.zeros((round(HIGH_MM * px), round(WIDE_MM * px)), np.float32)
    cv2.ellipse(face, (17 * px, 13 * px), (9 * px, 5 * px), 12, 0, 360, 1.0, -1)
    cv2.line(face, (24 * px, 15 * px), (31 * px, 17 * px), 1.0, px)
    cv2.circle(face, (31 * px, 11 * px), 3 * px, 1.0, px)
    for n in range(4):
        cv2.rectangle(face, ((10 + 6 * n) * px, 21 * px), ((13 + 6 * n) * px, (25 + n % 2) * px), 1.0, -1)
    return face


def hatch_of(setting: Setting, accel_mm_s2: float) -> Hatch:
    """The drawing as the head burns it, to and fro."""
    face, px = drawing(), PX_PER_MM
    rows, took = [], 0.0
    for n, y in enumerate(np.arange(0.5, HIGH_MM - 0.5, setting.interval_mm)):
        edges = np.flatnonzero(np.diff(np.pad(face[min(len(face) - 1, round((HIGH_MM - y) * px))].astype(int), 1))) / px
        runs = [(float(y), float(a), float(b)) for a, b in zip(edges[::2], edges[1::2], strict=True)]
        rows += [(at, b, a) for at, a, b in reversed(runs)] if n % 2 else runs
        if len(edges):
            took += (edges[-1] - edges[0]) / setting.speed_mm_s + 3 * setting.speed_mm_s / accel_mm_s2
    took *= setting.passes
    return Hatch(setting.power_pct / 100, setting.speed_mm_s, 0.0, 0.0, took, [rows] * setting.passes)


def burn(at: Place, setting: Setting, faulty: Faulty | None, drawn: Piece, seed: int) -> tuple[BurnedPiece, float]:
    """A piece, and ln of the seconds that it took over those expected."""
    bench, plan = at.hidden.bench, hatch_of(setting, at.machine.accel_mm_s2)
    piece = BurnedPiece(
        bench.material,
        Sheet(WIDE_MM, HIGH_MM, False, bench.thickness_mm),
        faulty.piece(drawn) if faulty else drawn,
        bench.rated_w,
        seed,
        bench.wavelength_nm,
        faulty.coated if faulty else AS_MEANT,
    )
    did = faulty.hatch(plan) if faulty else plan
    piece.expose([did], [])
    if faulty and faulty.turned_deg:
        piece.turn(faulty.turned_deg)
    return piece, float(np.log((did.end_s - did.start_s) / (plan.end_s - plan.start_s)))


@dataclass(frozen=True, eq=False)
class Told:
    """A failed piece, with what the maker cannot see."""

    place: Place
    faulty: Faulty
    drawn: Piece
    seed: int
    case: Case

    @property
    def cause(self) -> str:
        return CAUSE_OF[self.faulty.fault]

    def answered(self, case: Case, test: str, rng: np.random.Generator) -> Case:
        """The case once a test was done; one hand in fourteen gets it wrong."""
        said = _SAYS[test].get(self.faulty.fault, _USUAL.get(test, "no"))
        if rng.random() < 0.07:
            said = str(rng.choice(list(TESTS[test].answers)))
        return replace(case, answers={**case.answers, test: said})

    def is_mended(self, action: Action, setting: Setting | None) -> bool:
        """Whether a fresh piece, burned as the remedy says, comes out clean and in its place."""
        return self.comes_out(None if self.faulty.fault in _MENDS.get(action, set()) else self.faulty, setting)

    def comes_out(self, left: Faulty | None, setting: Setting | None = None) -> bool:
        """Whether a fresh piece with what is left of the fault comes out so, at the locked setting or another. No two
        cases share a piece: an unlucky one would count for all of them."""
        rng = np.random.default_rng([self.seed, 77, list(Fault).index(self.faulty.fault)])
        drawn = draw_piece(self.place.hidden.bench.material, rng)
        piece, _ = burn(self.place, setting or self.place.setting, left, drawn, int(rng.integers(2**31)))
        ticks = signs_of(self.place.burned.process, self.place.burned.substrate, turned=False)
        careful = look_over(piece, drawing(), _Sharp(), ticks)
        bent = {"off_place", "askew", "wrong_size", "doubled", "combed"}
        return careful.word == "clean" and not careful.signs & bent


def tell(process: str, fault: Fault, seed: int) -> Told | None:
    """A failed piece with this fault; None where it did not show."""
    rng = np.random.default_rng([seed, list(Fault).index(fault), PROCESSES.index(process)])
    at = place(process, seed % 3)
    for attempt in range(6):
        faulty = draw_fault(fault, rng)
        drawn = draw_piece(at.hidden.bench.material, rng)
        piece, ln_time = burn(at, at.setting, faulty, drawn, seed * 10 + attempt)
        ticks = signs_of(at.burned.process, at.burned.substrate, turned=False)
        looked = look_over(piece, drawing(), rng, ticks)
        if not looked.fine:
            case = _case(at, faulty, piece, looked, ln_time, rng, ticks)
            return Told(at, faulty, drawn, seed * 10 + attempt, case)
    return None


def _case(
    at: Place, faulty: Faulty, piece: BurnedPiece, looked: Looked, ln_time: float, rng: np.random.Generator, ticks
) -> Case:
    case = Case(
        at.burned,
        Rating(looked.word) if looked.word else None,
        {sign: sign in looked.signs for sign in ticks},
        Conditions(
            toned=False,
            fill_over_tested=1.0,
            new_lot=bool(rng.random() < _NEW_LOT.get(faulty.fault, 0.15)),
            dry_h_left=-5.0,
            air_c=20.0,
        ),
        ln_time=Measured(ln_time + rng.normal(0, 0.02), 0.02),
        before=Neighbour(1, bool(rng.random() < 0.06)),
    )
    if rng.random() < 0.5:
        film = float(np.log(piece.film.film_um.mean() / at.hidden.bench.material.film_um))
        shown = {key: bool(rng.random() < (0.85 if fault is faulty.fault else 0.05)) for fault, key in IN_COAT.items()}
        case = replace(case, ln_film=Measured(film + rng.normal(0, 0.1), 0.1), coat=shown)
    if rng.random() < 0.6:
        failed = rng.random() < _LASTING.get(faulty.fault, 0.05)
        case = replace(case, after=(Neighbour(3, bool(failed)),))
    return case


_MENDS = {
    Action.RECOAT: {Fault.THICK, Fault.THIN, Fault.BARE, *IN_COAT},
    Action.FOCUS: {Fault.FOCUS},
    Action.RETYPE: {Fault.FAST, Fault.SLOW, Fault.WIDE_LINES, Fault.CLOSE_LINES, Fault.EXTRA_PASS},
    Action.HOLD: {Fault.MOVED},
    Action.ONE_WAY: {Fault.BACKLASH},
    Action.ORIGIN: {Fault.OFF},
    Action.SQUARE: {Fault.ASKEW},
    Action.CALIBRATE: {Fault.STRETCHED},
}


class _Sharp(np.random.Generator):
    """An eye that sees all there is and nothing else."""

    def __init__(self) -> None:
        super().__init__(np.random.PCG64(0))

    def random(self, *_: object) -> float:
        return 0.5
