"""What one web process has worked out is read by the others, and nothing depends on it."""

import os
import threading
from functools import partial

import numpy as np
import pytest

from keencoat.shop import shared as among
from keencoat.shop.shared import shared


@pytest.fixture(autouse=True)
def folder(settings, tmp_path, monkeypatch):
    monkeypatch.setattr(among, "WORTH_S", -1.0)
    settings.SHARED_ROOT = tmp_path
    return tmp_path


def kept(folder):
    return sorted(path for path in folder.iterdir() if not path.suffix)


def never():
    raise AssertionError("worked out twice")


def test_it_is_worked_out_once_by_its_whole_name(folder):
    face = np.arange(6.0).reshape(2, 3)
    assert shared("made (7, 1)", lambda: face) is face
    assert (shared("made (7, 1)", never) == face).all()
    assert shared("made (7, 2)", lambda: "another") == "another"
    assert len(kept(folder)) == 2


def test_whoever_comes_second_waits_and_reads(folder):
    begun, go, got = threading.Event(), threading.Event(), []

    def slowly():
        begun.set()
        go.wait(10)
        return "done"

    first = threading.Thread(target=lambda: got.append(shared("face", slowly)))
    first.start()
    begun.wait(10)
    second = threading.Thread(target=lambda: got.append(shared("face", never)))
    second.start()
    second.join(0.2)
    assert got == []
    go.set()
    first.join(10)
    second.join(10)
    assert got == ["done", "done"]


def test_what_was_quick_or_failed_is_not_kept(folder, monkeypatch):
    with pytest.raises(ZeroDivisionError):
        shared("fails", lambda: 1 / 0)
    monkeypatch.setattr(among, "WORTH_S", 60.0)
    assert shared("quick", lambda: 1) == 1
    assert kept(folder) == []


def test_the_oldest_make_room_and_the_newest_stays_however_large(folder, monkeypatch):
    monkeypatch.setattr(among, "MOST_BYTES", 2500)
    for n in range(4):
        shared(f"face {n}", partial(bytes, 1000))
        for path in kept(folder):
            os.utime(path, (path.stat().st_mtime - 10,) * 2)
    assert len(kept(folder)) == 2
    assert [shared(f"face {n}", lambda: b"anew") == bytes(1000) for n in (3, 2)] == [True, True]
    shared("large", partial(bytes, 9000))
    assert [path.stat().st_size > 9000 for path in kept(folder)] == [True]


def test_without_a_folder_or_room_in_it_each_works_for_itself(folder, settings, caplog, monkeypatch):
    settings.SHARED_ROOT = None
    assert [shared("face", lambda n=n: n) for n in range(2)] == [0, 1]
    settings.SHARED_ROOT = folder / "gone"
    assert [shared("face", lambda n=n: n) for n in range(2)] == [0, 1]
    assert "Nothing can be shared" in caplog.text
    settings.SHARED_ROOT = folder

    def full(*_given, **_how):
        raise OSError("No space left on device")

    monkeypatch.setattr(among.pickle, "dump", full)
    assert shared("face", lambda: 1) == 1
    assert "No space left" in caplog.text
    assert [path.suffix for path in folder.iterdir()] == [".turn"]
