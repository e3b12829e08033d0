"""What workers do, off the queue that lives in PostgreSQL."""

from procrastinate.contrib.django import app

from keencoat.jobs.grid.services.driving import run_burn


@app.task(queue="burns")
def burn(burn_id: int) -> None:
    """Drive the simulated laser through a grid."""
    run_burn(burn_id)
