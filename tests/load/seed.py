"""Workshops for the load: run with Django's settings; prints one session cookie a user, and what each may ask for."""

import json
import sys
from datetime import timedelta
from importlib import import_module

import django
from django.conf import settings

django.setup()

from django.contrib.auth import BACKEND_SESSION_KEY, HASH_SESSION_KEY, SESSION_KEY, get_user_model  # noqa: E402
from django.utils import timezone  # noqa: E402

from keencoat.core.grid.formats.table import CellRating  # noqa: E402
from keencoat.core.rating import Rating  # noqa: E402
from keencoat.jobs.coat.services.putting_on import put_coat_on  # noqa: E402
from keencoat.jobs.grid.services.drawing import GridWish, burn_grid, draw_grid, find_grid  # noqa: E402
from keencoat.jobs.job.services import create_job  # noqa: E402
from keencoat.jobs.models import GridKind  # noqa: E402
from keencoat.jobs.reading.services.ratings import rate_cell  # noqa: E402
from keencoat.shop.models import Machine, Membership, Workshop  # noqa: E402

BLUE = {
    "source": "blue", "rated_w": 12.0, "spot_mm": 0.09, "min_speed_mm_s": 4.0, "max_speed_mm_s": 300.0,
    "min_power_pct": 2.0, "accel_mm_s2": 3000.0, "bed_x_mm": 400.0, "bed_y_mm": 380.0,
}  # fmt: skip
PIECE = {
    "shape": "rectangle", "width_mm": 100.0, "height_mm": 80.0, "thickness_mm": 4.0, "substrate": "soda_lime_glass",
    "process": "frost", "coat": "tempera_brushed", "coats": 2, "pieces": 24, "margin_mm": 3.0, "spares": 2,
    "interval_mm": 0.1, "tool": "",
}  # fmt: skip


def seed(workshops, users_each, jobs_each):
    """Each workshop has jobs in all stages: blank, coated, burned, and a third of them rated."""
    now, people = timezone.now(), []
    for n in range(workshops):
        shop = Workshop.objects.create(name=f"Glasshouse {n}", simulated_sensor=True)
        machine = Machine.objects.create(workshop=shop, name="Blue twelve", **BLUE)
        jobs = [_job(shop, machine, f"Bed labels {k}", k, n, now) for k in range(jobs_each)]
        for k in range(users_each):
            user = get_user_model().objects.create(username=f"gardener-{n}-{k}")
            Membership.objects.create(user=user, workshop=shop, owner=k == 0)
            people.append({"cookie": _session(user), "jobs": jobs, "machine": machine.pk, "mine": jobs[k::users_each]})
    return people


def _job(shop, machine, name, k, n, now):
    job = create_job(shop, PIECE | {"name": name, "machine_id": machine.pk}, now - timedelta(days=3))
    if k % 4 == 0:
        return {"job": job.pk, "grid": None, "rated": False}
    for number in (1, 2):
        put_coat_on(shop, job.pk, number, now - timedelta(days=2, hours=-number))
    grid = draw_grid(shop, job.pk, GridWish(GridKind.CROSSED, 16, 0.1, 1), now - timedelta(days=1))
    burn_grid(shop, grid.pk, now - timedelta(hours=20))
    if k % 4 == 1:
        return {"job": job.pk, "grid": grid.pk, "rated": False}
    for cell in find_grid(shop, grid.pk).cells.all():
        energy = 12 * cell.power_pct / 100 / (cell.speed_mm_s * cell.interval_mm) / (90 / cell.speed_mm_s) ** 0.5
        share = energy / (1 + 0.02 * (n + k))
        rating = Rating.FAINT if share < 1 else Rating.HARSH if share > 4 else Rating.CLEAN
        rate_cell(shop, grid.pk, CellRating(cell.code, rating), cell.version, now - timedelta(hours=18))
    return {"job": job.pk, "grid": grid.pk, "rated": True}


def _session(user):
    session = import_module(settings.SESSION_ENGINE).SessionStore()
    session[SESSION_KEY] = str(user.pk)
    session[BACKEND_SESSION_KEY] = settings.AUTHENTICATION_BACKENDS[-1]
    session[HASH_SESSION_KEY] = user.get_session_auth_hash()
    session.save()
    return session.session_key


if __name__ == "__main__":
    print(json.dumps(seed(*(int(a) for a in sys.argv[1:4]))))
