"""What a grid does to its piece: energy, lines, how warm the hottest patch and the whole piece may get."""

from dataclasses import dataclass

from keencoat.core.findings import Finding
from keencoat.core.grid import GridLayout, cell_item
from keencoat.core.heat.plate import heat_findings, mean_rise_k, patch_rise_k
from keencoat.core.heat.properties import Thermal
from keencoat.core.piece import FlatPiece
from keencoat.core.quantities import Machine, areal_energy_j_mm2
from keencoat.core.toolpath import Task, burn_time_s, energy_on_piece_j, line_count, moves_time_s


@dataclass(frozen=True)
class GridHeat:
    """Energy of the beam over all, J; lines in a patch, least and most; rises in K, low and high estimate."""

    energy_j: float
    lines_least: int
    lines_most: int
    hottest: str
    patch_low_k: float
    patch_high_k: float
    plate_low_k: float
    plate_high_k: float


def grid_heat(
    sheets: list[tuple[GridLayout, list[Task]]],
    piece: FlatPiece,
    machine: Machine,
    thermal: Thermal,
    kept: tuple[float, float],
) -> GridHeat:
    """The figures of a grid over its sheets (one or two spares); the warmer spare counts. `kept` is the least and the
    largest share of the beam that stays as heat."""
    hottest, worst = "", 0.0
    lines = []
    for layout, tasks in sheets:
        by_item = {task.item: task for task in tasks}
        for placed in layout.cells:
            setting = placed.cell.setting
            lines.append(setting.passes * line_count(placed.side_mm, setting.interval_mm))
            moves = by_item[cell_item(placed.cell.code)].moves
            seconds = moves_time_s(moves, machine, (float(moves.x_mm[0]), float(moves.y_mm[0])))
            energy = areal_energy_j_mm2(setting, machine) * placed.cell.grey_pct / 100
            rise = patch_rise_k(energy / seconds, placed.side_mm, seconds, piece.thickness_mm, thermal)
            if rise > worst:
                hottest, worst = placed.cell.code, rise
    energies = [energy_on_piece_j(tasks, machine) for _, tasks in sheets]
    area = float(piece.outline.area)
    plate = max(
        mean_rise_k(energy, area, piece.thickness_mm, thermal, burn_time_s(tasks, machine))
        for energy, (_, tasks) in zip(energies, sheets, strict=True)
    )
    low, high = kept
    patch = thermal.at_most_k(low * worst), thermal.at_most_k(high * worst)
    return GridHeat(sum(energies), min(lines), max(lines), hottest, *patch, low * plate, high * plate)


def findings_of(heat: GridHeat, thermal: Thermal) -> tuple[Finding, ...]:
    """Warnings for glass, glaze and acrylic."""
    return heat_findings(heat.patch_high_k, heat.plate_high_k, thermal)
