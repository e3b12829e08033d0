"""The other end of the socket: implements `keencoat.core.ports.Laser`."""

import queue
import socket
import threading
from contextlib import suppress

from keencoat.core.ports import LaserStatus


class SocketLaser:
    """A laser at a loopback address. Answers to lines and to words asked at once come back on one wire."""

    def __init__(self, address: tuple[str, int], timeout_s: float = 30.0) -> None:
        self._socket = socket.create_connection(address, timeout=timeout_s)
        self._timeout_s = timeout_s
        self._answers: queue.Queue[str] = queue.Queue()
        self._states: queue.Queue[str] = queue.Queue()
        threading.Thread(target=self._listen, daemon=True).start()

    def _listen(self) -> None:
        with self._socket.makefile("r", encoding="utf-8") as lines:
            try:
                for line in lines:
                    (self._states if line.startswith("state=") else self._answers).put(line.strip())
            except OSError:
                # The link was closed on this side: whoever waits gets the word below.
                pass
        self._answers.put("error 0 the line is dead")

    def send(self, line: str) -> None:
        """Hand over a line; its answer is fetched by `answer`."""
        self._socket.sendall(f"{line}\n".encode())

    def answer(self, timeout_s: float | None = None) -> str:
        """The answer to the oldest line not answered yet: `ok`, or `error` with number and reason."""
        return self._answers.get(timeout=timeout_s or self._timeout_s)

    def has_answer(self) -> bool:
        """Whether an answer waits."""
        return not self._answers.empty()

    def status(self) -> LaserStatus:
        """What it does now."""
        fields = dict(part.split("=", 1) for part in self._ask("status").split())
        return LaserStatus(fields["state"], int(fields["done"]), float(fields["clock"]))

    def pause(self) -> None:
        """Hold."""
        self._ask("pause")

    def resume(self) -> None:
        """Go on."""
        self._ask("resume")

    def stop(self) -> None:
        """Beam off at once."""
        self._ask("stop")

    def set_height(self, height_mm: float) -> None:
        """What the maker's hand does at a halt."""
        self._ask(f"head {height_mm:g}")

    def close(self) -> None:
        """Hang up."""
        # The other end may have hung up first.
        with suppress(OSError):
            self._socket.shutdown(socket.SHUT_RDWR)
        self._socket.close()

    def _ask(self, word: str) -> str:
        self.send(word)
        return self._states.get(timeout=self._timeout_s)
