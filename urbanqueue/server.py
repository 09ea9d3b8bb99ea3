"""The web server's settings for gunicorn, and its worker: errors of the server itself are in our form too."""

import json
import sys
from typing import Any

from gunicorn.http.errors import LimitRequestHeaders, LimitRequestLine
from gunicorn.workers.gthread import ThreadWorker

workers = 2
threads = 6
worker_class = "urbanqueue.server.Worker"
keepalive = 20
backlog = 1024
graceful_timeout = 5
loglevel = "error"
limit_request_line = 8190

_HEAD = "HTTP/1.1 {status}\r\nConnection: close\r\nContent-Type: application/json\r\nContent-Length: {length}\r\n\r\n"


class Worker(ThreadWorker):  # type: ignore[misc]  # gunicorn has no types
    """Answers what is no request, or has too long a head, with a problem."""

    def handle_error(self, req: Any, client: Any, addr: Any, exc: BaseException) -> None:
        """Answer and close; errors of the application itself have been answered before they come here."""
        too_long = isinstance(exc, LimitRequestHeaders | LimitRequestLine)
        what = "The head of the request is too long." if too_long else "The request is not written as it should be."
        problem = {"where": "request", "what": what, "mend": "Reload the page and try again.", "level": "error"}
        body = json.dumps({"problems": [problem]})
        status = "431 Request Header Fields Too Large" if too_long else "400 Bad Request"
        try:
            client.sendall((_HEAD.format(status=status, length=len(body)) + body).encode())
        except OSError:
            self.log.debug("The client was gone before it could be told: %s", what)


def post_worker_init(worker: Any) -> None:
    """Let threads take turns often: a request of many short questions to the database waits for its turn each time."""
    sys.setswitchinterval(0.0005)
