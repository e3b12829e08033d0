"""A job and everything it leaves behind: coats put on, grids burned, ratings, locked settings."""

from keencoat.jobs.models.coat import CoatLot, CoatPhoto, CoatStamp, DryLook, HoldUpTest
from keencoat.jobs.models.grid import Cell, GridBurn, GridPhoto, RatingEvent, TestGrid
from keencoat.jobs.models.job import Experiment, Job
from keencoat.jobs.models.lock import LockedSetting
from keencoat.jobs.models.practice import Practice
from keencoat.jobs.models.run import RunRecord

__all__ = [
    "Cell",
    "CoatLot",
    "CoatPhoto",
    "CoatStamp",
    "DryLook",
    "Experiment",
    "GridBurn",
    "GridPhoto",
    "HoldUpTest",
    "Job",
    "LockedSetting",
    "Practice",
    "RatingEvent",
    "RunRecord",
    "TestGrid",
]
