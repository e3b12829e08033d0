"""Work that outlasts a request: told to ask again, found then; and so through the API."""

import threading
import time
from concurrent.futures import ThreadPoolExecutor
from threading import Condition

import pytest
from cachetools import LRUCache, cached

from keencoat.core.errors import BadValueError, BusyError, NotYetError
from keencoat.shop import soon as beside
from keencoat.shop.soon import soon


@pytest.fixture(autouse=True)
def hasty(monkeypatch):
    monkeypatch.setattr(beside, "PATIENCE_S", 0.05)
    monkeypatch.setattr(beside, "_asked", {})
    monkeypatch.setattr(beside, "_worker", ThreadPoolExecutor(1))


def slow(size=4):
    """A function that waits to be let go, with how often it was begun."""
    go, begun = threading.Event(), []

    @cached(LRUCache(size), condition=Condition())
    def work(given):
        begun.append(given)
        go.wait(10)
        if given < 0:
            raise BadValueError("Under zero.")
        return given + 1

    return work, go, begun


def in_the_end(work, given):
    for _ in range(100):
        try:
            return soon(work, given)
        except NotYetError:
            time.sleep(0.02)
    raise AssertionError("it never came")


@pytest.mark.parametrize("size", [0, 4])
def test_what_takes_long_is_done_once_and_found_by_whoever_asks_again(size):
    """With a room that keeps nothing too: the answer waits for who asked."""
    work, go, begun = slow(size)
    for _ in range(3):
        with pytest.raises(NotYetError):
            soon(work, 1)
    go.set()
    assert in_the_end(work, 1) == 2
    assert begun == [1]
    assert soon(work, 2) == 3
    with pytest.raises(BadValueError, match="Under zero"):
        in_the_end(work, -1)


def test_what_is_kept_needs_no_turn_and_too_much_is_refused():
    work, go, begun = slow(40)
    go.set()
    assert in_the_end(work, 0) == 1
    go.clear()
    for given in range(1, 13):
        with pytest.raises(NotYetError):
            soon(work, given)
    with pytest.raises(BusyError):
        soon(work, 13)
    assert soon(work, 0) == 1
    assert begun == [0, 1]
    go.set()
    assert in_the_end(work, 5) == 6


def test_what_nobody_asks_for_any_more_is_not_begun(monkeypatch):
    work, go, begun = slow(40)
    for given in range(1, 5):
        with pytest.raises(NotYetError):
            soon(work, given)
    monkeypatch.setattr(beside, "_FORGOTTEN_S", -1.0)
    with pytest.raises(NotYetError):
        soon(work, 9)
    go.set()
    monkeypatch.setattr(beside, "_FORGOTTEN_S", 20.0)
    assert in_the_end(work, 9) == 10
    # What was being worked on came to its end.
    assert begun == [1, 9]
