"""A machine's beam, and how far off its focus a job's setting holds."""

from keencoat.core.placing import Beam, HeightRoom, height_room, usual_beam
from keencoat.core.window import MeasuredHeight, beam_of_ladder
from keencoat.jobs.belief import fit_of
from keencoat.jobs.models import Job
from keencoat.shop.models import Machine, SpotKind


def beam_of(machine: Machine) -> Beam:
    """A machine's beam: by its newest focus ladder, or as such machines have it."""
    test = next((t for t in machine.spot_tests.all() if t.kind == SpotKind.LADDER), None)
    if test is None:
        return usual_beam(machine.to_core())
    waist_mm, rayleigh_mm = beam_of_ladder([MeasuredHeight(**p) for p in test.points])
    return Beam(waist_mm, rayleigh_mm, True)


def room_of(job: Job, beam: Beam) -> HeightRoom | None:
    """How far the head may be off before the locked setting no longer keeps the wanted share; None before a lock."""
    lock = job.locked.first()
    if lock is None:
        return None
    return height_room(fit_of(job), lock.setting(), job.machine.to_core(), beam, job.workshop.wanted_share)
