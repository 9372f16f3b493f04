"""The API's description (OpenAPI 3.1): what every operation may refuse, in one shape, and what is uploaded, said once for all."""

import re
from typing import Any

from fastapi import FastAPI
from fastapi.openapi.utils import get_openapi

from .models.problem import Problem
from .property_words import PROPERTIES

ABOUT = """Every refusal, of whatever status, has one shape: a stable `code` and a `sentence` that says what to do.
A path that does not exist is answered with 404, a method that a path does not have with 405, a failure of the
server with 500: in the same shape. Ids are opaque. Lengths are millimetres, angles degrees, times ISO 8601."""

REFUSALS = {
    401: "The passphrase of this studio is needed: begin a session first.",
    403: "Another site's page asked for a change.",
    404: "What the path names was not found.",
    409: "Refused as things stand: the sentence says what has changed or is missing.",
    413: "The body is larger than is accepted.",
    422: "A value cannot be used: the sentence names it and its limits.",
    507: "The disk is full or cannot be written. Nothing was changed.",
}


def upload(what: str, *types: str) -> dict[str, Any]:
    """The ``openapi_extra`` of a route that reads its body as a stream.

    ``what``: a sentence on the file. ``types``: its media types; of any file without.
    """
    content = {
        kind: {"schema": {"type": "string", "format": "binary"}} for kind in types or ("application/octet-stream",)
    }
    return {"requestBody": {"description": what, "required": True, "content": content}}


def describe_api(app: FastAPI) -> dict[str, Any]:
    """The description of an application's routes, with the refusals of every operation. Made once."""
    if app.openapi_schema is None:
        document = get_openapi(
            title=app.title, version=app.version, description=ABOUT, routes=app.routes,
            separate_input_output_schemas=app.separate_input_output_schemas,
        )  # fmt: skip
        for path, methods in document["paths"].items():
            for method, operation in methods.items():
                _add_refusals(path, method, operation)
        schemas = document["components"]["schemas"]
        for unused in ("HTTPValidationError", "ValidationError"):
            schemas.pop(unused, None)
        schemas["Problem"] = Problem.model_json_schema()
        for schema in schemas.values():
            _describe_properties(schema)
        document["components"]["schemas"] = dict(sorted(schemas.items()))
        app.openapi_schema = document
    return app.openapi_schema


def _add_refusals(path: str, method: str, operation: dict[str, Any]) -> None:
    changes, has_body = method != "get", "requestBody" in operation
    apply = {
        401: path.startswith("/api/") and path != "/api/session",
        403: changes,
        404: "{" in path or has_body,
        409: changes,
        413: has_body,
        422: has_body or bool(operation.get("parameters")),
        507: changes,
    }
    problem = {"application/json": {"schema": {"$ref": "#/components/schemas/Problem"}}}
    for status, applies in apply.items():
        operation["responses"].pop(str(status), None)
        if applies:
            operation["responses"][str(status)] = {"description": REFUSALS[status], "content": problem}


def _describe_properties(schema: dict[str, Any]) -> None:
    """What each property holds: in its own words, else in its model's (``name``: ...;), else in those for all of its name."""
    words_of_model = " ".join(schema.get("description", "").split())
    for name, entry in schema.get("properties", {}).items():
        if "description" not in entry:
            own_words = re.search(rf"``{name}``(?:,[^:;.]*)?: ([^;.]+)", words_of_model)
            words = f"{own_words[1][:1].upper()}{own_words[1][1:]}." if own_words else PROPERTIES.get(name)
            if words:
                entry["description"] = words
        if entry.get("default") not in (None, "", [], {}):
            entry.setdefault("examples", [entry["default"]])
