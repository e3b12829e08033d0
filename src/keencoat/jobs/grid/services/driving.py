"""Driving a laser through a program: a worker's part."""

import queue
import time

from django.db import transaction
from django.utils import timezone

from keencoat.bench.laser.driver import PracticeLaser
from keencoat.core.ports import Laser, LaserStatus
from keencoat.core.states import BURN_MOVES, BurnState, move
from keencoat.jobs.grid.services.burn_program import BurnProgram, program_of
from keencoat.jobs.grid.services.burning import Streamed, end_burn
from keencoat.jobs.models import GridBurn

_AHEAD = 120
_LOOK_S = 0.1


def run_burn(burn_id: int) -> None:
    """Burn a queued grid on the simulated laser. The worker's part; does nothing for one that is not queued."""
    with transaction.atomic():
        burn = GridBurn.objects.select_for_update().get(pk=burn_id)
        if burn.state != BurnState.QUEUED:
            return
        burn.state = move(BURN_MOVES, BurnState(burn.state), BurnState.RUNNING)
        burn.beat_at = timezone.now()
        burn.save(update_fields=["state", "beat_at"])
    program = program_of(burn)
    with PracticeLaser(program.bed, burn.pace) as laser:
        ended = stream(laser, program, burn)
        burned = laser.burned
    end_burn(burn, ended, burned)


def stream(laser: Laser, program: BurnProgram, burn: GridBurn) -> Streamed:
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
        wanted = GridBurn.objects.filter(pk=burn.pk).values_list("wanted", flat=True).get()
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


def _note(burn: GridBurn, done: int, clock_s: float, held: bool, program: BurnProgram) -> None:
    now_at = next((str(item) for start, item in reversed(program.starts) if start <= done), "")
    GridBurn.objects.filter(pk=burn.pk).update(
        lines_done=done,
        clock_s=clock_s,
        now_at=now_at,
        beat_at=timezone.now(),
        state=BurnState.HELD if held else BurnState.RUNNING,
    )
