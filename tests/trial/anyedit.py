"""Edits of any value: made from the API's own schema by a seeded generator, with ids that exist where ids are asked for."""

import random
from typing import Any

from pydantic import TypeAdapter

from sutaru.core.document import Job, Layout
from sutaru.core.edits.kinds import Edit
from tests.conftest import SHELF

SCHEMA: dict[str, Any] = TypeAdapter(Edit).json_schema()
LAYOUT: dict[str, Any] = TypeAdapter(Layout).json_schema()
DEFS: dict[str, Any] = {**LAYOUT["$defs"], **SCHEMA["$defs"]}
LAYERS = {
    d["properties"]["kind"]["const"]: d for d in DEFS.values() if "const" in d.get("properties", {}).get("kind", {})
}
OPS = {d["properties"]["op"]["const"]: d for d in DEFS.values() if "const" in d.get("properties", {}).get("op", {})}
ODD: tuple[Any, ...] = (
    None, 0, -1, 1, 0.5, 1e-9, -1e-9, 1e4, -1e4, 1e308, 2**53, "", "x", "é☃\n\n", [], {}, [0, 0], [[0, 0], [0, 0]], True,
)  # fmt: skip
PATHS = (
    "M0 0L10 0L20 0Z", "M0 0h0.02v40h-0.02z", "M-20 -20L20 20L20 -20L-20 20Z", "M0 0L9 9", "Z", "M1e9 0L0 1e9L-1e9 0Z",
    "M-30 -10C-10 -60 10 60 30 -10L0 30Z", "M-9 -9h18v18h-18zM-4 -4h8v8h-8z", "M0 0A30 20 0 1 0 1 0Z", "M0,0 20,0 0,.01",
)  # fmt: skip
WORDS = ("Hello\n", "\n\n", " ", "\u200b", "العيد", "日本語の凧", "a" * 400, "x\ty", "{title}", "👩‍👩‍👧", "i", "—")


