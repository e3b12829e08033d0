"""What the Coat endpoints and the Bench take and give."""

from datetime import datetime

from pydantic import Field

from keencoat.core.coat import Heat, Motion, Risk
from keencoat.jobs.job.schemas import DryingOut, JobOut
from keencoat.shop.fields import Asked, Key, Money, Note, Shown
from keencoat.shop.room_api import RoomOut


class PartOut(Shown):
    """One ingredient of a mix."""

    ingredient: str
    name: str
    parts: float
    mass_parts: float
    ml: float
    g: float
    spoons: str
    cost: Money
    is_powder: bool


class MixOut(Shown):
    """What to mix."""

    total_ml: float
    low_ml: float
    high_ml: float
    total_g: float
    per_piece_coat_ml: float
    per_piece_coat_g: float
    parts: list[PartOut]
    wet_film_um: float
    dry_film_um: float
    gain_g: float
    cost: Money
    pieces_per_pack: int
    pack_of: str
    pieces_left: int | None
    jars: float


class StampOut(Shown):
    """A coat that was put on."""

    id: int
    number: int
    first: int
    last: int
    at: datetime
    heat: Heat
    lot: str
    seen_dry_at: datetime | None


class CoatStepOut(Shown):
    """One coat: its direction, its waits in the reference air, and the stamps of it so far."""

    number: int
    direction_deg: int
    wait_min: float
    wait_low_min: float
    wait_high_min: float
    then_burn: bool
    stamps: list[StampOut]


class LotOut(Shown):
    """A mixed lot."""

    id: int
    code: str
    mixed_at: datetime
    amounts_ml: dict[str, float]
    amounts_g: dict[str, float]
    note: str


class CautionOut(Shown):
    """One thing to mind, at its step: mix, apply or dry."""

    code: str
    step: str
    text: str


class ToolOut(Shown):
    """The tool and how to use it."""

    key: str
    label: str
    motion: Motion
    unevenness: Risk
    transfer: float
    pattern: str
    looks_like: str
    goes_wrong: list[str]


class HeatOut(Shown):
    """A heat that may help this coat to dry."""

    key: Heat
    label: str


class CorrectionOut(Shown):
    """How this shop differs from the model for this coat."""

    factor: float
    low: float
    high: float
    records: int


class TurnOut(Shown):
    """The hands put a coat on pieces of a job."""

    job_id: int
    job: str
    first: int
    last: int
    number: int
    start: datetime
    end: datetime


class CoatPlan(Shown):
    """The Coat chapter: what to mix, how to put it on, where it stands, what to mind."""

    put_on: bool
    mixed: bool
    tool: ToolOut
    why: str
    colour: str
    carrier: str
    removal: str
    touch_safe: bool
    cautions: list[CautionOut]
    coated_cm2: float
    pieces: int
    spares: int
    film_um: float
    mix: MixOut | None
    mix_source: str
    times_source: str
    steps: list[CoatStepOut]
    heats: list[HeatOut]
    lots: list[LotOut]
    drying: DryingOut
    drying_factor: float
    correction: CorrectionOut
    room: RoomOut
    turns: list[TurnOut]
    currency: str


class LotIn(Asked):
    """A mixed lot."""

    note: Note = ""


class StampIn(Asked):
    """Coat `number` is on pieces `first` to `last` (all, if left out), since `at` or now."""

    number: int
    first: int | None = None
    last: int | None = None
    heat: Heat = Heat.NONE
    at: datetime | None = None


class LookIn(Asked):
    """Found dry, or still wet, at `at` or now."""

    dry: bool
    at: datetime | None = None


class OwnLogOut(Shown):
    """What the workshop's own log says of a coat in this process."""

    pieces: int
    cells: int
    clean: int
    photos: int
    photos_good: int


class OfferOut(Shown):
    """A coat that works, with what it asks for this batch."""

    coat: str
    label: str
    tool: str
    tool_label: str
    coats: int
    absorbs: str
    why: str
    hands_min: float
    ready_h: float
    cost: Money
    unevenness: Risk
    removal: str
    hazards: list[str]
    touch_safe: bool
    log: OwnLogOut


class RejectionOut(Shown):
    """What won't work, and why."""

    label: str
    reason: str
    source: str


class SchoolOut(Shown):
    """One school, with what it asks for this batch, and what taking it up would choose."""

    label: str
    says: str
    price: str
    risk: str
    coat: str
    tool: str
    coats: int
    wait_min: float
    hands_min: float
    ready_h: float
    cost: Money


class DisagreementOut(Shown):
    """A question that makers answer differently."""

    key: str
    question: str
    schools: list[SchoolOut]


class OffersOut(Shown):
    """The Choose step."""

    job_version: int
    offers: list[OfferOut]
    rejections: list[RejectionOut]
    disagreements: list[DisagreementOut]
    currency: str


class CoatChoiceIn(Asked):
    """The coat to take, and the job's version it was read at."""

    version: int
    coat: Key
    tool: Key = ""
    coats: int = Field(le=50)
    film_um: float | None = None
    last_wait_min: float | None = None


class BenchOut(Shown):
    """The Bench: what is next, what dries, what waits, the room, and the plan for the hands."""

    now: datetime
    jobs: list[JobOut]
    more: int
    room: RoomOut
    turns: list[TurnOut]
