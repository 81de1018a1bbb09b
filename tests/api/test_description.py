"""What the API says of itself, which the console's types are made from."""

import json
from collections.abc import Iterator
from typing import Any

from lauschen.api.describe import description


def test_no_number_is_larger_than_the_database_takes() -> None:
    """Whatever a request carries: 64 bits are all that a column has."""
    said = json.loads(description())
    shapes = said["components"]["schemas"]

    def unbounded(shape: dict[str, Any], where: str, seen: frozenset[str]) -> Iterator[str]:
        if "$ref" in shape:
            name = shape["$ref"].rpartition("/")[2]
            if name not in seen:
                yield from unbounded(shapes[name], name, seen | {name})
            return
        if shape.get("type") in ("integer", "number") and not {"maximum", "exclusiveMaximum"} & shape.keys():
            yield where
        within = [shape.get("items"), shape.get("additionalProperties")]
        parts = [part for part in within if isinstance(part, dict)]
        for part in [*parts, *shape.get("anyOf", []), *shape.get("oneOf", [])]:
            yield from unbounded(part, where, seen)
        for name, part in shape.get("properties", {}).items():
            yield from unbounded(part, f"{where}.{name}", seen)

    found = set()
    for path, methods in said["paths"].items():
        for method, does in methods.items():
            for asked in does.get("parameters", []):
                found |= {*unbounded(asked["schema"], f"{method} {path} {asked['name']}", frozenset())}
            for body in does.get("requestBody", {}).get("content", {}).values():
                found |= {*unbounded(body["schema"], f"{method} {path}", frozenset())}
    assert found == set()
