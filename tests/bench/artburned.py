"""Artwork predicted and burned on materials of two worlds: the practice plant's, and one that shares nothing with it.

What is known of a case before artwork is burned: a setting that the planner found, its window, the machine's plate, and
how light ground and full mark are. A wedge is burned on a piece of its own.
"""

from dataclasses import dataclass
from functools import lru_cache
from typing import Protocol

import numpy as np
from numpy.typing import NDArray
from shapely import box

from keencoat.bench.filmfield import AS_MEANT, Coated
from keencoat.bench.hidden import Hidden, draw_hidden
from keencoat.bench.plant.exposure import Hatch
from keencoat.bench.plant.materials import MATERIALS, Piece, draw_piece
from keencoat.bench.plant.piece import PX_PER_MM, BurnedPiece, Sheet, seen_share
from keencoat.core.artwork.expected import expected_dots
from keencoat.core.artwork.made import Lines, MadeDots, lines_of
from keencoat.core.artwork.screen import Dots, Screen, dots_of
from keencoat.core.artwork.tone_curve import DotBelief, Look, ToneCurve, WedgeStep, calibrated_curve
from keencoat.core.heat import thermal_of
from keencoat.core.quantities import Machine, Setting
from keencoat.core.toolpath.gcode import gcode_lines
from keencoat.core.window.door import fit_told
from keencoat.core.window.places import PlaceOdds, place_odds
from tests.bench.planners import ask, machine_of
from tests.bench.worlds import Told, ask_to_the_end
from tests.otherworld import artburns
from tests.otherworld.burns import World, draw_world

Field = NDArray[np.float64]
SIDE_MM, EDGE_MM = 30, 5
GREYS = np.arange(1, 9) / 8
_WHOLE_MM = SIDE_MM + 2 * EDGE_MM
_WEDGE_SD = 0.02
_LUMINANCE = np.array([0.2126, 0.7152, 0.0722])


@dataclass(frozen=True, eq=False)
class Came:
    """What came of it in millimetre squares of the artwork's room, the lowest row first: luminance, how full the mark
    is, share of what was burned that is harmed, share of dots, and ln of the film over that of the usual piece."""

    y: Field
    full: Field
    harmed: Field
    lit: Field
    ln_film: Field


class Side(Protocol):
    """A material with a setting, and its world."""

    setting: Setting
    machine: Machine
    odds: PlaceOdds
    substrate: str
    look: Look

    def burn(self, made: MadeDots, seed: int, ln_film: float) -> Came:
        """Burn dots on a fresh piece whose coat is so much thicker or thinner than meant; seed 0: on the usual one."""


