"""A job and everything it leaves behind: coats put on, grids burned, ratings, locked settings."""

from keencoat.jobs.models.coat import CoatLot, CoatPhoto, CoatStamp, DryLook, HoldUpTest
from keencoat.jobs.models.grid import Cell, RatingEvent, TestGrid
from keencoat.jobs.models.job import Experiment, Job
from keencoat.jobs.models.lock import LockedSetting

__all__ = [
    "Cell",
    "CoatLot",
    "CoatPhoto",
    "CoatStamp",
    "DryLook",
    "Experiment",
    "HoldUpTest",
    "Job",
    "LockedSetting",
    "RatingEvent",
    "TestGrid",
]
