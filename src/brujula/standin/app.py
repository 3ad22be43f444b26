"""The service's HTTP side: pages, conditional requests, merge patches, problem details, keyed requests, batches."""

from __future__ import annotations

import hmac
import json
import re
import socket
from collections.abc import Callable
from typing import Any

from flask import Flask, Response, request

from brujula.standin.faults import Faults
from brujula.standin.openapi import MOST_IN_BATCH, MOST_ON_PAGE, document
from brujula.standin.records import KINDS, Records, RefusalError

_PATCH = "application/merge-patch+json"
_MAKES = {"create": 201, "change": 200, "remove": 204, "bring-back": 201}


RECORDS = "brujula.records"


def create_app(path: str = ":memory:", faults: Faults | None = None, token: str = "") -> Flask:
    """The service as a WSGI application.

    Its records are closed by who serves it: `app.extensions[RECORDS]`.
    path : its SQLite file;  faults : what is to go wrong;  token : what requests must carry as `Authorization: Bearer`
    """
    app, records, faults = Flask(__name__), Records(path), faults or Faults()
    app.extensions[RECORDS] = records
    app.json.ensure_ascii = False  # type: ignore[attr-defined]

    @app.before_request
    def before() -> Response | None:
        request.environ["brujula.fault"] = fault = "" if request.path == "/openapi.json" else faults.next()
        if fault == "error":
            return _problem(RefusalError(500, "failure", "a fault that was asked for"))
        if fault == "busy":
            answer = _problem(RefusalError(429, "too many requests", f"at most {faults.rate} a second"))
            answer.headers["Retry-After"] = "1"
            return answer
        given = request.headers.get("Authorization", "")
        if token and request.path != "/openapi.json" and not hmac.compare_digest(given.encode(), f"Bearer {token}".encode()):
            answer = _problem(RefusalError(401, "who are you", "a Bearer token is wanted"))
            answer.headers["WWW-Authenticate"] = "Bearer"
            return answer
        return None

    @app.after_request
    def after(answer: Response) -> Response:
        fault = request.environ.get("brujula.fault")
        if fault in ("lost", "half") and "werkzeug.socket" in request.environ:
            wire = request.environ["werkzeug.socket"]
            if fault == "half":
                body = answer.get_data()
                head = f"HTTP/1.1 200 OK\r\nContent-Type: application/json\r\nContent-Length: {len(body) + 1}\r\n\r\n".encode()
                wire.sendall(head + body[: len(body) // 2])
            wire.shutdown(socket.SHUT_RDWR)
        return answer

    @app.errorhandler(RefusalError)
    def refused(error: RefusalError) -> Response:
        return _problem(error)

    for status, title in ((404, "not found"), (405, "method not allowed"), (400, "bad request"), (413, "too large")):
        app.register_error_handler(status, _plain(status, title))

    @app.get("/openapi.json")
    def openapi() -> Response:
        return _json(document())

    for kind in KINDS:
        _routes(app, records, kind)
    return app


def _routes(app: Flask, records: Records, kind: str) -> None:
    """The paths of one kind of record."""

    def listed() -> Response:
        limit, after = _number("limit", 100, 1, MOST_ON_PAGE), _number("after", 0, 0, 2**53)
        items, more = records.page(kind, after, limit)
        answer = _json({"items": items, "next": more})
        if more is not None:
            answer.headers["Link"] = f'</{kind}?limit={limit}&after={more}>; rel="next"'
        return answer

    def create() -> Response:
        values = _body("application/json")
        allow = request.args.get("duplicates", "refuse")
        if allow not in ("refuse", "allow"):
            raise RefusalError(400, "bad request", "duplicates must be refuse or allow")
        return _keyed(records, lambda: _whole(201, records.create(kind, values, allow == "allow"), kind))

    def one(record: str) -> Response:
        found = records.one(kind, record)
        if request.headers.get("If-None-Match") == f'"{found["version"]}"':
            return Response(status=304, headers={"ETag": f'"{found["version"]}"'})
        return _whole(200, found, kind)

    def change(record: str) -> Response:
        patch = _body(_PATCH)
        version = _if_match()
        return _keyed(records, lambda: _whole(200, records.change(kind, record, version, patch), kind))

    def remove(record: str) -> Response:
        version = _if_match()

        def work() -> Response:
            records.remove(kind, record, version)
            return Response(status=204)

        return _keyed(records, work)

    def bring_back(record: str) -> Response:
        values = _body("application/json")
        if request.headers.get("If-None-Match") != "*":
            raise RefusalError(428, "a condition is wanted", "If-None-Match: * says that the record is not there")
        return _keyed(records, lambda: _whole(201, records.bring_back(kind, record, values), kind))

    def batch() -> Response:
        told = _operations(_body("application/json").get("operations"))
        with records.transaction():
            return _json({"results": [_operation(records, kind, x) for x in told]})

    for rule, name, method, work in (
        (f"/{kind}", "list", "GET", listed),
        (f"/{kind}", "create", "POST", create),
        (f"/{kind}/<record>", "one", "GET", one),
        (f"/{kind}/<record>", "change", "PATCH", change),
        (f"/{kind}/<record>", "remove", "DELETE", remove),
        (f"/{kind}/<record>", "bring-back", "PUT", bring_back),
        (f"/batch/{kind}", "batch", "POST", batch),
    ):
        app.add_url_rule(rule, f"{kind} {name}", work, methods=[method], provide_automatic_options=False)


_MEMBERS: dict[str, Any] = {"do": str, "id": str, "version": (int, float), "key": str, "duplicates": str, "values": dict}


def _operations(told: Any) -> list[dict[str, Any]]:
    """The operations of a batch. Raises RefusalError (422) when one is not of the form described: then none is tried."""
    if not isinstance(told, list) or not told or len(told) > MOST_IN_BATCH:
        raise RefusalError(422, "no batch", f"operations must be a list of 1 to {MOST_IN_BATCH}")
    for number, one in enumerate(told, 1):
        fits = isinstance(one, dict) and all(
            isinstance(v, _MEMBERS[k]) and not isinstance(v, bool) for k, v in one.items() if k in _MEMBERS
        )
        fits = fits and one.get("version", 0) == abs(int(one.get("version", 0))) <= 2**53 and 1 <= len(one.get("key", "-")) <= 200
        if not fits or one.get("do") not in _MAKES or one.get("duplicates", "allow") not in ("refuse", "allow"):
            raise RefusalError(422, "no operation", f"operation {number} is not of the form that /openapi.json describes")
    return told


def _operation(records: Records, kind: str, told: dict[str, Any]) -> dict[str, Any]:
    """The result of one operation of a batch; one that is refused leaves the others alone."""
    try:
        do, record, values, version = told["do"], told.get("id", ""), told.get("values", {}), told.get("version", 0)
        key = told.get("key")
        asked = json.dumps([kind, do, record, values, version], sort_keys=True)
        before = records.answered(str(key), asked) if key else None
        if before is not None:
            return {"status": before[0], **json.loads(before[1])}
        if do == "create":
            found = records.create(kind, values, told.get("duplicates") == "allow")
        elif do == "change":
            found = records.change(kind, record, version, values)
        elif do == "bring-back":
            found = records.bring_back(kind, record, values)
        else:
            records.remove(kind, record, version)
            found = {}
        result = {"record": found} if found else {}
        if key:
            records.answer(str(key), asked, _MAKES[do], json.dumps(result))
        return {"status": _MAKES[do], **result}
    except RefusalError as error:
        return {"status": error.status, "problem": _told(error)}


def _keyed(records: Records, work: Callable[[], Response]) -> Response:
    """What the request asks for, once: the same Idempotency-Key again gets the same answer, and nothing is done again."""
    key = request.headers.get("Idempotency-Key")
    if key is None:
        return work()
    if not re.fullmatch(r"[A-Za-z0-9-]{1,200}", key):
        raise RefusalError(400, "bad request", "Idempotency-Key must be 1 to 200 letters, digits and hyphens")
    asked = json.dumps([request.method, request.full_path, request.get_data(as_text=True), request.headers.get("If-Match")])
    with records.transaction():
        before = records.answered(key, asked)
        if before is not None:
            kept = json.loads(before[1])
            return Response(kept["body"], before[0], kept["headers"], content_type=kept["type"])
        answer = work()
        headers = {n: answer.headers[n] for n in ("ETag", "Location") if n in answer.headers}
        kept = {"body": answer.get_data(as_text=True), "headers": headers, "type": answer.content_type}
        records.answer(key, asked, answer.status_code, json.dumps(kept))
    return answer


def _whole(status: int, found: dict[str, Any], kind: str) -> Response:
    answer = _json(found, status)
    answer.headers["ETag"] = f'"{found["version"]}"'
    if status == 201:
        answer.headers["Location"] = f"/{kind}/{found['id']}"
    return answer


def _json(told: Any, status: int = 200) -> Response:
    return Response(json.dumps(told, ensure_ascii=False), status, content_type="application/json")


def _told(error: RefusalError) -> dict[str, Any]:
    return {"type": "about:blank", "title": error.title, "status": error.status, "detail": error.detail, **error.more}


def _problem(error: RefusalError) -> Response:
    """Problem details (RFC 9457)."""
    return Response(json.dumps(_told(error), ensure_ascii=False), error.status, content_type="application/problem+json")


def _plain(status: int, title: str) -> Callable[[Exception], Response]:
    def handler(error: Exception) -> Response:
        answer = _problem(RefusalError(status, title, title))
        if status == 405:
            answer.headers["Allow"] = ", ".join(sorted(getattr(error, "valid_methods", None) or ()))
        return answer

    return handler


def _body(kind: str) -> dict[str, Any]:
    """The request's JSON object. Raises RefusalError: 415, 400, 422."""
    if request.mimetype != kind:
        raise RefusalError(415, "another type", f"Content-Type must be {kind}")
    try:
        told = json.loads(request.get_data())
    except ValueError:
        raise RefusalError(400, "no JSON", "the body is not JSON") from None
    if not isinstance(told, dict):
        raise RefusalError(422, "no object", "the body must be an object")
    return told


def _if_match() -> int:
    """The version in If-Match. Raises RefusalError: 428 without one, 400 for what is no version."""
    given = request.headers.get("If-Match")
    if given is None:
        raise RefusalError(428, "a condition is wanted", "If-Match must name the version that is to be changed")
    if not re.fullmatch(r'"[0-9]{1,15}"', given):
        raise RefusalError(400, "bad request", "If-Match must be a version in quotes")
    return int(given.strip('"'))


def _number(name: str, otherwise: int, least: int, most: int) -> int:
    """A number of the query. Raises RefusalError (400)."""
    if name not in request.args:
        return otherwise
    text = request.args[name]
    if not re.fullmatch(r"[0-9]{1,16}", text, re.ASCII) or not least <= int(text) <= most:
        raise RefusalError(400, "bad request", f"{name} must be a whole number from {least} to {most}")
    return int(text)
