"""The simulated controller: takes lines, plans, and runs them on a clock that may go faster than the wall's."""

import math
import threading
import time
from collections import deque
from dataclasses import dataclass

from keencoat.bench.laser.motion import Move, Timed, plan
from keencoat.bench.laser.program import S_FULL, Modal, RefusedError, Step, read_line, stays_on

_AHEAD, _LONGEST_LINE = 400, 50_000
_TICK_S = 0.01
_WIRE_S = 0.5


@dataclass(frozen=True)
class Bed:
    """Size of the bed in mm, where the piece's zero lies on it, top speed of rapids and acceleration."""

    x_mm: float
    y_mm: float
    zero_x_mm: float
    zero_y_mm: float
    rapid_mm_s: float
    accel_mm_s2: float


@dataclass(frozen=True)
class Burned:
    """A part of a move that was really made: when it started on the machine's clock, s, and the head's height above its
    usual one, mm. The move has the mean speed it really had, and the power that came out at it. One of no length is a
    beam that stood."""

    move: Move
    start_s: float
    seconds: float
    height_mm: float


@dataclass
class State:
    """What a status asks: what it does, lines taken and done, where the head is, the machine's clock in seconds."""

    word: str = "idle"
    lines: int = 0
    done: int = 0
    x_mm: float = 0.0
    y_mm: float = 0.0
    clock_s: float = 0.0


@dataclass(frozen=True)
class _Item:
    line: int
    step: Step
    move: Move | None
    dynamic: bool
    """Whether power follows the real speed."""
    stands_at: float
    """Power with which the beam goes on where the head stands after it, 0 to 1."""


