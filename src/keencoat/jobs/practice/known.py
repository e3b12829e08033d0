"""What the simulation knows of a job."""

from keencoat.core.errors import NotAllowedError
from keencoat.jobs.models import Job, Practice


def practice_of(job: Job) -> Practice:
    """What the simulation knows of a job; raises NotAllowedError for a real one."""
    if not job.is_practice:
        raise NotAllowedError("This is a real job.", hint="Practise on the Practice page.")
    return job.practice
