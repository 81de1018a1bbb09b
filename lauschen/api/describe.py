"""Prints the OpenAPI description, from which the console's types are generated."""

import json

from lauschen.api.app import make_app


def description() -> str:
    return json.dumps(make_app(None).openapi(), indent=1, sort_keys=True) + "\n"


if __name__ == "__main__":
    print(description(), end="")
