"""The service described: OpenAPI 3.1."""

from __future__ import annotations

from typing import Any

from brujula.standin.records import FIELDS, KINDS, LISTED, LONGEST, REQUIRED

MOST_ON_PAGE = 1_000
MOST_IN_BATCH = 500
_PROBLEM = {"application/problem+json": {"schema": {"$ref": "#/components/schemas/Problem"}}}
_WHY = {400: "A request that cannot be read", 401: "No token, or a wrong one", 404: "No such record", 409: "A likely duplicate, and candidates are named; or a key used before for another request",
        412: "Changed since, or there already", 415: "Another content type is wanted", 422: "Values that are not taken",
        428: "A condition is wanted", 429: "Too many requests; Retry-After says when", 500: "A failure"}  # fmt: skip


def document() -> dict[str, Any]:
    """The OpenAPI document of the service."""
    paths: dict[str, Any] = {}
    schemas: dict[str, Any] = {"Problem": _object({"type": _text(), "title": _text(), "status": {"type": "integer"}, "detail": _text(),
        "candidates": {"type": "array", "items": _text()}, "errors": {"type": "array", "items": {"type": "object"}}}, ["title", "status"])}  # fmt: skip
    for kind, entity in KINDS.items():
        name = entity.capitalize()
        values = {f: {**_value(f), **({"minLength": 1} if f in REQUIRED[kind] else {})} for f in FIELDS[kind]}
        schemas[name] = _object(
            {"id": _text(), "version": {"type": "integer", "minimum": 1}, **{f: _text() for f in FIELDS[kind]}}, ["id", "version"]
        )
        schemas[f"{name}Values"] = {
            **_object(values, []),
            "anyOf": [{"required": [f]} for f in REQUIRED[kind]],
            "additionalProperties": False,
        }
        schemas[f"{name}Patch"] = {
            **_object({f: {"anyOf": [v, {"type": "null"}]} for f, v in values.items()}, []),
            "additionalProperties": False,
        }
        whole = {"application/json": {"schema": {"$ref": f"#/components/schemas/{name}"}}}
        record = {"name": "record", "in": "path", "required": True, "schema": {"type": "string", "pattern": "^[CA][0-9]{6,}$"}}
        paths[f"/{kind}"] = {
            "get": _operation(f"List {kind}, page by page", [_query("limit", 1, MOST_ON_PAGE), _query("after", 0, 2**53)], 200, {"application/json": {"schema": _object(
                {"items": {"type": "array", "items": {"$ref": f"#/components/schemas/{name}"}}, "next": {"type": ["integer", "null"]}}, ["items", "next"])}}, (400,)),
            "post": _operation(f"Create a {entity}", [_KEY, {"name": "duplicates", "in": "query", "schema": {"enum": ["refuse", "allow"]}}], 201, whole,
                               (400, 409, 415, 422), f"{name}Values"),
        }  # fmt: skip
        paths[f"/{kind}/{{record}}"] = {
            "get": _operation(f"One {entity}", [record], 200, whole, (404,)),
            "patch": _operation(f"Change a {entity} by a merge patch (RFC 7396)", [record, _IF_MATCH, _KEY], 200, whole, (400, 404, 409, 412, 415, 422, 428),
                                f"{name}Patch", "application/merge-patch+json"),
            "put": _operation(f"Bring a removed {entity} back, with its id", [record, _KEY, {"name": "If-None-Match", "in": "header", "required": True, "schema": {"const": "*"}}],
                              201, whole, (400, 404, 409, 412, 415, 422, 428), f"{name}Values"),
            "delete": _operation(f"Remove a {entity}", [record, _IF_MATCH, _KEY], 204, None, (400, 404, 409, 412, 422, 428)),
        }  # fmt: skip
        paths[f"/batch/{kind}"] = {"post": _operation(f"Several operations on {kind}, each with a result of its own", [], 200, {"application/json": {"schema": _object(
            {"results": {"type": "array", "items": _object({"status": {"type": "integer"}, "record": {"$ref": f"#/components/schemas/{name}"},
             "problem": {"$ref": "#/components/schemas/Problem"}}, ["status"])}}, ["results"])}}, (400, 415, 422), "Batch")}  # fmt: skip
    schemas["Batch"] = _object({"operations": {"type": "array", "minItems": 1, "maxItems": MOST_IN_BATCH, "items": _object(
        {"do": {"enum": ["create", "change", "remove", "bring-back"]}, "id": _text(), "version": {"type": "integer", "minimum": 0, "maximum": 2**53}, "key": {"type": "string", "minLength": 1, "maxLength": 200},
         "duplicates": {"enum": ["refuse", "allow"]}, "values": {"type": "object"}}, ["do"])}}, ["operations"])  # fmt: skip
    return {
        "openapi": "3.1.0",
        "info": {"title": "A simulated CRM service", "version": "1", "description": "Contacts and accounts of a made-up CRM, to load into and to test against."},
        "paths": paths,
        "components": {"schemas": schemas, "securitySchemes": {"token": {"type": "http", "scheme": "bearer"}}},
    }  # fmt: skip


_KEY = {
    "name": "Idempotency-Key",
    "in": "header",
    "schema": {"type": "string", "minLength": 1, "maxLength": 200, "pattern": "^[A-Za-z0-9-]+$"},
}
_IF_MATCH = {"name": "If-Match", "in": "header", "required": True, "schema": {"type": "string", "pattern": '^"[0-9]{1,15}"$'}}


def _operation(
    summary: str,
    parameters: list[Any],
    status: int,
    makes: Any,
    refusals: tuple[int, ...],
    takes: str = "",
    kind: str = "application/json",
) -> dict[str, Any]:
    answers: dict[str, Any] = {str(status): {"description": summary, **({"content": makes} if makes else {})}}
    answers |= {str(s): {"description": _WHY[s], "content": _PROBLEM} for s in (*refusals, 401, 429, 500)}
    body = (
        {"requestBody": {"required": True, "content": {kind: {"schema": {"$ref": f"#/components/schemas/{takes}"}}}}}
        if takes
        else {}
    )
    return {"summary": summary, "parameters": parameters, "responses": answers, **body}


def _object(members: dict[str, Any], required: list[str]) -> dict[str, Any]:
    return {"type": "object", "properties": members, "required": required}


def _text() -> dict[str, Any]:
    return {"type": "string"}


def _value(field: str) -> dict[str, Any]:
    return {"enum": [*LISTED[field]]} if field in LISTED else {"type": "string", "maxLength": LONGEST}


def _query(name: str, least: int, most: int) -> dict[str, Any]:
    return {"name": name, "in": "query", "schema": {"type": "integer", "minimum": least, "maximum": most}}
