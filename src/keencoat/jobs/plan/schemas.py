"""What the open door takes and gives."""

from dataclasses import asdict
from enum import StrEnum
from typing import Annotated

from pydantic import AfterValidator, BeforeValidator, ConfigDict, Field

from keencoat.core.errors import BadValueError
from keencoat.core.quantities import BeamSource, Machine, Setting, Slice
from keencoat.core.rating import Rating
from keencoat.core.window import USUAL_BUDGET, Answer, Batch, Budget, CoatTold, Question, RatedCell, SettingOdds
from keencoat.jobs.job.schemas import SettingOut
from keencoat.jobs.window.schemas import OpenerOut
from keencoat.jobs.window.show import show_opener
from keencoat.shop.fields import Asked, RangeOut, Shown

_MOST_CELLS, _MOST_ROUNDS = 240, 40
"""A fit's time grows with both: this much takes a few seconds, and nobody burns more for one window."""
_ALIASES = {
    BeamSource.BLUE: ("blue", "diode", "450"),
    BeamSource.NEAR_INFRARED: ("near", "nir", "infrared", "fib", "1064", "yag"),
    BeamSource.CO2: ("co2", "co₂", "10600", "10.6"),
}


def _source(name: object) -> object:
    """The source that a name stands for, so that “fibre” or “CO2” are understood; others pass to be refused."""
    plain = str(name).lower()
    for source, words in _ALIASES.items():
        if any(word in plain for word in words):
            return source
    return name


def _plain(name: str) -> str:
    return name.replace("\0", "")


Name = Annotated[str, Field(max_length=80), AfterValidator(_plain)]


class PlanMachineIn(Asked):
    """The laser: source (blue, near_infrared, co2), watts on its plate, spot (1/e² diameter) and reach."""

    source: Annotated[BeamSource, BeforeValidator(_source)]
    rated_w: float
    spot_mm: float
    max_speed_mm_s: float
    min_speed_mm_s: float
    min_power_pct: float


class PlanCoatIn(Asked):
    """The coat, as far as it is known."""

    name: Name | None = None
    nominal_um: float | None = Field(None, gt=0, le=5000)
    thickness_cv: float | None = Field(None, ge=0, le=1)
    thickness_pieces: int = Field(0, ge=0, le=100_000)


class PlanBudgetIn(Asked):
    """What may still be burned: cells, and rounds of them, each on a fresh piece."""

    cells_left: int = Field(USUAL_BUDGET.cells_left, ge=0, le=10_000)
    rounds_left: int = Field(USUAL_BUDGET.rounds_left, ge=0, le=1000)


class PlanBatchIn(Asked):
    """What is at stake: pieces to come, and what a spare is worth, in pieces."""

    pieces: int = Field(ge=0, le=1_000_000)
    spare_worth: float = Field(1.0, ge=0, le=1000)


class PlanCellIn(Asked):
    """A rated cell. Cells of one round share one piece. What a photo measured of it tells more than its rating."""

    round: int = Field(ge=-1_000_000, le=1_000_000)
    power_pct: float
    speed_mm_s: float
    interval_mm: float
    passes: int = Field(default=1, ge=1, le=50)
    rating: Rating
    defects: list[Name] = Field(default_factory=list, max_length=30)
    full_share: float | None = Field(None, ge=0, le=1, description="how full the mark is, of a full one's tone")
    harm: float | None = Field(None, ge=0, le=1000, description="its worst harm against the limit, 1 just there")


