"""Burns whose worker is gone: told of, with what they marked, so that they can be carried on."""

import math
import time
from collections.abc import Callable
from datetime import datetime

from keencoat.bench.laser.controller import Burned, Controller
from keencoat.core.states import BurnState
from keencoat.jobs.grid.services.burn_program import program_of
from keencoat.jobs.grid.services.burning import end_burn
from keencoat.jobs.job.driving import LOST_AFTER, BurnProgram, Streamed
from keencoat.jobs.job.lost import Lost, mend_lost
from keencoat.jobs.models import GridBurn

_CHUNK = 300


def mend_burns(at: datetime, ask_again: Callable[..., object]) -> int:
    """End burns that nobody drives any more, with the lines that they marked; have queued ones asked for again whose
    task is gone. `ask_again` is called with `burn_id`. Returns how many were mended."""
    return mend_lost(Lost(GridBurn.objects.defer("moves"), LOST_AFTER, "burn_id", _tell_lost), at, ask_again)


def _tell_lost(burn: GridBurn) -> None:
    program = program_of(burn)
    marked = replay(program, burn.lines_done)
    words = f"What drove it is gone. At least {burn.lines_done} of {burn.lines} lines are burned"
    words += f", up to {burn.now_at}." if burn.now_at else "."
    end_burn(burn, Streamed(BurnState.FAILED, burn.lines_done, burn.clock_s, words), marked)


def replay(program: BurnProgram, done: int) -> list[Burned]:
    """What a program's first lines make the head do: the controller is as sure as the first time."""
    controller = Controller(program.bed, math.inf)
    heights = list(program.heights_mm)
    try:
        for start in range(0, done, _CHUNK):
            for line in program.lines[start : min(start + _CHUNK, done)]:
                controller.take(line)
            while controller.state.done < min(start + _CHUNK, done):
                if controller.state.word == "hold":
                    controller.height_mm = heights.pop(0) if heights else controller.height_mm
                    controller.resume()
                time.sleep(0.002)
        return list(controller.burned)
    finally:
        controller.close()
