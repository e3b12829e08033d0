"""The open door: plan and fit without a job."""

from django.http import HttpRequest
from ninja import Router
from ninja.throttling import AnonRateThrottle

from keencoat.core.window import answer
from keencoat.jobs.plan.schemas import PlanIn, PlanOut, show_answer
from keencoat.shop.aside import at_the_door
from keencoat.shop.fields import asks_only

router = Router(tags=["plan"])


@router.post("/plan", response=PlanOut, auth=None, tags=["plan"], throttle=AnonRateThrottle("120/m"), **asks_only())
def plan(request: HttpRequest, payload: PlanIn) -> PlanOut:
    """The open door: plan and fit without a job. Stateless, and the same for the same question.

    Say what is known; the answer is `next_cells` to burn on one fresh piece, a `setting`, or `none` with what would
    open the window. Send the rated cells back in `history` and ask again.
    """
    return show_answer(at_the_door(answer, payload.question()))
