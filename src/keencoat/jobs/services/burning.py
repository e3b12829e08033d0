"""Driving a laser through a grid: asked for by a person, run by a worker, watched and stopped from anywhere."""

import io
import queue
import re
import time
from dataclasses import dataclass
from datetime import datetime, timedelta

import numpy as np
from django.db import transaction
from django.utils import timezone

from keencoat.bench.laser.controller import Bed, Burned, Controller
from keencoat.bench.laser.link import SocketLaser
from keencoat.bench.laser.motion import Move
from keencoat.bench.laser.server import LaserServer
from keencoat.core.errors import BadValueError, NotAllowedError, require_within
from keencoat.core.ports import Laser
from keencoat.core.states import BURN_MOVES, BurnState, move
from keencoat.core.toolpath.raster import Task, motion_extent
from keencoat.jobs.models import Cell, GridBurn, TestGrid
from keencoat.jobs.services.grid_files import gcode_of
from keencoat.jobs.services.grids import lock_grid, mark_burned, require_burnable, tasks_of
from keencoat.shop.access import find_one, within_reach
from keencoat.shop.models import Workshop, machine_of

USUAL_WALL_S = 20.0
"""A practice burn is run as fast as makes it last about so long on the wall's clock."""

LOST_AFTER = timedelta(seconds=20)
_AHEAD = 120
_LOOK_S = 0.1
_CELL = re.compile(r"^\(cell ([A-Z]\d+):")


@dataclass(frozen=True)
class Streamed:
    """How a program ended: the state, lines done, the machine's clock, and what went wrong, if anything."""

    state: BurnState
    done: int
    clock_s: float
    trouble: str = ""


@transaction.atomic
def ask_burn(workshop: Workshop, grid_id: int, pace: float | None, at: datetime) -> GridBurn:
    """Ask that a practice grid's next spare is burned; a worker does it. `pace` is seconds of the machine in one of
    the wall. Raises NotAllowedError for a real job (no laser is connected), and if it burns already."""
    grid = lock_grid(workshop, grid_id)
    if not grid.job.is_practice:
        raise NotAllowedError(
            "No laser is connected to this workshop.", hint="Burn it from its file, then say that it is burned."
        )
    require_burnable(grid, at)
    burns = list(grid.burns.all())
    if any(b.ended_at is None for b in burns):
        raise NotAllowedError("This grid is burning already.", field="state", hint="Wait, or stop it.")
    done = {b.spare for b in burns if b.state == BurnState.DONE}
    spare = next(n for n in range(1, grid.spares + 1) if n not in done)
    wanted = pace if pace is not None else max(1.0, grid.burn_seconds / grid.spares / USUAL_WALL_S)
    practice = grid.job.practice
    practice.pieces_spent += 1
    practice.save(update_fields=["pieces_spent"])
    return GridBurn.objects.create(
        grid=grid, spare=spare, piece=practice.pieces_spent, state=BurnState.QUEUED, asked_at=at,
        pace=require_within(wanted, 1, 2000, "pace"), lines=len(gcode_of(grid, spare).splitlines()),
    )  # fmt: skip


@transaction.atomic
def tell_burn(workshop: Workshop, burn_id: int, word: str) -> GridBurn:
    """Ask a burn to pause, resume or stop; its worker obeys within a tenth of a second."""
    burn = find_burn(workshop, burn_id)
    if word not in ("pause", "resume", "stop"):
        raise BadValueError(f"“{word[:20]}” is no word for a laser.", field="word", hint="Known: pause, resume, stop.")
    if BurnState(burn.state).over:
        raise NotAllowedError(f"This burn is {burn.state}.", field="word", hint="There is nothing left to do.")
    GridBurn.objects.filter(pk=burn.pk).update(wanted=word)
    return find_burn(workshop, burn_id)


def find_burn(workshop: Workshop, burn_id: int) -> GridBurn:
    """The burn of that id in this workshop; raises MissingError."""
    rows = GridBurn.objects.filter(within_reach(workshop, "grid__job__workshop")).select_related("grid__job")
    return find_one(rows.defer("moves"), "burn", pk=burn_id)


def watch_burn(workshop: Workshop, burn_id: int, at: datetime) -> GridBurn:
    """A burn as it stands; one whose worker has gone silent counts as failed."""
    burn = find_burn(workshop, burn_id)
    running = burn.state in (BurnState.RUNNING, BurnState.HELD)
    if running and burn.beat_at is not None and at - burn.beat_at > LOST_AFTER:
        _end(burn, Streamed(BurnState.FAILED, burn.lines_done, burn.clock_s, "The worker that drove it is gone."), [])
        return find_burn(workshop, burn_id)
    return burn


def run_burn(burn_id: int) -> None:
    """Burn a queued grid on the simulated laser. The worker's part; does nothing for one that is not queued."""
    with transaction.atomic():
        burn = GridBurn.objects.select_for_update().get(pk=burn_id)
        if burn.state != BurnState.QUEUED:
            return
        burn.state = move(BURN_MOVES, BurnState(burn.state), BurnState.RUNNING)
        burn.beat_at = timezone.now()
        burn.save(update_fields=["state", "beat_at"])
    grid = TestGrid.objects.select_related("job").get(pk=burn.grid_id)
    machine, tasks = machine_of(grid.machine_facts), tasks_of(grid, burn.spare)
    left, low, _, _ = motion_extent(tasks)
    bed = Bed(
        machine.bed_x_mm, machine.bed_y_mm, max(0.0, -left), max(0.0, -low), machine.max_speed_mm_s, machine.accel_mm_s2
    )
    controller = Controller(bed, burn.pace)
    server = LaserServer(controller)
    try:
        laser = SocketLaser(server.address)
        ended = stream(laser, gcode_of(grid, burn.spare).splitlines(), _heights(tasks), burn, controller)
        laser.close()
    finally:
        server.close()
    _end(burn, ended, controller.burned)


