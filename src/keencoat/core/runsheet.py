"""The run sheet: everything a hand needs for the batch, in the order of the work. Page and PDF draw the same one."""

from dataclasses import dataclass

from keencoat.core.coat import Course, Tool, cleaning_of, coat_steps, finishes_of, refused_finishes
from keencoat.core.piece import Piece
from keencoat.core.quantities import (
    Art,
    Machine,
    Range,
    Setting,
    areal_energy_j_mm2,
    dwell_ms,
    line_energy_j_mm,
    minutes_per_dm2,
    show,
)
from keencoat.core.safety import DEFERENCE, Emission, safety_gate
from keencoat.core.substrate import Family, Process, Substrate, comes_back, far_side_words


@dataclass(frozen=True)
class SheetLine:
    """A line: what, the figure or the step, and the reason or detail. `tick` lines get a box to tick."""

    label: str
    value: str
    detail: str = ""
    tick: bool = False


@dataclass(frozen=True)
class SheetSection:
    """A block of the sheet."""

    title: str
    lines: tuple[SheetLine, ...]


@dataclass(frozen=True)
class LockedForArt:
    """A locked setting, what it is for, and the share of clean pieces that was expected of it."""

    art: Art
    setting: Setting
    clean: Range


@dataclass(frozen=True)
class RunFacts:
    """What the sheet is made from."""

    job: str
    piece: Piece
    pieces: int
    substrate: Substrate
    process: Process
    machine_name: str
    machine: Machine
    emission: Emission
    course: Course
    tool: Tool
    lot: str
    settings: tuple[LockedForArt, ...]
    evidence: str
    speed_unit: str
    interval_unit: str


@dataclass(frozen=True)
class RunSheet:
    """Title, sections, and the sentence that puts other rules first."""

    title: str
    sections: tuple[SheetSection, ...]
    deference: str = DEFERENCE


def build_run_sheet(facts: RunFacts) -> RunSheet:
    """The run sheet of a locked setting."""
    gate = tuple(
        SheetLine(item.text, "", item.why, tick=True)
        for item in safety_gate(facts.machine, facts.emission, facts.substrate, facts.course.coat)
    )
    return RunSheet(
        facts.job,
        (
            *(SheetSection(_SETTING_TITLES[x.art], _setting_lines(facts, x)) for x in facts.settings),
            SheetSection("Piece", _piece_lines(facts)),
            SheetSection("Coat", _coat_lines(facts)),
            SheetSection("Placing and focus", _placing_lines(facts)),
            SheetSection("Before the beam goes on", gate),
            SheetSection("Wash and inspect", _inspect_lines(facts)),
            *([SheetSection("Finish", finish)] if (finish := _finish_lines(facts)) else ()),
        ),
    )


_SETTING_TITLES = {Art.FILLS: "Setting", Art.STROKES: "Setting for fine strokes"}


def _setting_lines(f: RunFacts, locked: LockedForArt) -> tuple[SheetLine, ...]:
    s, clean = locked.setting, locked.clean
    return (
        SheetLine("Power", f"{s.power_pct:g} %", f"of {f.machine.rated_w:g} W, {f.machine_name}"),
        SheetLine("Speed", show(s.speed_mm_s, f.speed_unit), _base(f.speed_unit, "mm_s", f"{s.speed_mm_s:g} mm/s")),
        SheetLine(
            "Lines",
            show(s.interval_mm, f.interval_unit),
            _base(f.interval_unit, "mm", f"{s.interval_mm:g} mm apart, ") + "both directions",
        ),
        SheetLine("Passes", str(s.passes)),
        SheetLine(
            "Areal energy",
            f"{areal_energy_j_mm2(s, f.machine):.2f} J/mm²",
            f"line {line_energy_j_mm(s, f.machine):.3f} J/mm, dwell {dwell_ms(s, f.machine):.2f} ms",
        ),
        SheetLine("Scan time", f"{minutes_per_dm2(s):.0f} min/dm²", "filled area, turn-rounds not counted"),
        SheetLine(
            "Clean, expected",
            f"{100 * clean.mid:.0f} of 100",
            f"range {100 * clean.low:.0f} to {100 * clean.high:.0f}; an estimate from {f.evidence}",
        ),
    )


