"""The open door: plan and fit without a job. What is known goes in; the next cells, a setting, or “none” comes out."""

from dataclasses import dataclass, replace

from keencoat.core.coat import COATS
from keencoat.core.quantities import Machine, Setting, Slice
from keencoat.core.rating import Rating
from keencoat.core.substrate import DEFECTS, PROCESSES, SUBSTRATES
from keencoat.core.window.choose import WANTED_SHARE, choose
from keencoat.core.window.figures import beyond_enough, beyond_harm
from keencoat.core.window.fit import WindowFit, fit_window
from keencoat.core.window.hideouts import is_none_earned
from keencoat.core.window.lessons import Kind, Lesson
from keencoat.core.window.model import MODEL_VERSION, Observation, observe
from keencoat.core.window.odds import odds_told
from keencoat.core.window.openers import Opener, openers
from keencoat.core.window.plan import MOST_CELLS, Budget, cells_that_pay, fastest_first
from keencoat.core.window.predict import SettingOdds, odds_of
from keencoat.core.window.priors import PRIORS, stated_prior, with_lessons
from keencoat.core.window.recommend import WORTH_LOCKING, Verdict, enough_pieces, is_settled, judge
from keencoat.core.window.scatter import Scatter
from keencoat.core.window.worth import USUAL_BATCH, Batch, worth_of

_LAST_CELLS = 96
"""How many cells in all are never passed, however large the batch."""


@dataclass(frozen=True)
class CoatTold:
    """What is told of a coat; None where it is not. `thickness_pieces`: on how many pieces its variation was
    measured."""

    name: str | None = None
    nominal_um: float | None = None
    thickness_cv: float | None = None
    thickness_pieces: int = 0


@dataclass(frozen=True)
class RatedCell:
    """A cell of the history; cells of one round share one piece. What a photo tells of it, None where none does:
    `full_share` how full its mark is, 0…1; `harm` the worst harm against its limit, 1 just there."""

    round: int
    setting: Setting
    rating: Rating
    defects: tuple[str, ...] = ()
    full_share: float | None = None
    harm: float | None = None


@dataclass(frozen=True)
class Question:
    """Everything that the planner is told. With a batch it goes past the budget where a further round saves more pieces
    than its spare is worth. `lessons` are what windows elsewhere tell of one of this `kind`."""

    at: Slice
    process: str | None
    substrate: str | None
    coat: CoatTold | None
    budget: Budget
    history: tuple[RatedCell, ...] = ()
    batch: Batch | None = None
    wanted_share: float = WANTED_SHARE
    seed: int = 1
    kind: Kind | None = None
    lessons: tuple[Lesson, ...] = ()


@dataclass(frozen=True)
class Answer:
    """What comes out: `sure` with a setting; `not_sure` with cells or, if nothing may be burned any more or more cells
    tell little, with the likeliest setting; `none` with what would open the window. `point` is the
    best so far in any case but none."""

    verdict: Verdict
    cells: tuple[Setting, ...]
    point: SettingOdds | None
    held: float
    open_share: float
    could_be_mm_s: float
    openers: tuple[Opener, ...]
    notes: tuple[str, ...]
    model_version: str = MODEL_VERSION

    @property
    def is_setting(self) -> bool:
        """Whether the answer is a setting to take."""
        return self.point is not None and not self.cells


