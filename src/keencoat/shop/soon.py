"""What may outlast a request goes on beside it: whoever asks is told to ask again, and finds it then."""

import time
from collections.abc import Callable, Hashable, MutableMapping
from concurrent.futures import Future, ThreadPoolExecutor, wait
from contextlib import AbstractContextManager, nullcontext, suppress
from ctypes import CDLL
from dataclasses import dataclass
from functools import partial
from inspect import unwrap
from threading import RLock
from typing import Any, Protocol, TypeVar

from django.db import connections

from keencoat.core.errors import BusyError, NotYetError
from keencoat.shop.shared import shared

T = TypeVar("T", covariant=True)

PATIENCE_S = 0.5
_MOST, _FORGOTTEN_S = 12, 20.0


class _Kept(Protocol[T]):
    """A function that keeps what it returned (`cachetools.cached`), by keys whose words say all that they stand for."""

    @property
    def cache(self) -> MutableMapping[Any, Any] | None: ...
    @property
    def cache_lock(self) -> AbstractContextManager[Any] | None: ...
    @property
    def cache_key(self) -> Callable[..., Hashable]: ...
    def __call__(self, *given: Any) -> T: ...  # noqa: ANN401 # each its own


@dataclass
class _Asked:
    """An answer on its way, and when it was last asked for."""

    answer: Future[Any]
    at: float


_libc = CDLL(None)

_Key = tuple[_Kept[Any], Hashable]
_asked: dict[_Key, _Asked] = {}
_turn = RLock()
# One thing after the other: two whole faces at once would fill the memory.
_worker = ThreadPoolExecutor(1, "soon")


def soon(work: _Kept[T], *given: object) -> T:
    """What `work(*given)` returns or raises. Raises NotYetError where that takes longer than a moment: it goes on, and
    whoever asks again gets it. Raises BusyError where too much is on its way."""
    key = work, work.cache_key(*given)
    if _is_kept(key):
        return work(*given)
    with _turn:
        now = time.monotonic()
        _forget(now)
        asked = _asked.get(key)
        if asked is None:
            if len(_asked) >= _MOST:
                raise BusyError("Too much is being worked out at this moment.", hint="Try again in a few seconds.")
            asked = _asked[key] = _Asked(_worker.submit(_alone, key, given), now)
            asked.answer.add_done_callback(partial(_let_go, key))
        asked.at = now
    if not wait([asked.answer], PATIENCE_S).done:
        raise NotYetError("This is still being worked out.", hint="Ask again in a second.")
    with _turn:
        _asked.pop(key, None)
    result: T = asked.answer.result()
    return result


def _is_kept(key: _Key) -> bool:
    work, given = key
    return work.cache is not None and given in work.cache


def _let_go(key: _Key, _: Future[Any]) -> None:
    """What is kept elsewhere need not be kept here for who asks again, perhaps of another process."""
    with _turn:
        if _is_kept(key):
            _asked.pop(key, None)


def _forget(now: float) -> None:
    """What nobody asks for any more is not begun, and not kept."""
    for key, asked in list(_asked.items()):
        if now - asked.at > _FORGOTTEN_S and (asked.answer.done() or asked.answer.cancel()):
            del _asked[key]


def _alone(key: _Key, given: tuple[object, ...]) -> object:
    work, kept_as = key
    named = unwrap(work)
    try:
        result = shared(f"{named.__module__}.{named.__qualname__} {kept_as}", partial(work, *given))
    finally:
        connections.close_all()
        # What a large face needed meanwhile lies about in pieces: glibc gives it back when it is told to.
        _libc.malloc_trim(0)
    if work.cache is not None and kept_as not in work.cache:
        # Another process had it. What is too large for the cache is found there again.
        with work.cache_lock or nullcontext(), suppress(ValueError):
            work.cache[kept_as] = result
    return result
