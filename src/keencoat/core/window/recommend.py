"""What the window comes to: the setting to lock, the other schools beside it, or that there is none and why."""

from dataclasses import dataclass, replace
from enum import StrEnum
from functools import lru_cache

import numpy as np

from keencoat.core.quantities import Machine, Setting, Slice
from keencoat.core.rating import Rating
from keencoat.core.window.choose import WANTED_SHARE, SettingChoice, choose
from keencoat.core.window.fit import WindowFit, just_as_told
from keencoat.core.window.hideouts import hideouts, is_none_earned, words_of
from keencoat.core.window.odds import odds_told
from keencoat.core.window.openers import Opener, openers
from keencoat.core.window.plan import USUAL_BUDGET, cells_that_pay
from keencoat.core.window.predict import SettingOdds, clean_and_harsh, odds_of
from keencoat.core.window.reach import Settings, middles, speeds_of
from keencoat.core.window.scatter import settled_words
from keencoat.core.window.worth import Batch, RoundWorth, worth_of

_SHUT_BY_PIECES = (0.0, 0.0, 0.005, 0.02, 0.05)
"""Below which chance of any good setting a window counts as shut, by test pieces burned: the more, the sooner."""
_SHUT = 0.06
_ENOUGH_PIECES, _MANY_CELLS = 2, 16
_FAST_ENOUGH, WORTH_LOCKING = 0.75, 0.8
_NARROW = 0.35
"""Below which chance of any good setting other lines and passes are worth a thought, before the window is shut."""
_FORGIVING_SPEEDS, _FORGIVING_SD = 24, 0.25


class Verdict(StrEnum):
    """What the window allows: lock now, burn more cells first, or look elsewhere."""

    SURE = "sure"
    NOT_SURE = "not_sure"
    NONE = "none"


class SettingSchool(StrEnum):
    """Other ways to choose."""

    FASTEST_CELL = "fastest_cell"
    FORGIVING = "forgiving"
    COOLER_PASSES = "cooler_passes"


@dataclass(frozen=True)
class RatedSetting:
    """A burned cell with what it did."""

    code: str
    setting: Setting
    rating: Rating


@dataclass(frozen=True)
class OtherChoice:
    """A setting that another school would take: which cell, if it is one, and what it would cost, in words."""

    school: SettingSchool
    code: str
    point: SettingOdds
    words: str


@dataclass(frozen=True)
class Recommendation:
    """The verdict, the setting with its reading, the range of powers that keeps the wanted share at its speed, how
    likely it holds, how likely anything does, the other schools, what would open the window, what a further round is
    worth where that is a question, and reasons in words."""

    verdict: Verdict
    wanted_share: float
    point: SettingOdds | None
    power_range_pct: tuple[float, float] | None
    held: float
    open_share: float
    could_be_mm_s: float
    others: tuple[OtherChoice, ...]
    openers: tuple[Opener, ...]
    next_round: RoundWorth | None
    advice: str
    settled: bool = False
    """Whether it may be locked as it is: likely enough, and a further round does not pay as far as a batch is told; or
    sure after some pieces, and perhaps slow."""

    @property
    def lock_now(self) -> bool:
        """Whether locking comes before more cells: it is sure, or more cells tell little, or a further round hardly
        pays, and most pieces come out clean."""
        if self.verdict is Verdict.SURE:
            return True
        if self.point is None or self.point.clean.mid < WORTH_LOCKING:
            return False
        return self.settled or (self.next_round is not None and not self.next_round.pays)


def enough_pieces(fit: WindowFit) -> int:
    """From how many pieces on a setting may be sure, and it is asked whether a further one pays: two, as one alone
    does not tell its own shift from the window's; one where an own window of the same kind is known."""
    learned = fit.prior.learned
    return 1 if learned is not None and learned.own_alike else _ENOUGH_PIECES


def judge(
    choice: SettingChoice,
    pieces: int,
    cells: int,
    more: bool = True,
    earned: bool = True,
    enough: int = _ENOUGH_PIECES,
) -> Verdict:
    """Lock, go on, or give up. `pieces` and `cells` say how much was burned, `enough` from how many pieces on a setting
    may be sure, `more` whether more may be; `earned`
    whether the cells allow “none”, whatever the model thinks: else nobody gives up."""
    limit = _SHUT_BY_PIECES[pieces] if more and pieces < len(_SHUT_BY_PIECES) else _SHUT
    if choice.open_share < limit:
        return Verdict.NONE if earned else Verdict.NOT_SURE
    fast = not _is_slow(choice)
    if choice.sure and pieces >= enough and (fast or cells >= _MANY_CELLS or not more):
        return Verdict.SURE
    return Verdict.NOT_SURE


