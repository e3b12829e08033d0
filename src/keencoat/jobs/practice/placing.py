"""Placing on the practice bench: its tape and its pointer, its turning devices, and where a mark lands.

What the bench knows and nobody sees follows from the seeds of the practice, the device, and the jig.
"""

from dataclasses import dataclass, replace

import numpy as np

from keencoat.bench.batch import BatchSetting
from keencoat.bench.bed import Array, Landed, Pose, draw_lying, landed, lit_ends, touch
from keencoat.bench.plant.many import Bench, draw_pieces
from keencoat.bench.ridge import clean_beside
from keencoat.bench.turning import (
    TrueDevice,
    TrueWall,
    TurnedMark,
    draw_device,
    draw_wall,
    girth_of,
    tape_between,
    turned_mark,
)
from keencoat.core.errors import NotAllowedError
from keencoat.core.piece import Girth, GirthTool, RoundPiece
from keencoat.core.toolpath import Streamed, gcode_lines
from keencoat.jobs.artwork.models import Artwork
from keencoat.jobs.artwork.services.files import Taken
from keencoat.jobs.artwork.services.making import ArtBase, base_of, made_of
from keencoat.jobs.models import Job
from keencoat.jobs.placing.models import Placing
from keencoat.jobs.placing.services.files import placed_program, turned_program
from keencoat.jobs.placing.services.jig import flat_piece_of
from keencoat.jobs.placing.services.loads import take_load
from keencoat.jobs.placing.services.placing import place_of, placing_of
from keencoat.jobs.placing.services.round_place import RoundPlace
from keencoat.jobs.practice.known import practice_of
from keencoat.jobs.practice.services import material_of
from keencoat.shop.models import KeptJig, TurningDevice

_AT_SHARES = (0.12, 0.5, 0.88)
_RIM_DEG = (20.0, 110.0, 200.0, 300.0)
_FIRST_ARTWORK = "Choose an artwork for the mark, and burn that."
_PIECES, _PLACES = 60, 13


@dataclass(frozen=True)
class PieceLanded:
    """Where one piece's mark came, beside what was meant."""

    piece: int
    landed: Landed


@dataclass(frozen=True)
class Turning:
    """A mark as it was meant on a wall, mm round it and along it, and as it came."""

    meant_mm: tuple[float, float]
    came: TurnedMark


@dataclass(frozen=True, eq=False)
class Ridge:
    """Shares of clean pieces in narrow strips beside the ridge, mm from it."""

    aside_mm: Array
    clean: Array


def measure_wall(job: Job, by: GirthTool) -> tuple[Girth, ...]:
    """What tape or calliper says of a practice piece at three heights."""
    wall, practice = _wall(job), practice_of(job)
    heights = [round(share * wall.length_mm, 1) for share in _AT_SHARES]
    seed = [practice.seed, practice.pieces_spent]
    tape = by is GirthTool.TAPE
    return tuple(Girth(h, girth_of(wall, h, tape, [*seed, n]), by) for n, h in enumerate(heights))


def touch_piece(job: Job) -> list[tuple[float, float]]:
    """What the machine says where the pointer touched a practice piece: its rim four times, or three corners."""
    piece = flat_piece_of(job)
    if piece.has_rim:
        turns = np.radians(_RIM_DEG)
        points = piece.width_mm / 2 * np.column_stack([np.cos(turns), np.sin(turns)])
    else:
        half = np.array([piece.width_mm, piece.height_mm]) / 2
        points = half * np.array([[-1.0, -1.0], [1.0, -1.0], [-1.0, 1.0]])
    return _told(touch(_lying(job), points, [practice_of(job).seed, 23]))


def touch_crosses(job: Job, kept: KeptJig) -> list[tuple[float, float]]:
    """What the machine says where the pointer touched a jig's crosses; a jig that was taken off is laid down anew."""
    practice, jig = practice_of(job), kept.laid()
    at = np.array(jig.crosses_mm) - np.array(jig.spec.sheet_mm) / 2
    return _told(touch(_jig_pose(job, kept), at, [practice.seed, kept.pk, kept.version]))


def measure_ticks(device: TurningDevice, asked_turns: float, round_mm: float) -> float:
    """What the practice tape says between two ticks so many turns apart, or after whole turns what is left over, on a
    straight wall so long round. Raises NotAllowedError for a real device."""
    if device.machine.workshop.practice_of_id is None:
        raise NotAllowedError("This is a real device.", hint="Burn the ticks on it, and measure.")
    told = device.to_core()
    axis = asked_turns * told.turn_mm(round_mm / np.pi)
    seed = [device.pk, device.tests.count()]
    return tape_between(_device(device), axis, asked_turns, round_mm, seed)


