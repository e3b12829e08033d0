"""What the endpoints of a batch take and give."""

from datetime import datetime

from pydantic import Field

from keencoat.core.batch import LaterTrial, TaskKind
from keencoat.core.rating import Rating
from keencoat.core.states import PieceState
from keencoat.jobs.artwork.schemas import LikenessOut
from keencoat.jobs.coat.proof_schemas import TroubleOut
from keencoat.jobs.job.schemas import FactOut, LaserOut, SettingOut
from keencoat.shop.fields import Asked, FindingOut, Key, Note, RangeOut, Shown


class GateItemOut(Shown):
    """A condition before the beam goes on: `ways` are answers of which one must be so, `asks` what must be told with
    the tick, `blocked` why it cannot be so yet and `until` when it may be."""

    code: str
    text: str
    why: str
    ways: list[str]
    asks: str
    blocked: str
    until: datetime | None


class GateOut(Shown):
    """What must be so before the beam goes on any piece of a job, and who comes before us."""

    gate: list[GateItemOut]
    deference: str


class BatchPlanOut(GateOut):
    """What a batch would be made of: the gate before it, the pieces that had no turn yet, how long one burns (s) and
    until it can be washed, how many turns, and in how many strips a fixed head burns a piece (0: as one)."""

    first: int
    last: int
    turns: int
    burn_s: float | None
    cool_s: list[float] | None
    strips: int


class BatchWishIn(Asked):
    """Pieces from first to last (null: those that had no turn yet), the artwork (null: it comes from elsewhere), the
    jig (null: one piece at a time)."""

    first: int | None = Field(None, ge=1, le=5000)
    last: int | None = Field(None, ge=1, le=5000)
    artwork_id: int | None = None
    jig_id: int | None = None


class GateTickIn(Asked):
    """A condition that is so: the way in which, or what was asked for; else nothing more."""

    code: Key
    answer: str = Field("", max_length=200)


class BatchIn(BatchWishIn):
    """A batch to begin, at which locked setting, with the gate gone through."""

    lock_version: int
    ticks: list[GateTickIn] = Field(max_length=40)


class GateTicksIn(Asked):
    """The gate, gone through again."""

    ticks: list[GateTickIn] = Field(max_length=40)


class MoveIn(Asked):
    """Pieces that were seen in one state, and the one that they come to."""

    ids: list[int] = Field(min_length=1, max_length=5000)
    seen: PieceState
    to: PieceState


class PieceLookIn(Asked):
    """What a washed piece came to; null where it was spoilt otherwise."""

    rating: Rating | None
    defects: list[Key] = Field(default_factory=list, max_length=30)
    note: str = Field("", max_length=300)
    version: int


class FinishIn(Asked):
    """A step of finishing by its name; whether it is done, and whether it was when it was last seen."""

    step: Note
    done: bool
    was: bool


class BatchRowOut(Shown):
    """A piece of a batch as it stands."""

    id: int
    number: int
    attempt: int
    turn: int
    pocket: int | None
    name: str
    state: PieceState
    since: datetime
    rating: Rating | None
    spoilt: bool
    defects: list[str]
    note: str
    version: int
    newest: bool = Field(description="whether nothing was burned anew in its place")
    laser: LaserOut | None


class BatchTaskOut(Shown):
    """Something to do with some pieces; `due_at`: when the burn should end, or when they should be cool enough."""

    kind: TaskKind
    ids: list[int]
    due_at: datetime | None


class FinishOut(Shown):
    """A step after the last look; `name` is what a tick calls it by."""

    name: str
    label: str
    agent: str
    text: str
    minutes: list[float]
    caution: str
    done: bool


class GoneThroughOut(Shown):
    """Who went through the gate, and when."""

    by: str
    at: datetime
    ticks: list[dict[str, str]]