def is_settled(choice: SettingChoice, pieces: int, cells: int, enough: int = _ENOUGH_PIECES) -> bool:
    """Whether a setting that is not sure is likely enough after some pieces: more cells tell little then."""
    if choice.sure or not choice.likely:
        return False
    return judge(replace(choice, sure=True), pieces, cells, enough=enough) is Verdict.SURE


def is_only_slow(choice: SettingChoice, pieces: int, enough: int = _ENOUGH_PIECES) -> bool:
    """Whether a setting is sure after some pieces, and all that more cells might find is a faster one."""
    return choice.sure and _is_slow(choice) and pieces >= enough


def _is_slow(choice: SettingChoice) -> bool:
    return choice.setting.speed_mm_s < _FAST_ENOUGH * choice.could_be_mm_s


@lru_cache(maxsize=256)
def recommend(
    fit: WindowFit,
    at: Slice,
    rated: tuple[RatedSetting, ...],
    wanted: float = WANTED_SHARE,
    batch: Batch | None = None,
) -> Recommendation:
    """Choose the setting in this slice, and set the others beside it; for a batch, say what a further round is worth.

    The same fit and cells give the same answer; the last few hundred are kept.
    """
    pieces = len({o.piece for o in fit.observations})
    enough = enough_pieces(fit)
    machine, choice = at.machine, choose(fit, at, wanted)
    earned = is_none_earned(fit, at)
    verdict = judge(choice, pieces, len(fit.observations), earned=earned, enough=enough)
    if verdict is Verdict.NONE:
        opened = tuple(openers(fit, at, wanted))
        return Recommendation(
            verdict, wanted, None, None, 0.0, choice.open_share, 0.0, (), opened, None, advise(rated, machine)
        )
    point = odds_of(fit, choice.setting, machine)
    is_good = pieces >= enough and choice.clean >= WORTH_LOCKING
    settled = is_settled(choice, pieces, len(fit.observations), enough)
    is_narrow = verdict is Verdict.NOT_SURE and pieces >= enough and choice.open_share < _NARROW
    size, worth = USUAL_BUDGET.round_size, None
    is_past = len(fit.observations) + size > USUAL_BUDGET.cells_left
    if batch and verdict is Verdict.NOT_SURE and (is_good or is_past):
        worth = worth_of(fit, at, choice.setting.speed_mm_s, cells_that_pay(fit, at, size, wanted), batch)
        settled = settled and not worth.pays
    found = Recommendation(
        verdict,
        wanted,
        point,
        _power_range(just_as_told(fit) if choice.likely and not choice.sure else fit, at, choice.setting, wanted),
        choice.held,
        choice.open_share,
        choice.could_be_mm_s,
        _others(fit, at, point, rated, wanted),
        tuple(openers(fit, at, wanted)) if is_narrow else (),
        worth,
        "",
        settled or is_only_slow(choice, pieces, enough),
    )
    held = odds_told(choice.held, pieces, is_answer=found.lock_now)
    chance = f"{100 * held:.0f} in 100 that it keeps {100 * wanted:.0f} in 100 pieces clean"
    if settled:
        advice = settled_words(fit.prior.scatter, fit.run_pieces, chance, worth.words if worth else "")
    else:
        advice = _go_on(verdict, choice, chance, rated, machine, worth)
    if not earned and choice.open_share < _SHUT:
        hidden = hideouts(fit, at)
        where = f"No cell rules out a window {words_of(hidden)}." if hidden else "Yet two pieces had a clean cell."
        advice = f"Not found yet. {where} {advice}"
    return replace(found, held=held, advice=advice)


