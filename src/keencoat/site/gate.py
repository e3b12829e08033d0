"""One web process. Several share a port; the kernel deals connections out to them.

Requests are read whole before a thread is given to them, so that slow clients hold sockets and never threads; how much
is read depends on who asks for what, and is known before the body comes.
"""

import os
import signal
import socket
import time
from copy import copy
from http import HTTPStatus
from types import FrameType

from django.urls import get_resolver
from waitress.adjustments import Adjustments
from waitress.channel import HTTPChannel
from waitress.parser import HTTPRequestParser
from waitress.server import TcpWSGIServer
from waitress.task import ErrorTask

from keencoat.site.problems import problem_of_status
from keencoat.site.settings import SESSION_COOKIE_NAME
from keencoat.site.wsgi import application

THREADS = 4
CONNECTIONS = 400
SILENCE_S = 20
"""A connection that says nothing for so long is closed."""

REQUEST_S = 60
"""A request must have come in whole within this time, however steadily it drips."""

NOBODY_BYTES = 64_000
"""The most that somebody without a session may send."""

USUAL_BYTES = 2_100_000
PHOTO_BYTES = 64_000_000
"""Two photos of 30 MB, with what their form adds."""


def allowed_bytes(path: str, cookies: str) -> int:
    """How large a request's body may be, by its address and by whether it comes with a session."""
    if f"{SESSION_COOKIE_NAME}=" not in cookies:
        return NOBODY_BYTES
    return PHOTO_BYTES if path.rstrip("/").endswith(("photos", "artworks")) else USUAL_BYTES


class BoundedParser(HTTPRequestParser):  # type: ignore[misc]
    """Reads a request up to what its address allows."""

    def __init__(self, adj: Adjustments) -> None:
        super().__init__(adj)
        self.adj: Adjustments = adj
        self.began = time.time()

    def parse_header(self, header_plus: bytes) -> None:
        """As ever; then the bound for the body is known."""
        super().parse_header(header_plus)
        bound = copy(self.adj)
        bound.max_request_body_size = allowed_bytes(self.path, self.headers.get("COOKIE", ""))
        self.adj = bound


class ProblemTask(ErrorTask):  # type: ignore[misc]
    """Answers what could not even be read as a problem response."""

    def execute(self) -> None:
        """Write the answer and close."""
        error = self.request.error
        answer = problem_of_status(error.code)
        self.status = f"{error.code} {HTTPStatus(error.code).phrase}"
        self.response_headers.append(("Content-Type", answer.headers["Content-Type"]))
        self.set_close_on_finish()
        self.content_length = len(answer.content)
        self.write(answer.content)


class Channel(HTTPChannel):  # type: ignore[misc]
    """A connection with our bounds and our words."""

    parser_class = BoundedParser
    error_task_class = ProblemTask


class Server(TcpWSGIServer):  # type: ignore[misc]
    """Also closes connections whose request has been coming in for too long."""

    channel_class = Channel

    def maintenance(self, now: float) -> None:
        """Called every few seconds."""
        super().maintenance(now)
        for channel in self.active_channels.values():
            if channel.request is not None and now - channel.request.began > REQUEST_S:
                channel.will_close = True


def shared_socket(host: str, port: int) -> socket.socket:
    """A socket on a port that our other web processes listen on too."""
    listener = socket.socket(socket.AF_INET, socket.SOCK_STREAM)
    listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
    listener.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEPORT, 1)
    listener.bind((host, port))
    return listener


def serve() -> None:
    """Serve on loopback at KEENCOAT_PORT until told to stop."""

    def end(number: int, frame: FrameType | None) -> None:
        raise SystemExit(0)

    signal.signal(signal.SIGTERM, end)
    listener = shared_socket("127.0.0.1", int(os.environ["KEENCOAT_PORT"]))
    bounds = Adjustments(
        threads=THREADS,
        connection_limit=CONNECTIONS,
        channel_timeout=SILENCE_S,
        cleanup_interval=5,
        max_request_header_size=32_000,
        ident=None,
        sockets=[listener],
    )
    about = (listener.family, listener.type, listener.proto, listener.getsockname())
    server = Server(application, _sock=listener, bind_socket=False, adj=bounds, sockinfo=about)
    # What the first request would wait for.
    get_resolver().resolve("/api/session")
    server.run()
