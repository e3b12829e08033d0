"""Burns whose worker is gone: told of, with what they marked, so that they can be carried on."""

import logging
import math
import time
from collections.abc import Callable
from datetime import datetime

from django.db import transaction
from procrastinate.contrib.django.models import ProcrastinateJob

from keencoat.bench.laser.controller import Burned, Controller
from keencoat.core.errors import KeenCoatError
from keencoat.core.states import BurnState
from keencoat.jobs.grid.services.burn_program import program_of
from keencoat.jobs.grid.services.burning import end_burn
from keencoat.jobs.job.driving import LOST_AFTER, BurnProgram, Streamed
from keencoat.jobs.models import GridBurn

_CHUNK = 300
_LOG = logging.getLogger(__name__)


def mend_burns(at: datetime, ask_again: Callable[..., object]) -> int:
    """End burns that nobody drives any more, with the lines that they marked; have queued ones asked for again whose
    task is gone. `ask_again` is called with `burn_id`. Returns how many were mended."""
    silent = GridBurn.objects.filter(state__in=[BurnState.RUNNING, BurnState.HELD], beat_at__lt=at - LOST_AFTER)
    mended = 0
    for burn in silent.defer("moves"):
        try:
            _tell_lost(burn)
        except KeenCoatError as error:
            # One odd burn must not keep the others from being told of.
            _LOG.error("Burn %s cannot be ended: %s", burn.pk, error)
            continue
        mended += 1
    for burn in GridBurn.objects.filter(state=BurnState.QUEUED, asked_at__lt=at - LOST_AFTER).defer("moves"):
        with transaction.atomic():
            waits = ProcrastinateJob.objects.filter(args__burn_id=burn.pk, status="todo").exists()
            if not waits:
                ask_again(burn_id=burn.pk)
                mended += 1
    return mended


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