def _power_range(fit: WindowFit, at: Slice, setting: Setting, wanted: float) -> tuple[float, float] | None:
    """Powers around the setting's at its speed whose expected share is at least the wanted one; None where its own is
    not among them."""
    powers = np.clip(setting.power_pct * np.geomspace(0.6, 1 / 0.6, 61), at.machine.min_power_pct, 100.0)
    speeds = np.full(len(powers), setting.speed_mm_s)
    tried = Settings(at, speeds, powers)
    good = clean_and_harsh(fit, tried.points())[0].mean(axis=0) >= wanted
    return (float(powers[good].min()), float(powers[good].max())) if good[len(good) // 2] else None


def _others(
    fit: WindowFit, at: Slice, point: SettingOdds, rated: tuple[RatedSetting, ...], wanted: float
) -> tuple[OtherChoice, ...]:
    found = []
    clean_cells = [r for r in rated if r.rating is Rating.CLEAN]
    fastest = max(clean_cells, key=lambda r: (r.setting.speed_mm_s, -r.setting.power_pct), default=None)
    if fastest is not None:
        there = odds_of(fit, fastest.setting, at.machine)
        found.append(OtherChoice(SettingSchool.FASTEST_CELL, fastest.code, there, _cost(point, there)))
    forgiving = _most_forgiving(fit, at)
    found.append(OtherChoice(SettingSchool.FORGIVING, "", forgiving, _cost(point, forgiving)))
    if at.passes == 1:
        there = odds_of(fit, choose(fit, replace(at, passes=2), wanted).setting, at.machine)
        found.append(OtherChoice(SettingSchool.COOLER_PASSES, "", there, _cost(point, there)))
    return tuple(found)


def _most_forgiving(fit: WindowFit, at: Slice) -> SettingOdds:
    """The setting with the largest share of clean pieces were the scatter wider than it is."""
    speeds = speeds_of(at.machine, _FORGIVING_SPEEDS)
    own = middles(fit, at, speeds, more_sd=_FORGIVING_SD)
    column = int(own.clean.mean(axis=0).argmax())
    power = float(np.median(own.powers_pct[:, column]))
    settings = Settings(at, speeds[column : column + 1], np.array([power]))
    return odds_of(fit, settings.setting(0), at.machine)


def _cost(ours: SettingOdds, theirs: SettingOdds) -> str:
    quicker = ours.minutes_per_dm2 / theirs.minutes_per_dm2
    lost, lost_here = 100 * (1 - theirs.clean.mid), 100 * (1 - ours.clean.mid)
    if quicker > 1.02:
        pace = f"{100 * (quicker - 1):.0f} % quicker"
    elif quicker < 0.98:
        slower = 1 / quicker
        pace = f"{slower:.2g} times as slow" if slower >= 1.5 else f"{100 * (slower - 1):.0f} % slower"
    else:
        pace = "as quick"
    return f"{pace}; about {lost:.0f} in 100 pieces lost, against {lost_here:.0f} here"


def _go_on(
    verdict: Verdict,
    choice: SettingChoice,
    chance: str,
    rated: tuple[RatedSetting, ...],
    machine: Machine,
    worth: RoundWorth | None,
) -> str:
    if verdict is Verdict.SURE:
        return ""
    if rated and not any(r.rating is Rating.CLEAN for r in rated):
        return advise(rated, machine)
    if choice.sure and choice.could_be_mm_s > choice.setting.speed_mm_s:
        return (
            f"Good enough to lock, but perhaps slow: as far as we know, {choice.could_be_mm_s:.3g} mm/s may do. "
            f"For a large batch, a further round on a fresh spare would tell."
        )
    if worth is None:
        return f"Not sure yet: the odds are {chance}. More cells on a fresh spare tell most."
    if worth.pays:
        return f"Not sure yet: the odds are {chance}. {worth.words}"
    if choice.clean < WORTH_LOCKING:
        return f"The odds are {chance}. {worth.words} Other lines, more passes or a more even coat come first."
    return f"The odds are {chance}. {worth.words} Lock it as it is, or make the coat more even."


def advise(rated: tuple[RatedSetting, ...], machine: Machine) -> str:
    """What the ratings say when nothing came out clean."""
    kinds = {r.rating for r in rated}
    if not kinds:
        return "Rate the grid first."
    if kinds == {Rating.FAINT}:
        full = any(r.setting.power_pct > 95 for r in rated)
        slower = " At full power already: go slower, closer lines, or two passes." if full else ""
        return (
            "All cells are faint. Go up in energy: the next grid starts where this one ended."
            + slower
            + " If even the strongest cell did nothing, check focus and whether the coat absorbs this beam."
        )
    if kinds == {Rating.HARSH}:
        lowest = min(r.setting.power_pct for r in rated) <= 1.2 * machine.min_power_pct
        faster = " At the lowest power already: go faster or open the lines." if lowest else ""
        return "All cells are harsh. Go down in energy: the next grid ends where this one began." + faster
    return (
        "Faint turns to harsh with hardly a clean setting between. If the next cells find none either, other lines, "
        "two cooler passes, or a thinner and more even coat may open it."
    )
