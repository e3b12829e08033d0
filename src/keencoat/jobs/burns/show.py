"""From burns to what the API gives."""

from collections import Counter
from collections.abc import Callable, Mapping, Sequence

from keencoat.core.coat import Coat, wilson
from keencoat.core.inspect import ON_PIECES
from keencoat.core.quantities import Machine, Range, Setting, areal_energy_j_mm2
from keencoat.core.substrate import DEFECTS, PROCESSES, SUBSTRATES
from keencoat.jobs.burns import schemas as s
from keencoat.jobs.burns.services import MARKS, BurnSeen
from keencoat.jobs.job.schemas import SettingOut
from keencoat.shop.fields import RangeOut

_LABELS = DEFECTS | ON_PIECES


def show_defect(defect: str, times: int, burns: int) -> s.DefectSeen:
    """A defect with its name."""
    return s.DefectSeen(key=defect, label=_LABELS.get(defect, defect), times=times, burns=burns)


def show_burn(seen: BurnSeen, shelf: Mapping[str, Coat]) -> s.LoggedBurnOut:
    """A burn as a row."""
    burn, job = seen.burn, seen.burn.job
    own = ("key", "kind", "row_id", "job_id", "at", "units")
    share = None
    if burn.is_of_pieces and burn.seen:
        low, high = wilson(burn.clean_units, burn.seen)
        share = RangeOut.showing(Range(low, burn.clean_units / burn.seen, high))
    return s.LoggedBurnOut(
        **{name: getattr(burn, name) for name in own},
        clean=burn.clean_units,
        faint=burn.faint_units,
        harsh=burn.harsh_units,
        spoilt=burn.spoilt_units,
        job_name=job.name,
        label=seen.label,
        substrate=SUBSTRATES[job.substrate].label,
        process=PROCESSES[job.process].label,
        coat=shelf[job.coat].label,
        machine=burn.machine_name,
        share=share,
        burned=_span(seen.settings, seen.machine),
        came_clean=_span(seen.clean_settings, seen.machine),
        setting=SettingOut.showing(seen.settings[0]) if len(set(seen.settings)) == 1 else None,
        defects=[show_defect(defect, times, 1) for defect, times in Counter(burn.defects).most_common()],
        marks=list(seen.marks[:MARKS]),
        columns=seen.columns,
        has_picture=seen.photo is not None,
    )


def _span(settings: Sequence[Setting], machine: Machine) -> s.SettingsSpan | None:
    if not settings:
        return None

    def over(figure: Callable[[Setting], float]) -> s.SpanOut:
        return s.SpanOut(low=min(map(figure, settings)), high=max(map(figure, settings)))

    return s.SettingsSpan(
        power_pct=over(lambda x: x.power_pct),
        speed_mm_s=over(lambda x: x.speed_mm_s),
        interval_mm=over(lambda x: x.interval_mm),
        passes=over(lambda x: x.passes),
        energy_j_mm2=over(lambda x: areal_energy_j_mm2(x, machine)),
    )
