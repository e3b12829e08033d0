"""What may be typed: each figure is taken up to both of its limits, and refused by its name right beyond them."""

import ast
import math
from collections.abc import Callable
from dataclasses import fields, replace
from datetime import date
from decimal import Decimal
from pathlib import Path
from typing import Any

import pytest

import keencoat.core
from keencoat.core.artwork.made import Placement
from keencoat.core.artwork.spec import ArtSpec
from keencoat.core.artwork.tone import Crop, ToneWork
from keencoat.core.artwork.tone_curve import Look, WedgeStep
from keencoat.core.batch.later import LaterTrial, require_trial
from keencoat.core.coat.amounts import mix_for
from keencoat.core.coat.catalogue import COATS
from keencoat.core.coat.drying import DryRecord
from keencoat.core.coat.experiment import Arm, plan_experiment
from keencoat.core.coat.opacity import HoldUp, coats_needed
from keencoat.core.coat.room import Air
from keencoat.core.coat.tools import find_tool
from keencoat.core.costing.batch_cost import Order, PieceWork, Rates
from keencoat.core.costing.slip import Slip, SlipKind
from keencoat.core.errors import BadValueError
from keencoat.core.grid.burning import BurnPlan
from keencoat.core.jig.guide import Feet
from keencoat.core.jig.layout import JigSpec
from keencoat.core.piece.flat import FlatPiece, Shape
from keencoat.core.piece.girths import Girth, GirthTool, NarrowEnd, read_wall
from keencoat.core.piece.round import RoundPiece
from keencoat.core.placing.beam import usual_beam
from keencoat.core.placing.fixed_head import UnderHead, incidence_deg, sagitta_mm, turns_for
from keencoat.core.placing.level import levelling_of, squaring_of, supports_of
from keencoat.core.placing.spec import Mark, PlacingSpec
from keencoat.core.placing.strips import Strip
from keencoat.core.placing.turning import StandsInFor, TickPair, TurningDevice, TurningKind, of_seam
from keencoat.core.placing.wall import TaperedWall
from keencoat.core.quantities.setting import BeamSource, Machine, Setting, require_lines
from keencoat.core.quantities.slice import Slice
from keencoat.core.safety.pairs import WaveBand
from keencoat.core.substrate.materials import SUBSTRATES
from keencoat.core.toolpath.both_ways import MeasuredOffset
from keencoat.core.window.focus_ladder import MeasuredHeight
from keencoat.core.window.plan import Budget
from keencoat.core.window.scatter import Scatter
from keencoat.core.window.worth import Batch

MACHINE = Machine(BeamSource.BLUE, 5, 0.08, 1, 200, 1, 1000, 400, 400)
MARK = Mark(20, 10)
RATES = Rates(*(Decimal(n) for n in ("20", "5", "0.3", "60", "0", "0")))
WORK = PieceWork(*(Decimal(n) for n in ("1", "1", "1", "3", "1", "5")))
SLIP = Slip(SlipKind.QUOTE, 2026, 7, date(2026, 5, 4), (), "the garden", "labels", (), 5, Decimal(4), Decimal(0), "EUR")
ARMS = (Arm("tempera_brushed", "foam_brush", 1), Arm("tempera_brushed", "foam_brush", 2))
MIX = mix_for(COATS["tempera_brushed"], find_tool("foam_brush"), 90, 4, 2)
GIRTHS = (Girth(1, 190, GirthTool.TAPE),)

