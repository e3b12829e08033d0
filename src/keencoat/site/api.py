"""The API: every router in one place, described at /api/docs from local files."""

from ninja import Swagger
from ninja.renderers import JSONRenderer
from ninja.security import django_auth

from keencoat.jobs.archive.api import router as archive_router
from keencoat.jobs.artwork.api import router as artwork_router
from keencoat.jobs.artwork.packs_api import router as artwork_packs_router
from keencoat.jobs.artwork.pieces_api import router as artwork_pieces_router
from keencoat.jobs.batch.api import router as batch_router
from keencoat.jobs.batch.photos_api import router as batch_photos_router
from keencoat.jobs.batch.why_api import router as why_router
from keencoat.jobs.burns.api import router as burns_router
from keencoat.jobs.cards.api import router as cards_router
from keencoat.jobs.coat.api import router as coat_router
from keencoat.jobs.coat.proof_api import router as proof_router
from keencoat.jobs.compare.api import router as compare_router
from keencoat.jobs.cost.api import router as cost_router
from keencoat.jobs.grid.api import router as grid_router
from keencoat.jobs.job.api import router as jobs_router
from keencoat.jobs.job.bench_api import router as bench_router
from keencoat.jobs.job.room_taken_api import router as room_taken_router
from keencoat.jobs.placing.api import router as placing_router
from keencoat.jobs.placing.jig_api import router as jig_router
from keencoat.jobs.plan.api import router as plan_router
from keencoat.jobs.practice.api import router as practice_router
from keencoat.jobs.practice.placing_api import router as practice_placing_router
from keencoat.jobs.reading.api import router as reading_router
from keencoat.jobs.run.api import router as run_router
from keencoat.jobs.window.api import router as window_router
from keencoat.logbook.api import router as logbook_router
from keencoat.shop.api import router as shop_router
from keencoat.shop.eyewear_api import router as eyewear_router
from keencoat.shop.jigs_api import router as jigs_router
from keencoat.shop.rates_api import router as rates_router
from keencoat.shop.room_api import router as room_router
from keencoat.shop.session_api import router as session_router
from keencoat.shop.shelf_api import router as shelf_router
from keencoat.shop.spot_api import router as spot_router
from keencoat.shop.turning_api import router as turning_router
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
api.add_router("", turning_router)
api.add_router("", jigs_router)
api.add_router("", eyewear_router)
api.add_router("", rates_router)
api.add_router("", room_router)
api.add_router("", room_taken_router)
api.add_router("", bench_router)
api.add_router("", jobs_router)
api.add_router("", coat_router)
api.add_router("", proof_router)
api.add_router("", compare_router)
api.add_router("", grid_router)
api.add_router("", reading_router)
api.add_router("", practice_router)
api.add_router("", practice_placing_router)
api.add_router("", window_router)
api.add_router("", artwork_router)
api.add_router("", artwork_pieces_router)
api.add_router("", artwork_packs_router)
api.add_router("", placing_router)
api.add_router("", jig_router)
api.add_router("", batch_router)
api.add_router("", batch_photos_router)
api.add_router("", why_router)
api.add_router("", run_router)
api.add_router("", cost_router)
api.add_router("", plan_router)
api.add_router("", burns_router)
api.add_router("", cards_router)
api.add_router("", archive_router)
api.add_router("", logbook_router)
