"""Heavy work in processes of its own: photos are decoded there, never by whoever holds sessions and the database.

Such a process is nice to others, is ended when it takes too long, is thrown away after some work (memory that a picture
took is given back), may not grow without bound, and is nobody where the server is root. One that a picture fells takes
nothing with it.
"""

import ctypes
import os
import resource
import threading
from collections.abc import Callable
from concurrent.futures import TimeoutError as TookTooLong
from functools import lru_cache
from multiprocessing import get_context, parent_process
from multiprocessing.connection import wait
from typing import TypeVar

from pebble import ProcessExpired, ProcessPool

from keencoat.core.errors import BadValueError, BusyError
from keencoat.core.vision import warm_decoders

T = TypeVar("T")

MOST_BYTES = 1_500_000_000
"""Writable memory of one process: a photo of 36 megapixels takes about 0.5 GB while it is read."""

_TASKS = 60
_NICE = 5
_NOBODY = 65534
_PRELOADED = [
    "keencoat.core.reading.shot",
    "keencoat.core.window.door",
    "keencoat.bench.gridshots",
    "keencoat.bench.coatshots",
    "keencoat.core.artwork.brought",
]


def aside(work: Callable[..., T], *given: object, seconds: float = 40.0) -> T:
    """What `work(*given)` returns or raises, done in a process for photos; all of it must pickle.

    Raises BusyError when enough waits already, BadValueError when it takes longer or fells its process."""
    return _do("photos", 4, work, given, seconds)


def at_the_door(work: Callable[..., T], *given: object, seconds: float = 15.0) -> T:
    """As `aside`, for people without an account: one at a time, in a process of their own."""
    return _do("door", 1, work, given, seconds)


def _do(pool: str, most: int, work: Callable[..., T], given: tuple[object, ...], seconds: float) -> T:
    waiting = _waiting(pool, most)
    if not waiting.acquire(blocking=False):
        raise BusyError("Too much is being worked out at this moment.", hint="Try again in a few seconds.")
    try:
        if not _pool(pool).active:
            # One that fell as a whole never comes back by itself.
            _pool.cache_clear()
        result: T = _pool(pool).schedule(work, args=given, timeout=seconds).result()
    except TookTooLong as error:
        raise BadValueError(
            f"This took longer than {seconds:.0f} s and was given up.", hint="Send less, or a smaller picture."
        ) from error
    except ProcessExpired as error:
        raise BadValueError(
            "This could not be worked out: it needs more than a picture or a grid ever should.",
            hint="Take another photo, in JPEG, or send less.",
        ) from error
    finally:
        waiting.release()
    return result


@lru_cache
def _waiting(_pool: str, most: int) -> threading.BoundedSemaphore:
    return threading.BoundedSemaphore(most)


@lru_cache
def _pool(_name: str) -> ProcessPool:
    context = get_context("forkserver")
    context.set_forkserver_preload(_PRELOADED)
    return ProcessPool(max_workers=1, max_tasks=_TASKS, initializer=_begin, context=context)


def _begin() -> None:
    """Become harmless: called once in each new process."""
    parent = parent_process()
    if parent is not None:
        threading.Thread(target=_end_with, args=(parent.sentinel,), daemon=True).start()
    os.nice(_NICE)
    resource.setrlimit(resource.RLIMIT_DATA, (MOST_BYTES, MOST_BYTES))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    warm_decoders()
    if os.geteuid() == 0:
        os.setgroups([])
        os.setresgid(_NOBODY, _NOBODY, _NOBODY)
        os.setresuid(_NOBODY, _NOBODY, _NOBODY)
        # PR_SET_NO_NEW_PRIVS (prctl(2)): nor does it become anybody else.
        ctypes.CDLL(None).prctl(38, 1, 0, 0, 0)


def _end_with(parent: int) -> None:
    wait([parent])
    os._exit(1)