# A thing that holds, then what may be typed for each of its figures; None where another figure is the limit.
THINGS: list[tuple[Any, dict[str, tuple[float | None, float | None]]]] = [
    (Placement(50), {"width_mm": (1, 2000), "x_mm": (-2000, 2000), "y_mm": (-2000, 2000), "quarter_turns": (0, 3)}),
    (ArtSpec(Placement(50)), {"bleed_mm": (0, 5)}),
    (Crop(0.2, 0.2, 0.8, 0.8), {"crop.left": (0, None), "crop.top": (0, None), "crop.right": (None, 1),
                                 "crop.bottom": (None, 1)}),
    (ToneWork(), {"black": (0, 0.95), "white": (0.05, 1), "gamma": (0.2, 5), "brightness": (-0.5, 0.5),
                  "contrast": (0, 3), "local": (0, 2), "sharpen": (0, 3), "ground": (0, 0.2)}),
    (Look(0.2, 0.8), {"ground_y": (0, 1), "mark_y": (0, 1)}),
    (WedgeStep(0.5, 0.5), {"share": (0, 1), "fullness": (-0.5, 1.5)}),
    (DryRecord(30, 30, True), {"observed_min": (0.1, 20_000), "model_min": (0.01, 100_000)}),
    (HoldUp(2, 100, 10), {"coats": (1, 50)}),
    (Air(20, 50), {"temperature_c": (-5, 60), "humidity_pct": (1, 100)}),
    (RATES, {"hand_hour": (0, 100_000), "machine_hour": (0, 100_000), "kwh": (0, 100_000), "draw_w": (0, 100_000),
             "fee_share": (0, 0.9), "tax_share": (0, 1)}),
    (WORK, {"blank": (0, 1_000_000), "coat": (0, 1_000_000), "consumables": (0, 1_000_000),
            "hands_min": (0, 100_000), "finish_min": (0, 100_000), "machine_min": (0, 100_000)}),
    (Order(5, Decimal(10)), {"good": (1, 1_000_000), "setup_min": (0, 100_000), "tests": (0, 1_000_000)}),
    (SLIP, {"year": (1900, 2200), "number": (1, 1_000_000), "good": (1, 1_000_000), "price": (0, 1e9),
            "tax_share": (0, 1)}),
    (BurnPlan(Setting(50, 50, 0.1)), {"wait_s": (0, 600)}),
    (Feet(600, 600, 5, 10), {"apart_mm": (10, 2000), "across_mm": (0, 1000), "length_mm": (2, 500),
                             "width_mm": (2, 500)}),
    (JigSpec((200, 150), kerf_mm=0, play_mm=5, margin_mm=30), {"play_mm": (0, 5), "kerf_mm": (0, 2), "gap_mm": (1, 200),
                                         "margin_mm": (10, 200), "finger_mm": (0, 30), "hole_deg": (-360, 360)}),
    (FlatPiece(Shape.RECTANGLE, 60, 40, 4, 1), {"width_mm": (5, 2000), "height_mm": (5, 2000),
                                                "thickness_mm": (0.05, 100)}),
    (RoundPiece(60, 40, 120, 4, 1), {"diameter_mm": (None, 1000), "narrow_mm": (5, 60), "height_mm": (5, 1000),
                                     "thickness_mm": (0.05, 100)}),
    (Girth(20, 200, GirthTool.TAPE), {"height_mm": (0, 1000), "figure_mm": (1, 4000)}),
    (MARK, {"mark.width_mm": (0.5, 4000), "mark.height_mm": (0.5, 2000), "mark.along_mm": (0, 2000),
            "mark.turn_deg": (-360, 360), "mark.seam_deg": (-360, 360)}),
    (PlacingSpec(MARK), {"length_mm": (5, 1000), "stem_mm": (0, 90), "supports_mm": (10, 2000),
                         "focus_below_mm": (0, 500)}),
    (Strip(30, 0, 2, (0, 10), False, 3), {"radius_mm": (2, 1000)}),
    (TurningDevice(TurningKind.ROLLERS, 120, StandsInFor.Y, 40), {"mm_per_turn": (0.1, 10_000),
                                                                 "roller_mm": (2, 500)}),
    (TaperedWall(400, 400, 1200), {"below_mm": (1, 1000), "above_mm": (1, 1000), "slant_mm": (None, 2000)}),
    (MACHINE, {"rated_w": (0.1, 1000), "spot_mm": (0.005, 2), "max_speed_mm_s": (1, 20_000),
               "min_power_pct": (0.1, 99), "accel_mm_s2": (10, 100_000), "bed_x_mm": (10, 10_000),
               "bed_y_mm": (10, 10_000)}),
    (Setting(50, 50, 0.1), {"power_pct": (0.01, 100), "speed_mm_s": (0.01, 20_000), "interval_mm": (0.005, 5),
                            "passes": (1, 50)}),
    (Slice(MACHINE, 0.1), {"film_share": (0.2, 5), "interval_mm": (0.005, 5), "passes": (1, 50)}),
    (WaveBand(400, 500, 5), {"from_nm": (180, None), "to_nm": (None, 20_000), "density": (0.1, 12)}),
    (MeasuredOffset(50, 0), {"speed_mm_s": (0.01, 20_000), "offset_mm": (-5, 5)}),
    (MeasuredHeight(0, 100), {"width_um": (0, 20_000)}),
    (Budget(20, 3), {"cells_left": (0, 10_000), "rounds_left": (0, 1000)}),
    (Scatter(), {"coat_cv": (0, 1), "power_cv": (0, 1), "focus_cv": (0, 1), "measured_pieces": (0, 100_000)}),
    (Batch(5), {"pieces": (0, 1_000_000), "spare_worth": (0, 1000)}),
]  # fmt: skip

