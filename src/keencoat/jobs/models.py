"""A job and everything it leaves behind: coats put on, grids burned, ratings, locked settings."""

from keencoat.jobs.archive.models import BroughtArchive, BroughtPart, BroughtRow
from keencoat.jobs.artwork.models import Artwork, ArtworkBurn, ArtworkPack, ArtworkPhoto, ArtworkVersion
from keencoat.jobs.batch.models import Batch, BatchPiece, LaterLook, PiecePhoto
from keencoat.jobs.burns.models import BurnKind, LoggedBurn
from keencoat.jobs.cards.models import BroughtCard
from keencoat.jobs.coat.models import CoatLot, CoatPhoto, CoatStamp, DryLook, HoldUpTest, HoldUpWay
from keencoat.jobs.cost.models import JobCost, MoneySlip
from keencoat.jobs.grid.models import Cell, GridBurn, GridKind, TestGrid
from keencoat.jobs.job.models import Experiment, Job
from keencoat.jobs.placing.models import Placing
from keencoat.jobs.practice.models import Practice
from keencoat.jobs.reading.models import GridPhoto, PhotoLight, RatingEvent
from keencoat.jobs.run.models import RunRecord
from keencoat.jobs.window.models import LockedSetting

__all__ = [
    "Artwork",
    "ArtworkBurn",
    "ArtworkPack",
    "ArtworkPhoto",
    "ArtworkVersion",
    "Batch",
    "BatchPiece",
    "BroughtArchive",
    "BroughtCard",
    "BroughtPart",
    "BroughtRow",
    "BurnKind",
    "Cell",
    "CoatLot",
    "CoatPhoto",
    "CoatStamp",
    "DryLook",
    "Experiment",
    "GridBurn",
    "GridKind",
    "GridPhoto",
    "HoldUpTest",
    "HoldUpWay",
    "Job",
    "JobCost",
    "LaterLook",
    "LockedSetting",
    "LoggedBurn",
    "MoneySlip",
    "PhotoLight",
    "PiecePhoto",
    "Placing",
    "Practice",
    "RatingEvent",
    "RunRecord",
    "TestGrid",
]