@dataclass(frozen=True, eq=False)
class PlantSide:
    """A material of the practice plant."""

    hidden: Hidden
    setting: Setting
    machine: Machine
    odds: PlaceOdds

    @property
    def substrate(self) -> str:
        return self.hidden.substrate

    @property
    def look(self) -> Look:
        look = self.hidden.bench.material.look
        return Look(float(_LUMINANCE @ look.ground), float(_LUMINANCE @ look.mark))

    def burn(self, made: MadeDots, seed: int, ln_film: float) -> Came:
        bench = self.hidden.bench
        piece = BurnedPiece(
            bench.material,
            Sheet(_WHOLE_MM, _WHOLE_MM, False, bench.thickness_mm),
            draw_piece(bench.material, np.random.default_rng([self.hidden.seed, seed, 3])) if seed else Piece(),
            bench.rated_w,
            seed,
            bench.wavelength_nm,
            Coated(AS_MEANT.fault, float(np.exp(ln_film))),
        )
        piece.expose([hatch_of(made, self.setting, self.machine.accel_mm_s2)], [])
        seen = seen_share(bench.material.look, piece.mark * (1 - piece.harm))
        lit = _lit_at(made, PX_PER_MM)
        usual = bench.material.film_um
        film = np.kron(piece.film.film_um, np.ones((PX_PER_MM // piece.film.px_per_mm,) * 2))
        return _came(np.asarray(piece.look() @ _LUMINANCE), seen, piece.harm, lit, np.log(film / usual), PX_PER_MM)


@dataclass(frozen=True, eq=False)
class OtherSide:
    """A material of the second world."""

    world: World
    setting: Setting
    machine: Machine
    odds: PlaceOdds

    @property
    def substrate(self) -> str:
        return self.world.substrate

    @property
    def look(self) -> Look:
        skin = artburns.skin_of(self.world)
        return Look(skin.ground_y, skin.mark_y)

    def burn(self, made: MadeDots, seed: int, ln_film: float) -> Came:
        rng = np.random.default_rng([self.world.seed, seed, 12])
        piece = self.world.pieces(1, rng)[0] if seed else np.zeros(2)
        px = artburns.PX_PER_MM
        cloud = np.kron(rng.normal(0, 1, (8, 8)), np.ones((_WHOLE_MM * px // 8,) * 2))
        film = ln_film + piece[0] + 0.04 * cloud
        program = made.program(self.setting, self.machine, (_WHOLE_MM, _WHOLE_MM), False)
        lines = [line for _, line in gcode_lines(program, self.machine, "artwork")]
        came = artburns.burn_gcode(self.world, self.setting, lines, _WHOLE_MM, film, float(piece[1]), seed)
        return _came(came.y, came.turned, came.harmed, _lit_at(made, px), film, px)


def hatch_of(made: MadeDots, setting: Setting, accel_mm_s2: float) -> Hatch:
    """What the head does for these dots, to and fro, on a piece whose lower left corner is zero."""
    shift = _WHOLE_MM / 2
    rows: list[tuple[float, float, float]] = []
    took = 0.0
    for number, row in enumerate(np.flatnonzero(made.dots.any(axis=1))):
        edges = np.flatnonzero(np.diff(np.pad(made.dots[row].astype(int), 1)))
        y = made.low_mm + (row + 0.5) * made.interval_mm + shift
        ends = made.left_mm + edges * made.pitch_mm + shift
        runs = list(zip(ends[::2], ends[1::2], strict=True))
        if number % 2:
            runs = [(b, a) for a, b in reversed(runs)]
        rows += [(y, a, b) for a, b in runs]
        took += (edges[-1] - edges[0]) * made.pitch_mm / setting.speed_mm_s + 3 * setting.speed_mm_s / accel_mm_s2
    took *= setting.passes
    return Hatch(setting.power_pct / 100, setting.speed_mm_s, 0.0, 0.0, took, [rows] * setting.passes)


def laid(dots: Dots, lines: Lines) -> MadeDots:
    """Dots in the middle of the piece."""
    rows, columns = dots.shape
    low, left = -rows * lines.interval_mm / 2, -columns * lines.pitch_mm / 2
    return MadeDots(dots, left, low, lines.pitch_mm, lines.interval_mm)


def by_mm(values: Field, made: MadeDots) -> Field:
    """Values of dots as means of the millimetre squares of the artwork's room, the lowest row first."""
    return _squares(_on_piece(values, made, PX_PER_MM), PX_PER_MM)


def _on_piece(values: Field, made: MadeDots, px: int) -> Field:
    """Values of dots at so many pixels a millimetre of the whole piece, the lowest row first, 0 beside them."""
    at = (np.arange(_WHOLE_MM * px) + 0.5) / px - _WHOLE_MM / 2
    rows, columns = np.floor((at - made.low_mm) / made.interval_mm), np.floor((at - made.left_mm) / made.pitch_mm)
    inside = (rows >= 0) & (rows < values.shape[0]), (columns >= 0) & (columns < values.shape[1])
    picked = values[
        np.ix_(np.clip(rows, 0, values.shape[0] - 1).astype(int), np.clip(columns, 0, values.shape[1] - 1).astype(int))
    ]
    return np.asarray(np.where(inside[0][:, None] & inside[1], picked, 0.0))


def _lit_at(made: MadeDots, px: int) -> Field:
    return _on_piece(made.dots.astype(float), made, px)


def _squares(face: Field, px: int) -> Field:
    room = face[EDGE_MM * px : -EDGE_MM * px, EDGE_MM * px : -EDGE_MM * px]
    return np.asarray(room.reshape(SIDE_MM, px, SIDE_MM, px).mean(axis=(1, 3)))


def _came(y: Field, full: Field, harmed: Field, lit: Field, ln_film: Field, px: int) -> Came:
    """From fields of the whole piece, the upper left first but for `lit`."""
    share = np.maximum(_squares(lit, px), 1e-9)
    y, full, harmed, ln_film = (np.flipud(face) for face in (y, full, harmed, ln_film))
    within = _squares(harmed * lit, px) / share
    return Came(_squares(y, px), _squares(full, px), within, share, _squares(ln_film, px))


@lru_cache(maxsize=64)
def plant_side(process: str, number: int) -> PlantSide:
    """The planner's setting on the n-th open material of a process."""
    for seed in range(500_000 + 1000 * number, 501_000 + 1000 * number):
        if seed % 25 >= 13 or str(np.random.default_rng([seed, 0, 77]).choice(sorted(MATERIALS))) != process:
            continue
        hidden = draw_hidden(seed)
        question, said = ask(hidden)
        if hidden.process == process and said.point is not None:
            machine, setting = machine_of(hidden), said.point.setting
            return PlantSide(hidden, setting, machine, place_odds(fit_told(question)[0], setting, machine))
    raise RuntimeError(f"no open {process}")


@lru_cache(maxsize=64)
def other_side(process: str, number: int, first: int) -> OtherSide:
    """The planner's setting on the n-th material of a process, from that seed on."""
    found = 0
    for seed in range(first, first + 400):
        if str(np.random.default_rng([seed, 0, 271]).choice(sorted(artburns.LIGHT))) != process:
            continue
        world = draw_world(seed)
        question, said = ask_to_the_end(world, Told(measured=8))
        if world.process != process or said.point is None:
            continue
        if found == number:
            setting = said.point.setting
            return OtherSide(world, setting, world.machine, place_odds(fit_told(question)[0], setting, world.machine))
        found += 1
    raise RuntimeError(f"no {process} from {first}")


def lines_and_belief(side: Side) -> tuple[Lines, DotBelief]:
    """What is to be expected of dots before a wedge."""
    lines = lines_of(side.setting.interval_mm, side.machine.spot_mm, box(*(-SIDE_MM / 2,) * 2, *(SIDE_MM / 2,) * 2))
    heat = thermal_of(side.substrate).diffusivity_mm2_s
    return lines, expected_dots(lines, side.setting, side.machine, heat, side.odds)


def wedge_curve(side: Side, screen: Screen, seed: int) -> ToneCurve:
    """The tone curve after a wedge."""
    return calibrated_curve(screen, Screen.BAYER_4, wedge_steps(side, seed), lines_and_belief(side)[1])


@lru_cache(maxsize=64)
def wedge_steps(side: Side, seed: int) -> tuple[WedgeStep, ...]:
    """A wedge of eight greys in Bayer dots on one fresh piece, read as well as a photo is."""
    lines, _ = lines_and_belief(side)
    rng = np.random.default_rng([seed, 40])
    tones = np.zeros((round(SIDE_MM / lines.interval_mm), round(SIDE_MM / lines.pitch_mm)), dtype=np.float32)
    corners = [(1 + 14 * (n // 4), 1 + 7 * (n % 4)) for n in range(len(GREYS))]
    for grey, (low, left) in zip(GREYS, corners, strict=True):
        rows, columns = (
            slice(round(a / step), round((a + 6) / step))
            for a, step in ((low, lines.interval_mm), (left, lines.pitch_mm))
        )
        tones[rows, columns] = grey
    came = side.burn(laid(dots_of(tones, Screen.BAYER_4), lines), seed, 0.0)
    y = [float(came.y[low + 2 : low + 4, left + 2 : left + 4].mean()) for low, left in corners]
    seen = [(v - side.look.ground_y) / (y[-1] - side.look.ground_y) for v in y]
    return tuple(
        WedgeStep(float(g), float(np.clip(s + rng.normal(0, _WEDGE_SD), -0.4, 1.4)), 0.03)
        for g, s in zip(GREYS, seen, strict=True)
    )
