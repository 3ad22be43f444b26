"""The service on a port of this machine."""

from __future__ import annotations

import logging
import threading
from collections.abc import Iterator
from contextlib import contextmanager

from werkzeug.serving import WSGIRequestHandler, make_server

from brujula.standin.app import RECORDS, create_app
from brujula.standin.faults import Faults


class _Quiet(WSGIRequestHandler):
    """Connections are kept open between requests; nothing is printed."""

    protocol_version = "HTTP/1.1"

    def log(self, type: str, message: str, *args: object) -> None:
        """Say nothing."""


@contextmanager
def serving(port: int = 0, path: str = ":memory:", faults: Faults | None = None, token: str = "") -> Iterator[str]:
    """The service while the block runs; gives its URL. port 0 : a free one"""
    logging.getLogger("werkzeug").setLevel(logging.ERROR)
    app = create_app(path, faults, token)
    server = make_server("127.0.0.1", port, app, threaded=True, request_handler=_Quiet)
    thread = threading.Thread(target=server.serve_forever, daemon=True)
    thread.start()
    try:
        yield f"http://127.0.0.1:{server.server_port}"
    finally:
        server.shutdown()
        server.server_close()
        app.extensions[RECORDS].close()
