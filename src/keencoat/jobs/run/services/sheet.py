"""The run sheet of a job's newest locked setting."""

from dataclasses import replace
from datetime import datetime

from keencoat.core.coat import find_tool
from keencoat.core.errors import NotAllowedError
from keencoat.core.piece import Shape, make_piece
from keencoat.core.quantities import Range
from keencoat.core.runsheet import LockedForArt, RunFacts, RunSheet, build_run_sheet
from keencoat.core.substrate import find_process, find_substrate
from keencoat.jobs.coat.services.drying import course_of
from keencoat.jobs.models import Job, LockedSetting
from keencoat.shop.models import Membership, machine_of


def newest_lock(job: Job) -> LockedSetting:
    """The job's newest locked setting; raises NotAllowedError if there is none."""
    locked = job.locked.all()
    if not locked:
        raise NotAllowedError("No setting is locked yet.", hint="Choose and lock one in the Window chapter.")
    return locked[0]


def run_sheet_of(job: Job, member: Membership, at: datetime) -> RunSheet:
    """The run sheet, from the evidence as it was locked, in the member's units."""
    lock = newest_lock(job)
    kept = lock.evidence
    machine_facts = dict(kept["machine"])
    name = str(machine_facts.pop("name"))
    cells = sum(len(g["cells"]) for g in kept["grids"])
    facts = RunFacts(
        job=job.name,
        piece=make_piece(**(kept["piece"] | {"shape": Shape(kept["piece"]["shape"])})),
        pieces=job.pieces,
        substrate=find_substrate(kept["substrate"]),
        process=find_process(kept["process"]),
        machine_name=name,
        machine=machine_of(machine_facts),
        emission=job.machine.emission(),
        course=replace(course_of(job, at), coats=kept["coats"]),
        tool=find_tool(kept["tool"]),
        lot=", ".join(lot["code"] for lot in kept["lots"]),
        settings=tuple(
            LockedForArt(art, setting, Range(**kept["readings"][art]["clean"]))
            for art, setting in lock.by_art().items()
        ),
        evidence=f"{cells} cells on {', '.join(g['label'] for g in kept['grids'])}, version {lock.version}",
        speed_unit=member.speed_unit,
        interval_unit=member.interval_unit,
    )
    return build_run_sheet(facts)
