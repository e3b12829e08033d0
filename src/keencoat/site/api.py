"""The API: every router in one place, described at /api/docs from local files."""

from ninja import Swagger
from ninja.renderers import JSONRenderer
from ninja.security import django_auth

from keencoat.jobs.api import (
    bench,
    coats,
    experiments,
    grids,
    jobs,
    practice,
    proof,
    readings,
    room_taken,
    runs,
    window,
)
from keencoat.logbook.api import router as logbook_router
from keencoat.shop.api import router as shop_router
from keencoat.shop.room_api import router as room_router
from keencoat.shop.session_api import router as session_router
from keencoat.shop.shelf_api import router as shelf_router
from keencoat.shop.spot_api import router as spot_router
from keencoat.site.described import DescribedAPI
from keencoat.site.problems import handle_problems


class StrictRenderer(JSONRenderer):
    """JSON as RFC 8259 has it: no NaN, no Infinity."""

    json_dumps_params = {"allow_nan": False}


api = DescribedAPI(
    title="Keen Coat",
    version="1",
    description="From a blank coated piece to a locked, repeatable setting. SI inside: mm, s, W, J, µm.",
    auth=django_auth,
    renderer=StrictRenderer(),
    docs=Swagger(settings={"persistAuthorization": True}),
    urls_namespace="api",
)
handle_problems(api)
api.add_router("", session_router)
api.add_router("", shop_router)
api.add_router("", shelf_router)
api.add_router("", spot_router)
api.add_router("", room_router)
api.add_router("", room_taken.router)
api.add_router("", bench.router)
api.add_router("", jobs.router)
api.add_router("", coats.router)
api.add_router("", proof.router)
api.add_router("", experiments.router)
api.add_router("", grids.router)
api.add_router("", readings.router)
api.add_router("", practice.router)
api.add_router("", window.router)
api.add_router("", runs.router)
api.add_router("", logbook_router)