def _base(unit: str, base_unit: str, words: str) -> str:
    """The figure in the base unit, for whoever reads another one."""
    return "" if unit == base_unit else words


def _piece_lines(f: RunFacts) -> tuple[SheetLine, ...]:
    p = f.piece
    return (
        SheetLine("What", f.substrate.label, f"{p.size}, {p.thickness_mm:g} mm thick"),
        SheetLine("How many", str(f.pieces)),
        SheetLine("Clean first", cleaning_of(f.substrate).text, tick=True),
    )


def _coat_lines(f: RunFacts) -> tuple[SheetLine, ...]:
    coat = f.course.coat
    lines = [SheetLine("Coat", coat.label, f"lot {f.lot}" if f.lot else "")]
    for step in coat_steps(f.course):
        way = "across the last coat" if step.direction_deg else "along the long side"
        wait = "then it may be burned" if step.then_burn else "then the next coat"
        if coat.is_put_on:
            lines.append(
                SheetLine(
                    f"Coat {step.number}",
                    f"{f.tool.label}, {way}",
                    f"{minutes(step.wait_low_min)} to {minutes(step.wait_high_min)}, {wait}",
                    tick=True,
                )
            )
    return tuple(lines)


def _placing_lines(f: RunFacts) -> tuple[SheetLine, ...]:
    lines = []
    if f.substrate.family is Family.GLASS:
        lines.append(SheetLine("Raise it off the bed", "", "flash-back from a honeycomb pits the back", tick=True))
    if comes_back(f.substrate, f.machine.source):
        lines.append(
            SheetLine("A dull ground under it, no foil", "", "the beam comes back from what shines", tick=True)
        )
    elif f.substrate.family is Family.ACRYLIC:
        lines.append(SheetLine("Foil under the sheet", "", "it keeps the bed's marks off the back", tick=True))
    through = f.course.coat.lies_behind
    if through:
        words = far_side_words(f.substrate, f.machine.source, f.piece.face.thickness_mm)
        lines.append(SheetLine("Focus on the far side, where the card lies", "", words, tick=True))
    else:
        lines.append(SheetLine("Focus on the coated surface", "", tick=True))
    if f.process.mirrored or through:
        lines.append(SheetLine("Mirror the artwork", "", "it is seen from the other side", tick=True))
    lines.append(SheetLine("Frame twice with the pointer", "", "the frame must stay on the coat", tick=True))
    return tuple(lines)


def _inspect_lines(f: RunFacts) -> tuple[SheetLine, ...]:
    return (
        SheetLine("Let it cool", "", "hot glass and metal look like cold ones", tick=True),
        SheetLine("Take the coat off", f.course.coat.removal, tick=True),
        SheetLine("Look", f.process.judge, tick=True),
        SheetLine("Clean is", f.process.clean),
        SheetLine("Too little", f.process.too_little, "slower or more power, in small steps"),
        SheetLine("Too much", f.process.too_much, "faster or less power, in small steps"),
    )


def _finish_lines(f: RunFacts) -> tuple[SheetLine, ...]:
    lines = [
        SheetLine(x.label, x.agent or "", f"{x.text}. {x.caution}" if x.caution else x.text, tick=True)
        for x in finishes_of(f.process, f.substrate)
    ]
    lines += [SheetLine("Never", c.agent, c.reason) for c in refused_finishes(f.process, f.substrate)]
    return tuple(lines)


def minutes(value: float) -> str:
    """Minutes as people say them: “35 min”, “4 h”."""
    return f"{value:.3g} min" if value < 120 else f"{value / 60:.2g} h"