def _heights(tasks: list[Task]) -> list[float]:
    """Heights that the hand sets at each halt of the program."""
    heights, now = [], 0.0
    for task in tasks:
        if task.focus_mm != now:
            now = task.focus_mm
            heights.append(now)
    return heights


def stream(
    laser: Laser, lines: list[str], heights_mm: list[float], burn: GridBurn, hand: Controller | None = None
) -> Streamed:
    """Send a program line by line, never too far ahead, until it is done, stopped or refused. `hand` turns the
    simulated head's height at halts; pauses asked for in the row hold it."""
    sent = answered = 0
    held = False
    heights = list(heights_mm)
    codes = _codes(lines)
    looked = 0.0
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
            laser.stop()
            status = laser.status()
            return Streamed(
                BurnState.FAILED, status.done, status.clock_s,
                f"Line {answered + 1} was refused: {answer.removeprefix('error ')} – “{lines[answered][:60]}”.",
            )  # fmt: skip
        if time.monotonic() - looked < _LOOK_S:
            continue
        looked = time.monotonic()
        status = laser.status()
        wanted = GridBurn.objects.filter(pk=burn.pk).values_list("wanted", flat=True).get()
        if wanted == "stop":
            laser.stop()
            status = laser.status()
            return Streamed(BurnState.STOPPED, status.done, status.clock_s)
        if wanted == "pause" and not held:
            laser.pause()
            held = True
        elif wanted == "resume" and held:
            laser.resume()
            held = False
        elif status.state == "hold" and not held:
            # The program halts for the hand that sets the head's height.
            if heights and hand is not None:
                hand.height_mm = heights.pop(0)
            laser.resume()
        _note(burn, status.done, status.clock_s, held, codes)
        if status.done >= len(lines):
            return Streamed(BurnState.DONE, status.done, status.clock_s)


def _answer(laser: Laser, timeout_s: float) -> str | None:
    if timeout_s == 0:
        return None
    try:
        return laser.answer(timeout_s)
    except queue.Empty:
        return None


def _codes(lines: list[str]) -> list[tuple[int, str]]:
    """Where each cell begins, as (number of lines before it, code)."""
    found = [(n, match[1]) for n, line in enumerate(lines) if (match := _CELL.match(line))]
    return found or [(0, "")]


def _note(burn: GridBurn, done: int, clock_s: float, held: bool, codes: list[tuple[int, str]]) -> None:
    now_at = next((f"cell {code}" for start, code in reversed(codes) if start <= done), "frame and codes")
    GridBurn.objects.filter(pk=burn.pk).update(
        lines_done=done, clock_s=clock_s, now_at=now_at, beat_at=timezone.now(),
        state=BurnState.HELD if held else BurnState.RUNNING,
    )  # fmt: skip


@transaction.atomic
def _end(burn: GridBurn, ended: Streamed, burned: list[Burned]) -> None:
    """Write down how a burn ended; the grid counts as burned once its last spare is through, or one was broken off."""
    burn = GridBurn.objects.select_for_update().get(pk=burn.pk)
    if BurnState(burn.state).over:
        return
    grid = lock_grid(burn.grid.job.workshop, burn.grid_id)
    burn.state = move(BURN_MOVES, BurnState(burn.state), ended.state)
    burn.lines_done, burn.clock_s, burn.trouble = ended.done, ended.clock_s, ended.trouble
    burn.ended_at = timezone.now()
    burn.moves = pack(burned)
    burn.save()
    if ended.state is BurnState.FAILED and not any(b.move.power > 0 for b in burned):
        return
    if ended.state is not BurnState.DONE:
        _mark_partial(grid, burn, gcode_of(grid, burn.spare).splitlines(), ended.done)
    elif burn.spare < grid.spares:
        return
    mark_burned(lock_grid(grid.job.workshop, grid.pk), burn.ended_at)


def _mark_partial(grid: TestGrid, burn: GridBurn, lines: list[str], done: int) -> None:
    """Say of each cell whether it was burned: those done with before the break, the one under way, the rest."""
    starts = _codes(lines)
    ends = [start for start, _ in starts[1:]] + [len(lines)]
    state = {}
    for (start, code), end in zip(starts, ends, strict=True):
        state[code] = Cell.Burned.FULL if done >= end else Cell.Burned.PART if done > start else Cell.Burned.NONE
    cells = list(grid.cells.all())
    for cell in cells:
        if cell.spare == burn.spare:
            cell.burned = state[cell.code]
        elif cell.spare > burn.spare:
            cell.burned = Cell.Burned.NONE
    Cell.objects.bulk_update(cells, ["burned"])


def pack(burned: list[Burned]) -> bytes:
    """What the head did, as bytes: one row of figures a move."""
    rows = [
        (b.move.x0, b.move.y0, b.move.x1, b.move.y1, b.move.speed_mm_s, b.move.power, b.move.rapid, b.start_s,
         b.seconds, b.height_mm)
        for b in burned
    ]  # fmt: skip
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
