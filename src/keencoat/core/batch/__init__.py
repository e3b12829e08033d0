"""A batch at a locked setting, piece by piece: what is to do now, and what the first pieces say of the others.

What others may use of it; within the folder, modules import each other directly.
"""

from keencoat.core.batch.findings import Looked, batch_findings
from keencoat.core.batch.later import LOOK_AGAIN, Lasted, LaterTrial, require_trial, trials_for
from keencoat.core.batch.tasks import PieceNow, PieceTask, TaskKind, Times, tasks_of

__all__ = [
    "LOOK_AGAIN",
    "Lasted",
    "LaterTrial",
    "Looked",
    "PieceNow",
    "PieceTask",
    "TaskKind",
    "Times",
    "batch_findings",
    "require_trial",
    "tasks_of",
    "trials_for",
]
