"""Grids burned on the simulated bench, with their truth: for tests of reading."""

import time
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from keencoat.bench.gridshots import GridCamera, Pose, Trouble, true_corners
from keencoat.bench.laser.controller import Bed, Controller
from keencoat.bench.plant.exposure import read_exposure
from keencoat.bench.plant.materials import MATERIALS, draw_piece, hidden_material
from keencoat.bench.plant.piece import BurnedPiece, Sheet
from keencoat.bench.plant.truth import Truth
from keencoat.core.grid.burning import BurnPlan, grid_tasks
from keencoat.core.grid.design import LEGIBLE_SHARE, design_crossed, middle_setting
from keencoat.core.grid.factors import counts_for
from keencoat.core.grid.layout import GridLayout, PlacedCell, usual_cell_mm
from keencoat.core.grid.making_room import CellSize, fit_grid
from keencoat.core.piece.flat import FlatPiece, Shape
from keencoat.core.quantities.setting import BeamSource, Machine
from keencoat.core.quantities.slice import Slice
from keencoat.core.substrate.processes import PROCESSES
from keencoat.core.toolpath.gcode import write_gcode
from keencoat.core.toolpath.program import extent_of
from keencoat.core.window.fit import fit_window
from keencoat.core.window.predict import next_band
from keencoat.core.window.priors import prior_for
from tests.core.conftest import make_machine

SIZE = (98.0, 72.0)


@dataclass(frozen=True, eq=False)
class Program:
    """A grid as designed, and what the head made of it."""

    layout: GridLayout
    mirrored: bool
    hatches: list
    traces: list
    lines: list


@lru_cache(maxsize=16)
def burn(process: str, cells: int = 12, disc: bool = False) -> Program:
    """Design a grid for a process from its prior and run it through the simulated controller."""
    source = BeamSource.CO2 if process == "protect" else BeamSource.BLUE
    machine = make_machine(source=source, spot_mm=0.09, max_speed_mm_s=300, accel_mm_s2=3000)
    band = next_band(fit_window((), prior_for(process, source)))
    width, height = (SIZE[0], SIZE[0]) if disc else SIZE
    piece = FlatPiece(Shape.DISC if disc else Shape.RECTANGLE, width, height, 4)
    interval = PROCESSES[process].interval_mm.value
    fitted = fit_grid(
        lambda n: design_crossed(Slice(machine, interval), band, n),
        cells,
        counts_for(2),
        CellSize(usual_cell_mm(machine, interval), 3.0),
        piece,
    )
    plan = BurnPlan(middle_setting(Slice(machine, interval), band, LEGIBLE_SHARE), mirrored=PROCESSES[process].mirrored)
    return run(fitted.sheets[0], piece, machine, plan)


def run(layout: GridLayout, piece: FlatPiece, machine: Machine, plan: BurnPlan) -> Program:
    """A grid sent through the simulated controller."""
    tasks = grid_tasks(layout, piece, machine, plan)
    left, low, _, _ = extent_of(tasks)
    controller = Controller(Bed(400, 400, max(0, -left), max(0, -low), 300, 3000), float("inf"))
    lines = write_gcode(tasks, machine, "grid").splitlines()
    for line in lines:
        controller.take(line)
    while controller.state.done < len(lines):
        time.sleep(0.01)
    controller.close()
    return Program(layout, plan.mirrored, *read_exposure(controller.burned)[:2], lines)


def piece_of(process: str, seed: int, hidden: bool, disc: bool = False, cells: int = 12) -> BurnedPiece:
    """A fresh piece of the known material, or of a hidden one, with the grid burned into it."""
    program = burn(process, cells, disc)
    material = hidden_material(process, seed) if hidden else MATERIALS[process]
    rng = np.random.default_rng([seed, sorted(PROCESSES).index(process)])
    height = SIZE[0] if disc else SIZE[1]
    wavelength = 10_600.0 if process == "protect" else 450.0
    piece = BurnedPiece(material, Sheet(SIZE[0], height, disc, 4), draw_piece(material, rng), 12.0, seed, wavelength)
    piece.expose(program.hatches, program.traces)
    return piece


def truth_of(piece: BurnedPiece, program: Program) -> dict[str, Truth]:
    """The truth of each cell; one that was too faint to count as a fill at all is unmarked."""
    return {placed.cell.code: truth_at(piece, placed, program.mirrored) for placed in program.layout.cells}


def truth_at(piece: BurnedPiece, placed: PlacedCell, mirrored: bool) -> Truth:
    """What burned where a cell lies."""
    x = (-placed.x_mm if mirrored else placed.x_mm) + piece.sheet.width_mm / 2
    y = placed.y_mm + piece.sheet.height_mm / 2
    return next(t for t in piece.truths if t.box[0] < x < t.box[2] and t.box[1] < y < t.box[3])


def frame_in_photo(piece: BurnedPiece, program: Program, pose: Pose) -> np.ndarray:
    """The frame's corners in the photo as shares of it, upper left first, as the mark is seen."""
    left, low, right, top = program.layout.extent()
    points = np.array([[left, top], [right, top], [right, low], [left, low]])
    # From behind the whole piece is turned over, so what was burned mirrored lies as it was meant.
    middle = np.array([piece.sheet.width_mm / 2, piece.sheet.height_mm / 2])
    return true_corners(piece, pose, points + middle)


def shoot(piece: BurnedPiece, program: Program, pose: Pose, seed: int, trouble: Trouble = Trouble.NONE) -> bytes:
    """A photo of it, from the side from which its mark is seen."""
    return GridCamera(piece, pose, seed, trouble, program.mirrored).shoot()
