"""The simulated laser behind a loopback socket: a line in, an answer out.

G-code lines are answered `ok` or `error NUMBER WHY`, in order. The words `status`, `pause`, `resume`, `stop` and
`head MM` are answered at once, whatever lies ahead: `state=run lines=… done=… x=… y=… clock=…`.
"""

import contextlib
import queue
import socket
import socketserver
import threading

from keencoat.bench.laser.controller import Controller
from keencoat.bench.laser.program import RefusedError

_HOST = "127.0.0.1"


class LaserServer:
    """Listens on a loopback port of its own until closed; one client at a time drives its controller."""

    def __init__(self, controller: Controller) -> None:
        self.controller = controller
        outer = self

        class Handler(socketserver.StreamRequestHandler):
            def handle(self) -> None:
                _Session(outer.controller, self.connection).serve(self.rfile)

        self._server = socketserver.ThreadingTCPServer((_HOST, 0), Handler)
        self._server.daemon_threads = True
        threading.Thread(target=self._server.serve_forever, kwargs={"poll_interval": 0.05}, daemon=True).start()

    @property
    def address(self) -> tuple[str, int]:
        """Host and port."""
        return _HOST, self._server.server_address[1]

    def close(self) -> None:
        """Stop listening and end the controller."""
        self._server.shutdown()
        self._server.server_close()
        self.controller.close()


class _Session:
    def __init__(self, controller: Controller, connection: socket.socket) -> None:
        self.controller, self.connection = controller, connection
        self.lines: queue.Queue[str | None] = queue.Queue()
        self.writing = threading.Lock()

    def serve(self, incoming: object) -> None:
        """Answer until the client hangs up."""
        taker = threading.Thread(target=self._take_lines, daemon=True)
        taker.start()
        for raw in incoming:  # type: ignore[attr-defined]
            text = raw.decode("utf-8", "replace").strip()
            answer = self._at_once(text)
            if answer is None:
                self.lines.put(text)
            else:
                self._say(answer)
        self.lines.put(None)

    def _at_once(self, text: str) -> str | None:
        control, word = self.controller, text.partition(" ")[0].lower()
        if word == "status":
            s = control.state
            return f"state={s.word} lines={s.lines} done={s.done} x={s.x_mm:.3f} y={s.y_mm:.3f} clock={s.clock_s:.3f}"
        if word == "head":
            try:
                control.height_mm = float(text.partition(" ")[2])
            except ValueError:
                return "state=refused"
            return "state=head"
        actions = {"pause": control.pause, "resume": control.resume, "stop": control.stop}
        if word not in actions:
            return None
        actions[word]()
        return f"state={word}"

    def _take_lines(self) -> None:
        while (text := self.lines.get()) is not None:
            try:
                self.controller.take(text)
                self._say("ok")
            except RefusedError as refusal:
                self._say(f"error {refusal.number} {refusal.why}")

    def _say(self, text: str) -> None:
        # A client may hang up before its last answer; what lies ahead is burned all the same, as on a real machine.
        with self.writing, contextlib.suppress(OSError):
            self.connection.sendall(f"{text}\n".encode())
