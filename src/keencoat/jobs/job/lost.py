"""Work of a worker that is gone: told of where it had begun, asked for again where it had not."""

import logging
from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime, timedelta
from typing import Any

from django.db import transaction
from django.db.models import Model, QuerySet
from procrastinate.contrib.django.models import ProcrastinateJob

from keencoat.core.errors import KeenCoatError
from keencoat.core.states import BurnState

_LOG = logging.getLogger(__name__)


@dataclass(frozen=True)
class Lost:
    """Rows with state, asked_at, beat_at and ended_at, and how to tell that one is lost: no beat for so long. `key`
    names a row in its task; `end` ends one that had begun."""

    rows: QuerySet[Any]
    after: timedelta
    key: str
    end: Callable[[Any], None]


def mend_lost(lost: Lost, at: datetime, ask_again: Callable[..., object]) -> int:
    """End what nobody does any more; have queued rows whose task is gone asked for again. How many were mended."""
    mended = 0
    silent = lost.rows.filter(ended_at=None, asked_at__lt=at - lost.after).exclude(beat_at__gte=at - lost.after)
    for row in silent:
        try:
            mended += _mend(lost, row, ask_again)
        except KeenCoatError as error:
            # One odd row must not keep the others from being told of.
            _LOG.error("%s cannot be ended: %s", row, error)
    return mended


@transaction.atomic
def _mend(lost: Lost, row: Model, ask_again: Callable[..., object]) -> bool:
    if row.state != BurnState.QUEUED:  # type: ignore[attr-defined] # as `Lost` says
        lost.end(row)
    elif ProcrastinateJob.objects.filter(**{f"args__{lost.key}": row.pk}, status="todo").exists():
        return False
    else:
        ask_again(**{lost.key: row.pk})
    return True
