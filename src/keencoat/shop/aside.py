"""Heavy work in processes of its own: photos are decoded there, never by whoever holds sessions and the database.

Such a process is nice to others, is ended when it computes for too long, is thrown away after some work (memory that
a picture took is given back), may not grow without bound, and is nobody where the server is root. One that a picture
fells takes nothing with it. What counts is the time that it computes: a busy machine refuses nothing that a quiet one
takes.
"""

import ctypes
import math
import os
import resource
import signal
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

_WALL_S, _WALL_PER_CPU = 60, 8
"""A machine that is busier than this for so long does nothing well."""

MOST_WAITING = 2
"""Threads of a web process that may wait for something."""
_waiting = threading.BoundedSemaphore(MOST_WAITING)
_at_the_door = threading.BoundedSemaphore(1)

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


def aside(work: Callable[..., T], *given: object, cpu_s: int = 40) -> T:
    """What `work(*given)` returns or raises, done in a process for photos; all of it must pickle.

    Raises BusyError when enough waits already, BadValueError when it computes for longer or fells its process."""
    return _do("photos", work, given, cpu_s)


def at_the_door(work: Callable[..., T], *given: object, cpu_s: int = 15) -> T:
    """As `aside`, for people without an account: one at a time, in a process of their own."""
    if not _at_the_door.acquire(blocking=False):
        raise _busy()
    try:
        return _do("door", work, given, cpu_s)
    finally:
        _at_the_door.release()


def _do(pool: str, work: Callable[..., T], given: tuple[object, ...], cpu_s: int) -> T:
    if not _waiting.acquire(blocking=False):
        raise _busy()
    try:
        if not _pool(pool).active:
            # One that fell as a whole never comes back by itself.
            _pool.cache_clear()
        todo = _pool(pool).schedule(_within, args=(cpu_s, work, given), timeout=_WALL_S + cpu_s * _WALL_PER_CPU)
        result: T = todo.result()
    except TookTooLong as error:
        raise BusyError("The machine is too busy for this.", hint="Try again when less is going on.") from error
    except ProcessExpired as error:
        if error.exitcode == -signal.SIGXCPU:
            raise BadValueError(
                f"This would take more than {cpu_s} s of computing and was given up.",
                hint="Send less, or a smaller picture.",
            ) from error
        raise BadValueError(
            "This could not be worked out: it needs more than a picture or a grid ever should.",
            hint="Take another photo, in JPEG, or send less.",
        ) from error
    finally:
        _waiting.release()
    return result


def _busy() -> BusyError:
    return BusyError("Too much is being worked out at this moment.", hint="Try again in a few seconds.")


def _within(cpu_s: int, work: Callable[..., T], given: tuple[object, ...]) -> T:
    """Do it; the kernel ends the process once it has computed for so long (setrlimit(2))."""
    spent = resource.getrusage(resource.RUSAGE_SELF)
    soft = math.ceil(spent.ru_utime + spent.ru_stime) + cpu_s
    resource.setrlimit(resource.RLIMIT_CPU, (soft, resource.RLIM_INFINITY))
    return work(*given)


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