def land_on_bed(job: Job, kept: KeptJig | None, number: int) -> tuple[PieceLanded, ...]:
    """Where the marks of a load in a jig came, or without one the mark on the piece that was touched."""
    practice, placing = practice_of(job), placing_of(job)
    base = base_of(job)
    if kept is None:
        taken = Taken(_artwork(placing), base, 0)
        came = _lit(placed_program(placing, taken), base)
        meant = _lit(base.program(made_of(taken.artwork, base, taken.piece), False), base) - np.array(base.size_mm) / 2
        return (PieceLanded(1, landed(meant, _lying(job).off_bed(came.reshape(-1, 2)))),)
    load = take_load(job, kept, number, None)
    jig, pose = kept.laid(), _jig_pose(job, kept)
    play = jig.spec.play_mm + kept.width_mm - job.piece().face.width_mm
    found = []
    for seat in load.program.seats:
        # How the piece lies in its pocket: pushed somewhere within its play.
        rng = np.random.default_rng([practice.seed, kept.pk, kept.times_laid, seat.piece])
        loose = rng.uniform(-play / 2, play / 2, 2) / np.sqrt(2)
        x, y = np.array([seat.pocket.x_mm, seat.pocket.y_mm]) - np.array(jig.spec.sheet_mm) / 2 + loose
        own = Pose(float(x), float(y), 0.0)
        came = pose.off_bed(_lit(replace(load.program, seats=(seat,)), base).reshape(-1, 2))
        meant = _lit(load.program.program_of(seat.piece), base).reshape(-1, 2) - np.array(load.program.box_mm) / 2
        found.append(PieceLanded(seat.piece, landed(meant, own.off_bed(came))))
    return tuple(found)


def land_on_wall(job: Job, levelled: bool) -> Turning:
    """How the mark came out that a turning device turned; `levelled`: whether its shim was put under."""
    practice_of(job)
    placing = placing_of(job)
    place, base = place_of(placing), base_of(job)
    if not isinstance(place, RoundPlace) or placing.device is None or place.device is None:
        raise NotAllowedError("Nothing turns this piece.", hint="Say in Placing which turning device carries it.")
    taken = Taken(_artwork(placing), base, 0)
    turned = turned_program(placing, taken)
    lit = _lit(turned, base)
    on_x = turned.turned.device.stands_in_for == "x"
    level = place.device.level.angle_deg if levelled else 0.0
    came = turned_mark(lit, _device(placing.device), _wall(job), on_x, place.art.along_mm, level)
    flat = _lit(turned.program, base).reshape(-1, 2)
    wide, high = (float(side) for side in np.ptp(flat, axis=0))
    return Turning((high, wide) if turned.turned.across else (wide, high), came)


def burn_ridge(job: Job) -> Ridge:
    """Narrow strips beside the ridge of a practice glass under a fixed head, each burned on many pieces at the locked
    setting. Raises NotAllowedError where nothing is locked, or the piece is turned."""
    practice, placing = practice_of(job), placing_of(job)
    lock, place = job.locked.first(), place_of(placing)
    if not isinstance(place, RoundPlace) or lock is None or place.under_head is None:
        raise NotAllowedError(
            "No setting is locked for a round piece under a fixed head.", hint="Lock one, and choose a fixed head."
        )
    machine, setting, material = job.machine.to_core(), lock.setting(), material_of(job)
    bench = Bench(material, machine.rated_w, machine.source.wavelength_nm, machine.accel_mm_s2, job.thickness_mm)
    radius = float(_wall(job).diameter_mm(place.art.along_mm)) / 2
    flank = place.under_head.head
    aside = np.linspace(0, 0.85 * radius, _PLACES)
    told = BatchSetting(setting.power_pct / 100, setting.speed_mm_s, setting.interval_mm, setting.passes)
    pieces = draw_pieces(material, _PIECES, np.random.default_rng([practice.seed, 41]))
    return Ridge(aside, clean_beside(bench, told, pieces, radius, flank.focus_below_mm, aside))


def _artwork(placing: Placing) -> Artwork:
    if placing.artwork is None:
        raise NotAllowedError("No artwork is placed.", hint=_FIRST_ARTWORK)
    return placing.artwork


def _wall(job: Job) -> TrueWall:
    piece = job.piece()
    if not isinstance(piece, RoundPiece):
        raise NotAllowedError("This piece is flat.", hint="Touch it with the pointer instead.")
    return draw_wall([practice_of(job).seed], piece.diameter_mm, piece.narrow_mm, piece.height_mm)


def _device(device: TurningDevice) -> TrueDevice:
    return draw_device([device.pk], device.roller_mm if device.kind == "rollers" else 0.0)


def _lying(job: Job) -> Pose:
    piece, machine = flat_piece_of(job), job.machine
    size, bed = (piece.width_mm, piece.height_mm), (machine.bed_x_mm, machine.bed_y_mm)
    return draw_lying([practice_of(job).seed, 17], size, bed)


def _jig_pose(job: Job, kept: KeptJig) -> Pose:
    laid = kept.times_laid + (0 if kept.touched else 1)
    bed = job.machine.bed_x_mm, job.machine.bed_y_mm
    return draw_lying([practice_of(job).seed, kept.pk, laid], kept.asked().sheet_mm, bed)


def _lit(program: Streamed, base: ArtBase) -> Array:
    """The lit moves as a controller reads them from the file; lines of dots whole, which land at the same places."""
    return lit_ends(line for _, line in gcode_lines(program.for_time(), base.machine, "landing"))


def _told(points: Array) -> list[tuple[float, float]]:
    return [(float(x), float(y)) for x, y in points]