class AnyEdit:
    """Makes edits for a job as it stands."""

    def __init__(self, job: Job, seed: str) -> None:
        self.by, self.job = random.Random(seed), job
        self.ids: dict[str, list[str]] = {
            "sheet": [sheet.id for sheet in job.sheets],
            "edition": ["", *(edition.id for edition in job.editions)],
            "photo": [photo.id for photo in job.photos],
            "opening": [o for sheet in job.sheets for o in sheet.layout.openings_by_id],
            "layer": [layer.id for sheet in job.sheets for layer in sheet.layout.leaves],
            "text": [t for sheet in job.sheets for t in sheet.layout.texts_by_id],
            "of": [o for sheet in job.sheets for o in sheet.layout.openings_by_id],
        }
        self.depth = 0

    def make(self) -> dict[str, Any]:
        """One edit as the API takes it."""
        op = self.by.choice(
            [*sorted(OPS), *["set_fields"] * 12, *["place", "write", "add_layers", "mend_photo", "gather", "dress"] * 3]
        )
        edit = self._object(OPS[op])
        edit["op"] = op
        edit |= self._likely(op)
        if op == "set_fields":
            sheet = self.by.choice(self.job.sheets)
            if not sheet.layout.leaves:
                return self.make()
            layer = self.by.choice(sheet.layout.leaves)
            edit |= {"sheet": sheet.id, "layers": [layer.id], "fields": self._fields(LAYERS[layer.kind]), "expect": {}}
        if op in ("bring_in", "lay"):
            return self.make()  # what comes in comes by the door
        return edit

    def _likely(self, op: str) -> dict[str, Any]:
        """What an edit needs that no chance gives it: layers of one sheet, a theme that ships."""
        by, sheet = self.by, self.by.choice(self.job.sheets)
        layers = [layer.id for layer in sheet.layout.layers]
        if op in ("dress", "lay_book") and by.random() < 0.9:
            return {
                "theme": by.choice(sorted(SHELF.themes.values(), key=lambda theme: theme.id)).model_dump(mode="json")
            }
        if op in ("gather", "dissolve", "align", "distribute", "same_size", "carry") and layers:
            chosen = by.sample(layers, min(len(layers), by.choice((1, 2, 3))))
            return {"sheet": sheet.id, "groups" if op == "dissolve" else "layers": chosen}
        if op == "lay_ground":
            return {
                "ground": {"kind": "background", "id": "ground", "colour": "#456789"},
                "sheets": by.choice((None, [sheet.id])),
            }
        if op in ("copy_sheet", "add_sheet") and by.random() < 0.8:
            fresh = f"sheet-{by.randrange(9999)}"
            if op == "copy_sheet":
                return {"fresh": fresh, "which": sheet.id}
            return {"fresh": {**sheet.model_dump(mode="json"), "id": fresh}}
        if op == "make_set" and self.ids["photo"]:
            return {"photos": by.sample(self.ids["photo"], min(3, len(self.ids["photo"]))), "edition": ""}
        if op == "set_calendar":
            return {
                "country": by.choice(("", "GB", "DE", "EG", "JP")),
                "first_month": by.choice((None, "2027-01", "1000-01", "2999-12")),
            }
        return {}

    def _fields(self, layer: dict[str, Any]) -> dict[str, Any]:
        found: dict[str, Any] = {}
        for _ in range(self.by.choice((1, 1, 2))):
            name = self.by.choice([n for n in layer["properties"] if n not in ("kind", "id")])
            schema = layer["properties"][name]
            inner = self._resolved(schema)
            if inner.get("properties") and self.by.random() < 0.4:
                part = self.by.choice(sorted(inner["properties"]))
                found[f"{name}.{part}"] = self._value(inner["properties"][part], part)
            else:
                found[name] = self._value(schema, name)
        return found

    def _resolved(self, schema: dict[str, Any]) -> dict[str, Any]:
        while "$ref" in schema:
            schema = DEFS[schema["$ref"].rsplit("/", 1)[-1]]
        for many in ("anyOf", "oneOf"):
            if many in schema:
                return self._resolved(self.by.choice(schema[many]))
        return schema

    def _object(self, schema: dict[str, Any]) -> dict[str, Any]:
        wanted = schema.get("required", [])
        return {
            name: self._value(inner, name)
            for name, inner in schema.get("properties", {}).items()
            if name in wanted or self.by.random() < 0.45
        }

    def _value(self, schema: dict[str, Any], name: str) -> Any:
        by = self.by
        if by.random() < 0.06:
            return by.choice(ODD)
        kind = name.removesuffix("s")
        if kind in self.ids and self.ids[kind] and by.random() < 0.95:
            one = by.choice(self.ids[kind])
            if name == "layers" and schema.get("items", {}).get("type") != "string":
                pass  # layers themselves, not their names
            elif name != kind:
                return [by.choice(self.ids[kind]) for _ in range(by.choice((1, 1, 2, 5)))]
            else:
                return one
        schema = self._resolved(schema)
        if "const" in schema:
            return schema["const"]
        if "enum" in schema:
            return by.choice(schema["enum"])
        if name == "d":
            return by.choice(PATHS)
        if name in ("text", "words"):
            return by.choice(WORDS)
        match schema.get("type"):
            case "number" | "integer" as number:
                return self._number(schema, number == "integer")
            case "boolean":
                return by.random() < 0.5
            case "string":
                return self._string(schema)
            case "array":
                return self._array(schema, name)
            case "object":
                self.depth += 1
                try:
                    return self._object(schema) if self.depth < 9 else {}
                finally:
                    self.depth -= 1
            case _:
                return None

    def _number(self, schema: dict[str, Any], whole: bool) -> float:
        low = schema.get("minimum", schema.get("exclusiveMinimum", -1e4))
        high = schema.get("maximum", schema.get("exclusiveMaximum", 1e4))
        at = self.by.choice((low, high, 0, 1, self.by.uniform(low, high), self.by.uniform(0, 1), self.by.uniform(0, 60),
                             low + 1e-6, high * 1.001 + 1))  # fmt: skip
        return int(at) if whole else at

    def _string(self, schema: dict[str, Any]) -> str:
        pattern = schema.get("pattern", "")
        if "#" in pattern:
            return f"#{self.by.randrange(1 << 24):06x}"
        if "{64}" in pattern:
            return f"{self.by.randrange(1 << 256):064x}"
        return self.by.choice(("a", "new-1", f"made-{self.by.randrange(99)}", "x" * 64, "é"))

    def _array(self, schema: dict[str, Any], name: str) -> list[Any]:
        if "prefixItems" in schema:
            return [self._value(item, name) for item in schema["prefixItems"]]
        least, most = schema.get("minItems", 0), schema.get("maxItems", 6)
        count = min(most, max(least, self.by.choice((1, 1, 2, 4))))
        self.depth += 1
        try:
            return [self._value(schema.get("items", {}), name) for _ in range(count)] if self.depth < 9 else []
        finally:
            self.depth -= 1