class BatchShort(Shown):
    """A batch in short."""

    id: int
    number: int
    started_at: datetime
    closed_at: datetime | None
    lock_version: int
    pieces: int
    clean: int
    faint: int
    harsh: int
    spoilt: int
    lost: int


class BatchOut(BatchShort):
    """A batch with all its pieces, and what is to do now (the one thing first)."""

    setting: SettingOut
    machine: str
    artwork_id: int | None
    artwork: str
    jig: str
    gate: list[GoneThroughOut]
    gate_holds: bool
    pace: float
    burn_s: float | None
    cool_s: list[float] | None
    strips: int
    expected: RangeOut
    ticks: list[str] = Field(description="keys of what can be seen, felt and heard of a piece")
    rows: list[BatchRowOut]
    tasks: list[BatchTaskOut]
    findings: list[FindingOut]
    finishes: list[FinishOut]
    refused_finishes: list[str]
    removal: str = Field(description="how the coat comes off")
    now: datetime


class LaterLookIn(Asked):
    """A later look: after which trial (with how many washes of a dishwasher), whether the mark held."""

    trial: LaterTrial
    washes: int | None = None
    held: bool
    defects: list[Key] = Field(default_factory=list, max_length=30)
    note: str = Field("", max_length=300)


class LaterLookOut(Shown):
    """A later look at a piece."""

    at: datetime
    by: str
    trial: LaterTrial
    washes: int | None
    held: bool
    defects: list[str]
    note: str


class DueAgainOut(Shown):
    """A batch with clean pieces that nobody looked at for a while."""

    job_id: int
    job_name: str
    number: int
    closed_at: datetime
    pieces: int


class LastedOut(Shown):
    """How many pieces still hold, and the share that this says of all (nine times in ten)."""

    held: int
    of: int
    share: RangeOut


class LastedTrialOut(LastedOut):
    """Likewise, after one kind of trial."""

    trial: LaterTrial


class LastedByOut(LastedOut):
    """What later looks say of one coat at one setting."""

    substrate: str
    process: str
    coat: str
    machine: str
    setting: SettingOut
    by_trial: list[LastedTrialOut]


class PiecePhotoOut(Shown):
    """The photo of a washed piece, and how it compares with what was expected; `waiting`: a worker has yet to."""

    id: int
    version: int
    at: datetime
    simulated: bool
    waiting: bool
    points: list[list[float]] | None
    round: bool
    trouble: TroubleOut | None
    likeness: LikenessOut | None


class CoatOnOut(Shown):
    """A coat that a piece carries: its number, the lot, when it went on and in which air (null: nobody read it)."""

    number: int
    lot: str
    at: datetime
    temperature_c: float | None
    humidity_pct: float | None


class StepNoteOut(Shown):
    """Who moved a piece on, and when."""

    to: PieceState
    by: str
    at: datetime


class BatchPieceRecordOut(BatchRowOut):
    """All that is known of a piece: its coats, the photo of its coat, setting and artwork by version, its place in the
    order of the run, and every step."""

    coats: list[CoatOnOut]
    coat_photo_id: int | None
    setting: SettingOut
    lock_version: int
    machine: str
    artwork: str
    order: int
    log: list[StepNoteOut]
    looked_at: datetime | None
    photo: PiecePhotoOut | None
    trials: list[LaterTrial]
    later_looks: list[LaterLookOut]


class PieceBesideOut(Shown):
    """A piece beside others, with the photos of its mark and of its coat."""

    job_id: int
    row: BatchRowOut
    photo_id: int | None
    photo_version: int | None
    coat_photo_id: int | None


class OtherPieceOut(Shown):
    """A piece of the same batch that may be laid beside."""

    id: int
    number: int
    attempt: int
    name: str
    rating: Rating | None
    spoilt: bool
    state: PieceState


class PiecesBesideOut(Shown):
    """Pieces side by side: what is known of each, and which others could stand beside them."""

    pieces: list[PieceBesideOut]
    facts: list[FactOut]
    others: list[OtherPieceOut]