def answer(question: Question) -> Answer:
    """Fit the history and say what to do next; deterministic for a seed."""
    q = question
    fit, notes = fit_told(q)
    choice = choose(fit, q.at, q.wanted_share)
    pieces = len({c.round for c in q.history})
    size, count = q.budget.round_size, len(q.history)
    enough = enough_pieces(fit)
    verdict = judge(choice, pieces, count, enough=enough, more=size > 0, earned=is_none_earned(fit, q.at))
    if verdict is Verdict.NONE:
        found = tuple(openers(fit, q.at, q.wanted_share))
        return Answer(verdict, (), None, choice.held, choice.open_share, choice.could_be_mm_s, found, notes)
    cells: tuple[Setting, ...] = ()
    settled = is_settled(choice, pieces, count, enough)
    may_go_on = size > 0 and not settled
    beyond = min(MOST_CELLS, _LAST_CELLS - count) if q.batch else 0
    if verdict is Verdict.NOT_SURE and (may_go_on or beyond > 0):
        cells = tuple(fastest_first(cells_that_pay(fit, q.at, size if may_go_on else beyond, q.wanted_share, q.seed)))
        # Where little would come out clean, the search goes on as far as it may.
        if not may_go_on or (pieces >= enough and choice.clean >= WORTH_LOCKING):
            worth = worth_of(fit, q.at, choice.setting.speed_mm_s, cells, q.batch or USUAL_BATCH, q.seed)
            why = "" if may_go_on else "It is likely enough. " if settled else "The budget is spent. "
            cells, notes = cells if worth.pays else (), (*notes, f"{why}{worth.words}")
    point = odds_of(fit, choice.setting, q.at.machine)
    held = odds_told(choice.held, pieces, is_answer=not cells)
    return Answer(verdict, cells, point, held, choice.open_share, choice.could_be_mm_s, (), notes)


def fit_told(q: Question) -> tuple[WindowFit, tuple[str, ...]]:
    """The window that the history leads to, and what of the question is not known here."""
    notes: list[str] = []
    process = _known(q.process, tuple(PROCESSES), "process", notes)
    substrate = _known(q.substrate, tuple(SUBSTRATES), "substrate", notes)
    coat = q.coat or CoatTold()
    name = _known(coat.name, tuple(COATS), "coat", notes)
    if process and (process, q.at.machine.source) not in PRIORS:
        notes.append(f"Nothing is known of {process} under {q.at.machine.source.label}: the widest prior was taken.")
    film_share = None
    if name:
        usual_um = COATS[name].usual_um
        film_share = (coat.nominal_um or usual_um) / usual_um
    measured = coat.thickness_pieces if coat.thickness_cv is not None else 0
    usual = Scatter().coat_cv if coat.thickness_cv is None else coat.thickness_cv
    scatter = Scatter(coat_cv=usual, measured_pieces=measured)
    prior = stated_prior(process, q.at.machine.source, substrate, film_share, scatter, q.at.machine.spot_mm)
    if q.kind is not None:
        prior = with_lessons(prior, q.kind, q.lessons)
    strange = sorted({d for c in q.history for d in c.defects} - set(DEFECTS))
    if strange:
        notes.append(f"Defects not known here count as none: {', '.join(strange)}.")
    observations = tuple(_observed(c, q.at.machine) for c in q.history)
    return fit_window(observations, prior, q.seed), tuple(notes)


def _observed(cell: RatedCell, machine: Machine) -> Observation:
    return replace(
        observe(cell.setting, machine, cell.rating, cell.round, frozenset(cell.defects) & set(DEFECTS)),
        to_enough=None if cell.full_share is None else beyond_enough(cell.full_share),
        to_harm=None if cell.harm is None else beyond_harm(cell.harm),
    )


def _known(name: str | None, keys: tuple[str, ...], what: str, notes: list[str]) -> str | None:
    """The key that a name stands for: itself, or the one key whose words it holds all or begins with."""
    if name is None:
        return None
    plain = "_".join("".join(ch if ch.isalnum() else " " for ch in name.lower()).split())
    if plain in keys:
        return plain
    words = set(plain.split("_"))
    likely = [k for k in keys if k.startswith(plain) or plain.startswith(k) or set(k.split("_")) <= words]
    if len(likely) == 1:
        return likely[0]
    known = ", ".join(keys)
    notes.append(f"{what.capitalize()} “{name[:40]}” is not known here and counts as not told. Known: {known}.")
    return None
