"""Placing: where the mark lands, on flat pieces and on round ones.

What others may use of it; within the folder, modules import each other directly.
"""

from keencoat.core.placing.advice import (
    band_findings,
    head_findings,
    level_findings,
    stale_finding,
    strain_findings,
    turn_findings,
    wall_findings,
)
from keencoat.core.placing.beam import Beam, usual_beam
from keencoat.core.placing.centre import Disc, LyingSheet, disc_from_chords, disc_through, sheet_at
from keencoat.core.placing.fixed_head import FixedHead, Turns, UnderHead, across_mm, fixed_head, turns_for
from keencoat.core.placing.framing import Frame, frame_gcode, frame_of
from keencoat.core.placing.height import HeightRoom, height_room
from keencoat.core.placing.level import Levelling, Support, levelling_of, squaring_of, supports_of
from keencoat.core.placing.onto import art_on, wall_of
from keencoat.core.placing.spec import Mark, PlacingSpec, start_of_placing
from keencoat.core.placing.strips import Strip, StripProgram
from keencoat.core.placing.ticks import ticks_gcode
from keencoat.core.placing.turned import Turned, TurnedProgram
from keencoat.core.placing.turning import (
    StandsInFor,
    TickPair,
    TurnCalibration,
    TurningDevice,
    TurningKind,
    calibrate,
    degrees_per_mm,
    mm_per_turn_of,
    of_seam,
)
from keencoat.core.placing.wall import ArtOnWall, ArtWay, Band, Distortion, TaperedWall, band_of, distortion_of

__all__ = [
    "ArtOnWall",
    "ArtWay",
    "Band",
    "Beam",
    "Disc",
    "Distortion",
    "FixedHead",
    "Frame",
    "HeightRoom",
    "Levelling",
    "LyingSheet",
    "Mark",
    "PlacingSpec",
    "StandsInFor",
    "Strip",
    "StripProgram",
    "Support",
    "TaperedWall",
    "TickPair",
    "TurnCalibration",
    "Turned",
    "TurnedProgram",
    "TurningDevice",
    "TurningKind",
    "Turns",
    "UnderHead",
    "across_mm",
    "art_on",
    "band_findings",
    "band_of",
    "calibrate",
    "degrees_per_mm",
    "disc_from_chords",
    "disc_through",
    "distortion_of",
    "fixed_head",
    "frame_gcode",
    "frame_of",
    "head_findings",
    "height_room",
    "level_findings",
    "levelling_of",
    "mm_per_turn_of",
    "of_seam",
    "sheet_at",
    "squaring_of",
    "stale_finding",
    "start_of_placing",
    "strain_findings",
    "supports_of",
    "ticks_gcode",
    "turn_findings",
    "turns_for",
    "usual_beam",
    "wall_findings",
    "wall_of",
]
