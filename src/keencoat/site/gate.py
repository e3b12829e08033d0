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
from weakref import WeakSet

from django.urls import get_resolver
from waitress.adjustments import Adjustments
from waitress.channel import HTTPChannel
from waitress.parser import HTTPRequestParser
from waitress.server import TcpWSGIServer
from waitress.task import ErrorTask
from waitress.utilities import Error, RequestEntityTooLarge

from keencoat.shop.aside import MOST_WAITING
from keencoat.site.problems import in_megabytes, problem_of_status, problem_response
from keencoat.site.settings import DATA_UPLOAD_MAX_MEMORY_SIZE, PROXIES, SESSION_COOKIE_NAME
from keencoat.site.wsgi import application

THREADS = 2 * MOST_WAITING
"""Half of them always answer what is quick."""

CONNECTIONS = 400
SILENCE_S = 20
"""A connection that says nothing for so long is closed."""

REQUEST_S = 60
"""A request must have come in whole within this time, however steadily it drips; a large file within more."""

NOBODY_BYTES = 64_000
"""The most that somebody without a session may send."""

USUAL_BYTES = DATA_UPLOAD_MAX_MEMORY_SIZE + 100_000
"""Django refuses what is not a file from its own bound on."""

SLOWEST_BYTES_S = 250_000
"""A large file gets more time, at this pace (2 Mbit/s)."""

LARGE_AT_ONCE = 12
"""Requests larger than usual that one process takes in at the same time; what they hold lies on the disk."""

DRAINED_BYTES = 1_000_000_000
"""So much of a body that is too large is read and thrown away: whoever is still sending does not look for an answer."""


def allowed_bytes(method: str, path: str, cookies: str) -> int:
    """How large a request's body may be: what its operation says that it takes, less from somebody without a
    session."""
    if f"{SESSION_COOKIE_NAME}=" not in cookies:
        return NOBODY_BYTES
    if method == "GET":
        return USUAL_BYTES
    # Its handlers need the models, which `wsgi` makes ready.
    from keencoat.site.api import api

    operation = api.operation_at(method, path)
    return (operation and operation.most_bytes) or USUAL_BYTES


class TooManyLargeError(Error):  # type: ignore[misc]
    """As many large bodies are coming in as the disk shall hold."""

    code, reason = 503, "Service Unavailable"


_large_now: WeakSet["BoundedParser"] = WeakSet()


class BoundedParser(HTTPRequestParser):  # type: ignore[misc]
    """Reads a request up to what its address allows; of a larger one the rest, for nothing, so that it gets its
    answer."""

    def __init__(self, adj: Adjustments) -> None:
        super().__init__(adj)
        self.adj: Adjustments = adj
        self.began = time.time()
        self.completed: bool = False
        self.drained_bytes: int | None = None

    @property
    def is_late(self) -> bool:
        """Whether it has been coming in for longer than its size excuses."""
        most_bytes = min(self.content_length, self.adj.max_request_body_size)
        return bool(time.time() - self.began > REQUEST_S + most_bytes / SLOWEST_BYTES_S)

    def parse_header(self, header_plus: bytes) -> None:
        """As ever; then the bound for the body is known."""
        super().parse_header(header_plus)
        bound = copy(self.adj)
        bound.max_request_body_size = allowed_bytes(self.command, self.path, self.headers.get("COOKIE", ""))
        self.adj = bound
        if self.content_length > USUAL_BYTES:
            _large_now.add(self)
            if sum(not one.completed for one in _large_now) > LARGE_AT_ONCE:
                self.error, self.completed = TooManyLargeError("large files"), True

    def received(self, data: bytes) -> int:
        """As ever, but for what is too large."""
        if self.drained_bytes is not None:
            drained = min(len(data), int(self.content_length) - self.drained_bytes)
            self.drained_bytes += drained
            self.completed = self.drained_bytes == self.content_length
            return drained
        took: int = super().received(data)
        told = isinstance(self.error, RequestEntityTooLarge | TooManyLargeError) and not self.expect_continue
        if told and 0 < self.content_length <= DRAINED_BYTES:
            self.completed, self.drained_bytes = False, 0
        return took


class ProblemTask(ErrorTask):  # type: ignore[misc]
    """Answers what could not even be read as a problem response."""

    def execute(self) -> None:
        """Write the answer and close."""
        error = self.request.error
        if isinstance(error, TooManyLargeError):
            answer = problem_response(503, "Many large files are coming in.", hint="Try again in a minute.")
        elif isinstance(error, RequestEntityTooLarge):
            most_bytes = self.request.adj.max_request_body_size
            answer = problem_of_status(error.code, f"Send less than {in_megabytes(most_bytes)}.")
        else:
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
            if channel.request is not None and channel.request.is_late:
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
    # Else an address or a scheme that a request claims for itself is thrown away.
    trusted = {
        "trusted_proxy": "127.0.0.1",
        "trusted_proxy_count": PROXIES,
        "trusted_proxy_headers": {"x-forwarded-for", "x-forwarded-proto"},
    }
    listener = shared_socket("127.0.0.1", int(os.environ["KEENCOAT_PORT"]))
    bounds = Adjustments(
        threads=THREADS,
        connection_limit=CONNECTIONS,
        channel_timeout=SILENCE_S,
        cleanup_interval=5,
        max_request_header_size=32_000,
        ident=None,
        sockets=[listener],
        **(trusted if PROXIES else {}),
    )
    about = (listener.family, listener.type, listener.proto, listener.getsockname())
    server = Server(application, _sock=listener, bind_socket=False, adj=bounds, sockinfo=about)
    # What the first request would wait for.
    get_resolver().resolve("/api/session")
    server.run()