# Figures given to a function: what it is called in the error, the function of that figure, the least, the most.
GIVEN: list[tuple[str, Callable[[float], object], float, float]] = [
    ("interval_mm", lambda mm: require_lines(mm, 1), 0.005, 5),
    ("passes", lambda passes: require_lines(0.1, passes), 1, 50),
    ("replicates", lambda times: plan_experiment(ARMS, times, 1), 1, 10),
    ("wanted_density", lambda wanted: coats_needed([], 0.5, wanted), 0.1, 6),
    ("washes", lambda washes: require_trial(SUBSTRATES["mild_steel"], LaterTrial.DISHWASHER, washes), 1, 10_000),
    ("length_mm", lambda mm: read_wall(GIRTHS, mm, NarrowEnd.NEITHER, 60), 5, 1000),
    ("half_angle_deg", lambda deg: levelling_of(TurningKind.ROLLERS, deg, 150, 60), -44, 44),
    ("supports_mm", lambda mm: levelling_of(TurningKind.ROLLERS, 5, mm, 60), 10, 2000),
    ("travel_mm", lambda mm: squaring_of(0, 0, mm, 120), 10, 5000),
    ("feet_mm", lambda mm: squaring_of(0, 0, 200, mm), 10, 5000),
    ("near_mm", lambda mm: squaring_of(mm, mm, 200, 120), -500, 500),
    ("stem_mm", lambda mm: supports_of(100, mm), 0, 90),
    ("width_mm", lambda mm: turns_for(mm, 10, 30), 0.1, 2 * math.pi * 30),
    ("asked_turns", lambda turns: TickPair(turns, 200 * turns, 200), 0.1, 20),
    ("round_mm", lambda mm: TickPair(1, 200 if math.isnan(mm) else mm, mm), 10, 4000),
    ("measured_mm", lambda gap: of_seam(2, gap, 300), -100, 100),
    ("radius_mm", lambda mm: UnderHead(None, Setting(50, 50, 0.1), MACHINE, usual_beam(MACHINE), mm), 2, 1000),
    ("jar_ml", MIX.jars_of, 5, 20_000),
    ("left_ml", MIX.pieces_from, 0, 100_000),
    ("chord_mm", lambda chord: sagitta_mm(30, chord), 0, 60),
    ("aside_mm", lambda aside: incidence_deg(30, aside), -30, 30),
]

# Among what is given to a function, but for coats of one's own: tests/core/test_own_coats.py.
ELSEWHERE = {"TickPair", "UnderHead", "Mix", "OwnRecipe"}
COUNTS = {"passes", "washes", "replicates"}
# A piece's diameter is its width on the page.
CALLED = {"diameter_mm": "width_mm"}


def beyond(limit: float, way: int, whole: bool) -> float:
    return limit + way * (1 if whole else max(abs(limit), 1e-3) * 1e-6)


@pytest.mark.parametrize(("thing", "limits"), THINGS, ids=[type(thing).__name__ for thing, _ in THINGS])
def test_figures_are_taken_up_to_their_limits(thing, limits):
    kinds = {field.name: {int: int, Decimal: Decimal}.get(field.type, float) for field in fields(thing)}
    for named, (low, high) in limits.items():
        field = named.rpartition(".")[2]
        kind = kinds[field]
        for limit, way in ((low, -1), (high, 1)):
            if limit is None:
                continue
            assert getattr(replace(thing, **{field: kind(limit)}), field) == kind(limit)
            with pytest.raises(BadValueError) as told:
                replace(thing, **{field: kind(beyond(limit, way, kind is int))})
            assert told.value.field == CALLED.get(named, named)
        with pytest.raises(BadValueError):
            replace(thing, **{field: math.nan})


@pytest.mark.parametrize(("named", "given", "low", "high"), GIVEN, ids=[row[0] for row in GIVEN])
def test_figures_given_to_a_function_are_taken_up_to_their_limits(named, given, low, high):
    for limit in (low, high):
        given(limit)
    for wrong in (beyond(low, -1, named in COUNTS), beyond(high, 1, named in COUNTS), math.nan):
        with pytest.raises(BadValueError) as told:
            given(wrong)
        assert told.value.field == named


def test_every_thing_with_limits_is_held_here():
    """A new dataclass that calls `require_within` needs its row above."""
    limited = set()
    for module in Path(keencoat.core.__file__).parent.rglob("*.py"):
        for node in ast.walk(ast.parse(module.read_text())):
            if isinstance(node, ast.ClassDef) and "require_within" in {
                part.id for part in ast.walk(node) if isinstance(part, ast.Name)
            }:
                limited.add(node.name)
    assert limited - ELSEWHERE == {type(thing).__name__ for thing, _ in THINGS}
