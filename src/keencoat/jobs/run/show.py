"""From stored runs to what the API gives."""

from dataclasses import asdict

from keencoat.jobs.models import RunRecord
from keencoat.jobs.run.schemas import RunOut


def show_run(run: RunRecord) -> RunOut:
    """A run."""
    return RunOut(
        id=run.pk,
        at=run.at,
        lock_version=run.lock_version,
        **asdict(run.setting()),
        machine=run.machine_name,
        lot=run.lot.code if run.lot else "",
        faint=run.faint_pieces,
        clean=run.clean_pieces,
        harsh=run.harsh_pieces,
        note=run.note,
    )