class PlanIn(Asked):
    """A question to the planner."""

    model_config = ConfigDict(
        json_schema_extra={
            "example": {
                "machine": {
                    "source": "blue",
                    "rated_w": 20,
                    "spot_mm": 0.09,
                    "max_speed_mm_s": 300,
                    "min_speed_mm_s": 4,
                    "min_power_pct": 2,
                },
                "process": "frost",
                "substrate": "soda_lime_glass",
                "coat": {"name": "tempera_brushed", "nominal_um": 36, "thickness_cv": 0.1},
                "interval_mm": 0.1,
                "passes": 1,
                "budget": {"cells_left": 15, "rounds_left": 4},
                "history": [
                    {
                        "round": 1,
                        "power_pct": 60,
                        "speed_mm_s": 150,
                        "interval_mm": 0.1,
                        "passes": 1,
                        "rating": "faint",
                        "defects": ["coat_left"],
                    },
                    {
                        "round": 1,
                        "power_pct": 90,
                        "speed_mm_s": 120,
                        "interval_mm": 0.1,
                        "passes": 1,
                        "rating": "clean",
                    },
                ],
            }
        }
    )

    machine: PlanMachineIn
    process: Name | None = None
    substrate: Name | None = None
    coat: PlanCoatIn | None = None
    interval_mm: float
    passes: int = Field(default=1, ge=1, le=50)
    budget: PlanBudgetIn = PlanBudgetIn(**asdict(USUAL_BUDGET))
    history: list[PlanCellIn] = Field(default_factory=list, max_length=_MOST_CELLS)
    batch: PlanBatchIn | None = Field(
        None, description="if told, cells past the budget are asked for where they save more than their spare is worth"
    )
    wanted_share: float = Field(0.95, ge=0.5, le=0.999)
    seed: int = Field(1, ge=0, le=2**31)

    def question(self) -> Question:
        """The question as core knows it; raises BadValueError for figures that no machine has."""
        machine = Machine(
            **self.machine.model_dump(), accel_mm_s2=3000, bed_x_mm=400, bed_y_mm=400
        )  # acceleration and bed do not bear on a window
        rounds = len({c.round for c in self.history})
        if rounds > _MOST_ROUNDS:
            raise BadValueError(
                f"{rounds} rounds are too many.", field="history", hint=f"Send the newest {_MOST_ROUNDS} of them."
            )
        return Question(
            Slice(machine, self.interval_mm, self.passes),
            self.process,
            self.substrate,
            CoatTold(**self.coat.model_dump()) if self.coat else None,
            Budget(self.budget.cells_left, self.budget.rounds_left),
            tuple(
                RatedCell(
                    c.round,
                    Setting(c.power_pct, c.speed_mm_s, c.interval_mm, c.passes),
                    c.rating,
                    tuple(c.defects),
                    c.full_share,
                    c.harm,
                )
                for c in self.history
            ),
            Batch(**self.batch.model_dump()) if self.batch else None,
            self.wanted_share,
            self.seed,
        )


class AnswerKind(StrEnum):
    """What the answer is."""

    NEXT_CELLS = "next_cells"
    SETTING = "setting"
    NONE = "none"


class ChancesOut(Shown):
    """Shares of pieces that come out so; they add up to 1."""

    faint: float
    clean: float
    harsh: float


class PlanSettingOut(SettingOut):
    """A setting with what is expected of it. Margins in per cent of its energy."""

    chances: ChancesOut
    expected_yield: RangeOut = Field(description="share of clean pieces; the range holds it nine times in ten")
    held: float = Field(description="chance that the yield is at least the wanted share")
    margin_to_faint_pct: RangeOut
    margin_to_harsh_pct: RangeOut
    energy_j_mm2: float
    dwell_ms: float
    minutes_per_dm2: float


class NoneOut(Shown):
    """No clean setting in reach."""

    chance_of_any: float
    would_open: list[OpenerOut]


class PlanOut(Shown):
    """The planner's answer: by `answer`, one of `next_cells`, `setting` and `none` is filled. `so_far` is the best
    setting as known now, also while cells are asked for."""

    answer: AnswerKind
    next_cells: list[SettingOut]
    setting: PlanSettingOut | None
    none: NoneOut | None
    so_far: PlanSettingOut | None
    chance_of_any: float = Field(description="chance that any setting in reach has the wanted share")
    sure: bool
    notes: list[str]
    model_version: str


def show_answer(a: Answer) -> PlanOut:
    """The answer as the door gives it."""
    so_far = _setting(a.point, a.held) if a.point else None
    kind = AnswerKind.NONE if a.point is None else AnswerKind.SETTING if a.is_setting else AnswerKind.NEXT_CELLS
    none = NoneOut(chance_of_any=a.open_share, would_open=[show_opener(o) for o in a.openers])
    return PlanOut(
        answer=kind,
        next_cells=[SettingOut.showing(c) for c in a.cells],
        setting=so_far if kind is AnswerKind.SETTING else None,
        none=none if kind is AnswerKind.NONE else None,
        so_far=so_far,
        chance_of_any=a.open_share,
        sure=a.verdict == "sure",
        notes=list(a.notes),
        model_version=a.model_version,
    )


def _setting(point: SettingOdds, held: float) -> PlanSettingOut:
    return PlanSettingOut(
        **asdict(point.setting),
        chances=ChancesOut(faint=point.faint, clean=point.clean.mid, harsh=point.harsh),
        expected_yield=RangeOut.showing(point.clean),
        held=held,
        margin_to_faint_pct=RangeOut.showing(point.margin_to_faint_pct),
        margin_to_harsh_pct=RangeOut.showing(point.margin_to_harsh_pct),
        energy_j_mm2=point.energy_j_mm2,
        dwell_ms=point.dwell_ms,
        minutes_per_dm2=point.minutes_per_dm2,
    )
