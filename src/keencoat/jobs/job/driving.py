"""Driving a laser through a program: a worker's part, whatever is burned."""

import io
import queue
import time
from collections.abc import Iterable, Iterator
from dataclasses import dataclass
from datetime import timedelta

import numpy as np
from django.db.models import QuerySet
from django.utils import timezone

from keencoat.bench.laser.controller import Bed, Burned
from keencoat.bench.laser.motion import Move
from keencoat.core.errors import BadValueError, NotAllowedError
from keencoat.core.ports import Laser, LaserStatus
from keencoat.core.quantities import Machine
from keencoat.core.states import BURN_MOVES, BurnState, move
from keencoat.core.toolpath import Item
from keencoat.jobs.job.laser_row import LaserRow

USUAL_WALL_S = 20.0
"""A practice burn is run as fast as makes it last about so long on the wall's clock."""
LOST_AFTER = timedelta(seconds=7)
"""A worker writes down how far it is ten times a second."""
_AHEAD = 120
_LOOK_S = 0.1


@dataclass(frozen=True)
class Streamed:
    """How a program ended: the state, lines done, the machine's clock, and what went wrong, if anything."""

    state: BurnState
    done: int
    clock_s: float
    trouble: str = ""


@dataclass(frozen=True)
class BurnProgram:
    """What is sent for a burn: the lines, where in them each item begins (number of lines before it), the heights that
    the hand sets at its halts, mm, and the bed it runs on."""

    lines: tuple[str, ...]
    starts: tuple[tuple[int, Item], ...]
    heights_mm: tuple[float, ...]
    bed: Bed


def bed_under(machine: Machine, extent_mm: tuple[float, float, float, float]) -> Bed:
    """The machine's bed, with the piece's zero where the program just fits."""
    left, low, _, _ = extent_mm
    return Bed(
        machine.bed_x_mm, machine.bed_y_mm, max(0.0, -left), max(0.0, -low), machine.max_speed_mm_s, machine.accel_mm_s2
    )


def say_to(row: LaserRow, word: str) -> None:
    """Ask a burn to pause, resume or stop; its worker obeys within a tenth of a second."""
    if word not in ("pause", "resume", "stop"):
        raise BadValueError(f"“{word[:20]}” is no word for a laser.", field="word", hint="Known: pause, resume, stop.")
    if BurnState(row.state).over:
        raise NotAllowedError(f"This burn is {row.state}.", field="word", hint="There is nothing left to do.")
    rows_of(row).filter(pk=row.pk).update(wanted=word)


def rows_of(row: LaserRow) -> QuerySet[LaserRow]:
    """All burns of its kind."""
    return type(row)._default_manager.all()


def begin(row: LaserRow) -> None:
    """Say that a queued burn is under way."""
    row.state = move(BURN_MOVES, BurnState(row.state), BurnState.RUNNING)
    row.beat_at = timezone.now()
    row.save(update_fields=["state", "beat_at"])


def stream(laser: Laser, program: BurnProgram, burn: LaserRow) -> Streamed:
    """Send a program line by line, never too far ahead, until it is done, stopped or refused. At halts the head's
    height is set; pauses asked for in the row hold it."""
    sent = answered = 0
    held, looked = False, 0.0
    lines, heights = program.lines, list(program.heights_mm)
    while True:
        while sent < len(lines) and sent - answered < _AHEAD:
            laser.send(lines[sent])
            sent += 1
        answer = _answer(laser, _LOOK_S / 2 if answered < sent else 0)
        if answer is None and answered == sent:
            time.sleep(_LOOK_S / 2)
        elif answer == "ok":
            answered += 1
        elif answer is not None:
            why = f"Line {answered + 1} was refused: {answer.removeprefix('error ')} – “{lines[answered][:60]}”."
            return _cut_off(laser, BurnState.FAILED, why)
        if time.monotonic() - looked < _LOOK_S:
            continue
        looked = time.monotonic()
        status = laser.status()
        wanted = rows_of(burn).filter(pk=burn.pk).values_list("wanted", flat=True).get()
        if wanted == "stop":
            return _cut_off(laser, BurnState.STOPPED)
        held = _hold_or_let_go(laser, wanted, held, status, heights)
        _note(burn, status.done, status.clock_s, held, program)
        if status.done >= len(lines):
            return Streamed(BurnState.DONE, status.done, status.clock_s)


def _cut_off(laser: Laser, state: BurnState, why: str = "") -> Streamed:
    laser.stop()
    status = laser.status()
    return Streamed(state, status.done, status.clock_s, why)


def _hold_or_let_go(laser: Laser, wanted: str, held: bool, status: LaserStatus, heights: list[float]) -> bool:
    """Do what was asked for in the row, or set the height that a halting program waits for; whether it is held now."""
    if wanted == "pause" and not held:
        laser.pause()
        return True
    if wanted == "resume" and held:
        laser.resume()
        return False
    if status.state == "hold" and not held:
        if heights:
            laser.set_height(heights.pop(0))
        laser.resume()
    return held


def _answer(laser: Laser, timeout_s: float) -> str | None:
    if timeout_s == 0:
        return None
    try:
        return laser.answer(timeout_s)
    except queue.Empty:
        return None


def _note(burn: LaserRow, done: int, clock_s: float, held: bool, program: BurnProgram) -> None:
    now_at = next((str(item) for start, item in reversed(program.starts) if start <= done), "")
    rows_of(burn).filter(pk=burn.pk).update(
        lines_done=done,
        clock_s=clock_s,
        now_at=now_at,
        beat_at=timezone.now(),
        state=BurnState.HELD if held else BurnState.RUNNING,
    )


def starts_of(items: Iterable[Item | None]) -> Iterator[tuple[int, Item]]:
    now = None
    for n, item in enumerate(items):
        if item is not None and item != now:
            yield n, item
            now = item


def pack(burned: list[Burned]) -> bytes:
    """What the head did, as bytes: one row of figures a move."""
    rows = [
        (
            b.move.x0,
            b.move.y0,
            b.move.x1,
            b.move.y1,
            b.move.speed_mm_s,
            b.move.power,
            b.move.rapid,
            b.start_s,
            b.seconds,
            b.height_mm,
        )
        for b in burned
    ]
    out = io.BytesIO()
    np.savez_compressed(out, moves=np.array(rows, dtype=np.float64).reshape(-1, 10))
    return out.getvalue()


def unpack(data: bytes) -> list[Burned]:
    """The moves back from `pack`."""
    rows = np.load(io.BytesIO(data), allow_pickle=False)["moves"]
    return [
        Burned(Move(x0, y0, x1, y1, speed, power, bool(rapid)), start, seconds, height)
        for x0, y0, x1, y1, speed, power, rapid, start, seconds, height in rows.tolist()
    ]
