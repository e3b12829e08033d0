"""How a simulated phone would photograph a job's coat."""

from keencoat.bench.coatshots import Lamp, ShotSetup
from keencoat.core.coat.evenness import LightWay
from keencoat.core.vision import EdgeKind
from keencoat.jobs.coat.services.proof import face_of, way_of
from keencoat.jobs.models import Job


def shot_setup(job: Job) -> ShotSetup:
    """Lamp, face and film of a photo of this job's coat."""
    way = way_of(job)
    face = face_of(job, way)
    through = way is LightWay.THROUGH
    lamp = Lamp.INSIDE if through and face.frame is EdgeKind.SIDE else Lamp.BEHIND if through else Lamp.FRONT
    coat = "black" if through or job.recipe().colour == "black" else "white"
    # Thin enough for a photo to tell: a coat that hides everything teaches nothing.
    thickest_um = 34.0 if through else 8.0 if coat == "black" else 24.0
    film_um = job.recipe().dry_um_per_coat.value * job.coats
    return ShotSetup(
        lamp,
        face.width_mm,
        face.height_mm,
        face.frame is EdgeKind.RIM,
        coat=coat,
        mean_film_um=min(film_um, thickest_um),
    )
