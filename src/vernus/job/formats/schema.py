"""The JSON Schema of an exported job, generated from the entities. ``make schema`` writes it to docs/."""

from __future__ import annotations

import json
import sys
from typing import Any

from pydantic.json_schema import models_json_schema

from vernus.job.entities import ENTITY_TYPES
from vernus.job.formats.exchange import FORMAT
from vernus.job.migration import STORED


def job_schema() -> dict[str, Any]:
    """The schema (draft 2020-12) of ``job.json``."""
    _, shared = models_json_schema(
        [(m, "serialization") for m in ENTITY_TYPES.values()], ref_template="#/$defs/{model}"
    )
    definitions = shared["$defs"]
    for kind, model in ENTITY_TYPES.items():
        own = definitions[model.__name__]
        own["properties"] = {"kind": {"const": kind}, **own["properties"]}
        own["required"] = ["kind", *[r for r in own.get("required", []) if r != "kind"]]
    return {
        "$schema": "https://json-schema.org/draft/2020-12/schema",
        "title": "Vernus job",
        "type": "object",
        "required": ["format", "version", "entities"],
        "additionalProperties": False,
        "properties": {
            "format": {"const": FORMAT},
            "version": {"const": STORED},
            "entities": {
                "type": "array",
                "items": {"oneOf": [{"$ref": f"#/$defs/{m.__name__}"} for m in ENTITY_TYPES.values()]},
            },
        },
        "$defs": definitions,
    }


if __name__ == "__main__":
    sys.stdout.write(json.dumps(job_schema(), indent=1, ensure_ascii=False) + "\n")
