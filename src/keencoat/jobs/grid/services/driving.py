"""Driving a laser through a grid: a worker's part."""

from django.db import transaction

from keencoat.bench.laser.driver import PracticeLaser
from keencoat.core.states import BurnState
from keencoat.jobs.grid.services.burn_program import program_of
from keencoat.jobs.grid.services.burning import end_burn
from keencoat.jobs.job.driving import begin, stream
from keencoat.jobs.models import GridBurn


def run_burn(burn_id: int) -> None:
    """Burn a queued grid on the simulated laser. The worker's part; does nothing for one that is not queued."""
    with transaction.atomic():
        burn = GridBurn.objects.select_for_update().get(pk=burn_id)
        if burn.state != BurnState.QUEUED:
            return
        begin(burn)
    program = program_of(burn)
    with PracticeLaser(program.bed, burn.pace) as laser:
        ended = stream(laser, program, burn)
        burned = laser.burned
    end_burn(burn, ended, burned)