class Controller:
    """Runs in a thread of its own. `pace`: how many seconds of the machine pass in one of the wall; inf for tests."""

    def __init__(self, bed: Bed, pace: float = 60.0, laser_mode: bool = True) -> None:
        self.bed, self.pace, self.laser_mode = bed, pace, laser_mode
        self.state = State()
        self.burned: list[Burned] = []
        self.height_mm = 0.0
        self._modal, self._at = Modal(), (0.0, 0.0)
        self._queue: deque[_Item] = deque()
        self._lock = threading.Condition()
        self._paused = self._stopped = self._closed = False
        self._debt_s = 0.0
        self._thread = threading.Thread(target=self._run, daemon=True)
        self._thread.start()

    def take(self, text: str) -> None:
        """Take a line; blocks while too many lie ahead. Raises RefusedError; a refused line moves nothing."""
        with self._lock:
            if self._stopped:
                raise RefusedError(9, "stopped; reset first")
            modal, step = read_line(text, self._modal, self._at, self.laser_mode)
            move = self._move(modal, step)
            self._lock.wait_for(lambda: len(self._queue) < _AHEAD or self._stopped)
            if self._stopped:
                raise RefusedError(9, "stopped; reset first")
            self._modal = modal
            self.state.lines += 1
            if move is not None:
                self._at = (move.x1, move.y1)
            stands_at = modal.s / S_FULL if stays_on(modal, self.laser_mode) else 0.0
            dynamic = modal.beam == 4 and self.laser_mode
            self._queue.append(_Item(self.state.lines, step, move, dynamic, stands_at))
            self._lock.notify_all()

    def _move(self, modal: Modal, step: Step) -> Move | None:
        if step.x_mm is None or step.y_mm is None:
            return None
        bed = self.bed
        if not (-1e-6 <= step.x_mm + bed.zero_x_mm <= bed.x_mm and -1e-6 <= step.y_mm + bed.zero_y_mm <= bed.y_mm):
            raise RefusedError(15, f"X{step.x_mm:g} Y{step.y_mm:g} is beyond the bed")
        rapid = modal.motion == 0
        speed = bed.rapid_mm_s if rapid else min(modal.feed_mm_min / 60, bed.rapid_mm_s)
        power = 0.0 if rapid or modal.beam == 5 else modal.s / S_FULL
        return Move(*self._at, step.x_mm, step.y_mm, speed, power, rapid)

    def pause(self) -> None:
        """Hold: the move under way is finished, then all waits."""
        with self._lock:
            self._paused = True
            self._lock.notify_all()

    def resume(self) -> None:
        """Go on after a pause or a halt."""
        with self._lock:
            self._paused = False
            self._lock.notify_all()

    def stop(self) -> None:
        """Beam off and head at rest at once; what lay ahead is thrown away."""
        with self._lock:
            self._stopped = True
            self._queue.clear()
            self._lock.notify_all()

    def close(self) -> None:
        """End the thread."""
        self.stop()
        with self._lock:
            self._closed = True
            self._lock.notify_all()
        self._thread.join(timeout=2)

    def _run(self) -> None:
        while True:
            with self._lock:
                if not self._queue or self._paused:
                    self.state.word = "stopped" if self._stopped else "hold" if self._paused else "idle"
                self._lock.wait_for(lambda: self._closed or (self._queue and not self._paused and not self._stopped))
                if self._closed:
                    return
                self.state.word = "run"
                items = self._straight_run()
            self._run_items(items)

    def _straight_run(self) -> list[_Item]:
        """The items up to the next rest: a chain of moves, or a single wait or halt."""
        items = [self._queue.popleft()]
        while (one := items[-1].move) is not None and not one.rapid and len(items) < _LONGEST_LINE:
            # The rest of a line may still be on the wire, or held back by a queue that was full.
            if not self._queue:
                self._lock.notify_all()
            self._lock.wait_for(lambda: self._queue or self._stopped, timeout=_WIRE_S)
            if not self._queue or self._queue[0].move is None or self._queue[0].move.rapid:
                break
            items.append(self._queue.popleft())
        self._lock.notify_all()
        return items

    def _run_items(self, items: list[_Item]) -> None:
        timed = {id(t.move): t for t in plan([i.move for i in items if i.move], self.bed.accel_mm_s2)}
        for number, item in enumerate(items):
            planned = timed.get(id(item.move))
            if planned is not None:
                self._make(planned, item.dynamic)
            elif item.step.wait_s:
                self._pass(item.step.wait_s)
            if item.step.halts:
                with self._lock:
                    self._paused = True
            if self._stopped:
                return
            self.state.done = item.line
            if self._paused:
                with self._lock:
                    self._queue.extendleft(reversed(items[number + 1 :]))
                    self._stand(item.stands_at)
                break
        with self._lock:
            self._lock.notify_all()

    def _make(self, timed: Timed, dynamic: bool) -> None:
        move, gone = timed.move, 0.0
        # A dark move is none the wiser for being told in parts.
        legs = timed.legs(self.bed.accel_mm_s2) if move.power > 0 else [(move.length_mm, timed.seconds)]
        for length, seconds in legs:
            start, (x, y) = self.state.clock_s, _along(move, gone)
            ran = self._pass(seconds)
            gone += length * ran / seconds
            self.state.x_mm, self.state.y_mm = _along(move, gone)
            speed = length / seconds
            power = move.power * speed / move.speed_mm_s if dynamic else move.power
            made = Move(x, y, self.state.x_mm, self.state.y_mm, speed, power, move.rapid)
            self.burned.append(Burned(made, start, ran, self.height_mm))
            if self._stopped:
                return

    def _stand(self, power: float) -> None:
        """Hold still until it goes on; a beam that stays on burns where it stands. Called with the lock held."""
        if power == 0:
            return
        start, clock_s = time.monotonic(), self.state.clock_s
        self.state.word = "hold"
        self._lock.wait_for(lambda: not self._paused or self._stopped)
        wall_s = time.monotonic() - start
        seconds = wall_s * self.pace if math.isfinite(self.pace) else wall_s
        self.state.clock_s += seconds
        at = (self.state.x_mm, self.state.y_mm)
        self.burned.append(Burned(Move(*at, *at, 0.0, power), clock_s, seconds, self.height_mm))

    def _pass(self, seconds: float) -> float:
        """Let the machine's clock run for so long, or until it is stopped; return how long it ran."""
        wall_s = self._debt_s + seconds / self.pace
        start = time.monotonic()
        # Sleeping less than a tick is not worth its while: it is owed, and slept later.
        while wall_s - (time.monotonic() - start) > _TICK_S:
            with self._lock:
                if self._lock.wait_for(lambda: self._stopped, timeout=_TICK_S):
                    ran = min(seconds, (time.monotonic() - start) * self.pace)
                    self.state.clock_s += ran
                    return ran
        self._debt_s = wall_s - (time.monotonic() - start)
        self.state.clock_s += seconds
        return seconds


def _along(move: Move, gone_mm: float) -> tuple[float, float]:
    share = gone_mm / move.length_mm
    return move.x0 + share * (move.x1 - move.x0), move.y0 + share * (move.y1 - move.y0)
