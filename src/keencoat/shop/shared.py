"""What one web process took long to work out, for the others of its server: in files of a folder of theirs alone.

script/server makes the folder anew: nothing is read from it that other code, or a server of another database, left.
Where there is none, each works everything out for itself.
"""

import fcntl
import logging
import pickle
import time
from collections.abc import Callable
from contextlib import suppress
from hashlib import sha256
from pathlib import Path
from typing import TypeVar

from django.conf import settings

T = TypeVar("T")

WORTH_S = 0.3
"""What takes less is quicker done than read."""
MOST_BYTES = 300_000_000
_log = logging.getLogger(__name__)


def shared(name: str, work: Callable[[], T]) -> T:
    """What `work()` returns, or what another process got by that name; whoever comes second waits for the first."""
    folder: Path | None = settings.SHARED_ROOT
    if folder is None:
        return work()
    path = folder / sha256(name.encode()).hexdigest()
    try:
        turn = path.with_name(f"{path.name[:2]}.turn").open("w")
    except OSError as error:
        _log.warning("Nothing can be shared: %s", error)
        return work()
    with turn:
        # One process at a time works on a thing; one that is killed lets go.
        fcntl.flock(turn, fcntl.LOCK_EX)
        # The server's other processes throw old ones away at any time.
        with suppress(FileNotFoundError), path.open("rb") as kept:
            found: T = pickle.load(kept)  # nobody but this server writes there
            return found
        began = time.monotonic()
        result = work()
        if time.monotonic() - began > WORTH_S:
            _write(path, result)
        return result


def _write(path: Path, result: object) -> None:
    part = path.with_suffix(".part")
    try:
        with part.open("wb") as kept:
            pickle.dump(result, kept, protocol=pickle.HIGHEST_PROTOCOL)
        part.rename(path)
        _make_room(path)
    except OSError as error:
        # A full disk costs the others time, and nobody an answer.
        _log.warning("Could not keep what was worked out: %s", error)
        part.unlink(missing_ok=True)


def _make_room(newest: Path) -> None:
    """The oldest go."""
    room = MOST_BYTES
    for path in sorted(newest.parent.glob("?" * len(newest.name)), key=_made_at, reverse=True):
        with suppress(FileNotFoundError):
            room -= path.stat().st_size
            if room < 0 and path != newest:
                path.unlink()


def _made_at(path: Path) -> float:
    try:
        return path.stat().st_mtime
    except FileNotFoundError:
        return 0.0
